import { useMutation, useQuery } from "@tanstack/react-query";
import { api, data, type Schemas } from "../../api/client";
import { useChanged } from "../../shared/queries/collection";

export type PaperPage = Schemas["PaperPageOut"];

/** All papers in order. */
export function usePapers() {
  return useQuery({ queryKey: ["papers"], queryFn: () => data(api.GET("/api/papers")) });
}

/** A new paper, or one said anew. */
export function useSavePaper() {
  const changed = useChanged();
  return useMutation({
    mutationFn: async ({ id, body }: { id: number | null; body: Schemas["PaperIn"] }) =>
      id === null
        ? (await data(api.POST("/api/papers", { body }))).id
        : (await data(api.PUT("/api/papers/{paper_id}", { params: { path: { paper_id: id } }, body })), id),
    onSuccess: () => changed(),
  });
}

/** A new batch of a paper. */
export function useCopyPaper() {
  const changed = useChanged();
  return useMutation({
    mutationFn: (id: number) => data(api.POST("/api/papers/{paper_id}/batch", { params: { path: { paper_id: id } } })),
    onSuccess: () => changed(),
  });
}

/** Remove a paper. */
export function useRemovePaper() {
  const changed = useChanged();
  return useMutation({
    mutationFn: (id: number) => data(api.DELETE("/api/papers/{paper_id}", { params: { path: { paper_id: id } } })),
    onSuccess: () => changed(),
  });
}

/** Read a paper's own colour with the colour reader; nothing is stored. */
export function useReadPaper() {
  return useMutation({
    mutationFn: (id: number) => data(api.POST("/api/papers/{paper_id}/reading", { params: { path: { paper_id: id } } })),
  });
}
