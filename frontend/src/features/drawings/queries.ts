import { useMutation, useQuery } from "@tanstack/react-query";
import { api, data, type Schemas } from "../../api/client";
import { asUpload } from "../../api/upload";
import { useChanged } from "../../shared/queries/collection";

export type DrawingCard = Schemas["DrawingCardOut"];
export type DrawingSaid = Schemas["DrawingIn"];

/** All drawings, those at work first. */
export function useDrawings(wanted = true) {
  return useQuery({ queryKey: ["drawings"], queryFn: () => data(api.GET("/api/drawings")), enabled: wanted });
}

/** Work on another drawing, or on none; paper, closest and tray follow. */
export function useChooseDrawing() {
  const changed = useChanged();
  return useMutation({
    mutationFn: (drawing_id: number | null) => data(api.PUT("/api/drawings/at-hand", { body: { drawing_id } })),
    onSuccess: () => changed(),
  });
}

/** Begin a drawing, or say one anew. */
export function useSaveDrawing() {
  const changed = useChanged();
  return useMutation({
    mutationFn: async ({ id, revision, said }: { id: number | null; revision: number; said: DrawingSaid }) => {
      if (id === null) return (await data(api.POST("/api/drawings", { body: said }))).id;
      await data(api.PUT("/api/drawings/{drawing_id}", { params: { path: { drawing_id: id } }, body: { ...said, revision } }));
      return id;
    },
    onSuccess: () => changed(),
  });
}

/** The same again, without pictures and recipes. */
export function useCopyDrawing() {
  const changed = useChanged();
  return useMutation({
    mutationFn: async (id: number) =>
      (await data(api.POST("/api/drawings/{drawing_id}/copy", { params: { path: { drawing_id: id } } }))).id,
    onSuccess: () => changed(),
  });
}

/** Take a drawing in from its file, on a paper of this number where the file's own is not here. */
export function useTakeInDrawing() {
  const changed = useChanged();
  return useMutation({
    mutationFn: ({ file, paper_id }: { file: File; paper_id: string }) =>
      data(api.POST("/api/drawings/file", asUpload(file, { paper_id }))),
    onSuccess: () => changed(),
  });
}

/** Put a drawing away, or take it out again. */
export function usePutAway() {
  const changed = useChanged();
  return useMutation({
    mutationFn: ({ id, away }: { id: number; away: boolean }) =>
      data(api.PUT("/api/drawings/{drawing_id}/away", { params: { path: { drawing_id: id } }, body: { away } })),
    onSuccess: () => changed(),
  });
}

/** Remove a drawing with its pictures and tray. */
export function useRemoveDrawing() {
  const changed = useChanged();
  return useMutation({
    mutationFn: (id: number) => data(api.DELETE("/api/drawings/{drawing_id}", { params: { path: { drawing_id: id } } })),
    onSuccess: () => changed(["references", "reference"]),
  });
}
