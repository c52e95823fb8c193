import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, data, type Schemas } from "../../api/client";
import { useChanged } from "../../shared/queries/collection";

export type SessionPlan = Schemas["SessionIn"];
export type Board = Schemas["BoardOut"];
export type Session = Schemas["SessionOut"];
export type SessionCard = Schemas["SessionCardOut"];
export type Item = Schemas["ItemOut"];
export type Beside = Schemas["BesideIn"];
export type Laid = Schemas["LaidOut"];

/** Papers × ranges. */
export function useBoard() {
  return useQuery({ queryKey: ["board"], queryFn: () => data(api.GET("/api/board")) });
}

/** All sessions, the newest first. */
export function useSessions() {
  return useQuery({ queryKey: ["sessions"], queryFn: () => data(api.GET("/api/swatching")) });
}

/** A session with all its marks. */
export function useSession(id: number) {
  return useQuery({
    queryKey: ["session", id],
    queryFn: () => data(api.GET("/api/swatching/{session_id}", { params: { path: { session_id: id } } })),
  });
}

/** Begin a session. */
export function useBegin() {
  const changed = useChanged();
  return useMutation({
    mutationFn: (body: Schemas["SessionIn"]) => data(api.POST("/api/swatching", { body })),
    onSuccess: () => changed(),
  });
}

/** How many marks a session would have. */
export function useCount(body: Schemas["SessionIn"]) {
  return useQuery({
    queryKey: ["session-count", body],
    queryFn: () => data(api.POST("/api/swatching/count", { body })),
    placeholderData: keepPreviousData,
    enabled: asksForMarks(body) && (body.finish !== "burnished" || body.burnisher_id != null),
  });
}

function asksForMarks({ pressures, over_black, few_over_black, layered }: SessionPlan): boolean {
  return pressures.length > 0 || over_black === true || few_over_black === true || layered === true;
}

/** Say that a session is done. */
export function useClose() {
  const changed = useChanged();
  return useMutation({
    mutationFn: (id: number) =>
      data(api.POST("/api/swatching/{session_id}/close", { params: { path: { session_id: id } } })),
    onSuccess: () => changed(),
  });
}

const SENDS = {
  reading: (item_id: number) =>
    data(api.POST("/api/swatching/marks/{item_id}/reading", { params: { path: { item_id } } })),
  keep: (item_id: number) => data(api.POST("/api/swatching/marks/{item_id}/keep", { params: { path: { item_id } } })),
  again: (item_id: number) => data(api.POST("/api/swatching/marks/{item_id}/again", { params: { path: { item_id } } })),
  skip: (item_id: number) => data(api.POST("/api/swatching/marks/{item_id}/skip", { params: { path: { item_id } } })),
};

/** What may be wished of a mark. */
export type Act = keyof typeof SENDS;

/** Read, keep, read again or leave out a mark; only that mark is brought up to date, so that nothing waits. */
export function useMarkAct(session: number) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ act, item }: { act: Act; item: number }) => SENDS[act](item),
    onSuccess: ({ item }) => {
      queries.setQueryData<Session>(["session", session], (old) =>
        old === undefined ? old : { ...old, items: old.items.map((i) => (i.id === item.id ? item : i)) },
      );
      // The rest is asked for when it is next shown; what undo would take back is shown now.
      void queries.invalidateQueries({ refetchType: "none" });
      void queries.invalidateQueries({ queryKey: ["collection"] });
      void queries.invalidateQueries({ queryKey: ["fitting"] });
    },
    onSettled: () => queries.invalidateQueries({ queryKey: ["reader"] }),
  });
}

/** Marks to be looked at edge to edge. */
export function useBeside(marks: Beside[]) {
  return useQuery({
    queryKey: ["beside", marks],
    queryFn: () => data(api.POST("/api/swatches/beside", { body: { marks } })),
    enabled: marks.length >= 2,
    placeholderData: keepPreviousData,
  });
}
