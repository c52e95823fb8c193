import { keepPreviousData, useMutation, useQuery } from "@tanstack/react-query";
import { api, data, type Schemas } from "../../api/client";
import { useChanged } from "../../shared/queries/collection";

export type Scrap = Schemas["ScrapOut"];
export type ScrapCard = Schemas["ScrapCardOut"];
export type StripField = Schemas["StripFieldOut"];
export type StripToMake = Schemas["StripToMakeOut"];
export type NewScrap = Pick<Schemas["ScrapIn"], "paper_id" | "laid" | "wanted_id"> & Partial<Schemas["ScrapIn"]>;

export type Verdict = Schemas["Verdict"];

/** What lies in a field of a strip: one pencil alone, or the layers in one of two orders. */
export const FIELD_WORDS: Readonly<Record<Schemas["FieldKind"], string>> = {
  alone: "alone",
  laid: "in this order",
  turned: "the other way round",
};

/** What was tried on a paper, the newest first. */
export function useScraps(paper: number) {
  return useQuery({
    queryKey: ["scraps", paper],
    queryFn: () => data(api.GET("/api/scraps", { params: { query: { paper } } })),
    placeholderData: keepPreviousData,
  });
}

/** Which strips would tell most of how layers lie over one another on a paper; asked again while it is being fitted. */
export function useTellingStrips(paper: number) {
  return useQuery({
    queryKey: ["telling-strips", paper],
    queryFn: () => data(api.GET("/api/scraps/telling", { params: { query: { paper } } })),
    placeholderData: keepPreviousData,
    refetchInterval: ({ state }) => (state.data?.ready === false ? 400 : false),
  });
}

/** One scrap with its strip. */
export function useScrap(id: number) {
  return useQuery({
    queryKey: ["scrap", id],
    queryFn: () => data(api.GET("/api/scraps/{scrap_id}", { params: { path: { scrap_id: id } } })),
  });
}

/** Write down layers that are about to be tried; `then` leads on to them before anything is asked anew. */
export function useBeginScrap(then?: (id: number) => void | Promise<void>) {
  const changed = useChanged();
  return useMutation({
    mutationFn: ({ finish = "dry", wanted_pressure = "heavy", wanted_layers = 1, ...rest }: NewScrap) =>
      data(api.POST("/api/scraps", { body: { finish, wanted_pressure, wanted_layers, ...rest } })),
    onSuccess: async ({ id }) => {
      await then?.(id);
      await changed();
    },
  });
}

/** Say what a scrap turned out like. */
export function useJudge(id: number) {
  const changed = useChanged();
  return useMutation({
    mutationFn: (body: Schemas["VerdictIn"]) => data(api.PUT("/api/scraps/{scrap_id}", { params: { path: { scrap_id: id } }, body })),
    onSuccess: () => changed(),
  });
}

/** Read one of the two orders, or keep a typed value for it. */
export function useReadStrip(id: number) {
  const changed = useChanged();
  return useMutation({
    mutationFn: ({ turned, lab = null, keep = false }: { turned: boolean; lab?: number[] | null; keep?: boolean }) =>
      data(api.POST("/api/scraps/{scrap_id}/readings", { params: { path: { scrap_id: id } }, body: { turned, lab, keep } })),
    onSuccess: () => changed(),
  });
}

/** Remove a scrap, and leave its page. */
export function useRemoveScrap(leave: () => void | Promise<void>) {
  const changed = useChanged();
  return useMutation({
    mutationFn: (id: number) => data(api.DELETE("/api/scraps/{scrap_id}", { params: { path: { scrap_id: id } } })),
    onSuccess: async () => {
      await leave();
      await changed(["scrap"]);
    },
  });
}
