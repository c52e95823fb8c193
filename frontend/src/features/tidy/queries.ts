import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, data, type Schemas } from "../../api/client";
import { leaving, useChanged } from "../../shared/queries/collection";

export type Pencil = Schemas["PencilOut"];
export type Kin = Schemas["KinOut"];
export type Relation = Schemas["RelationOut"];
export type Act = Schemas["PencilsIn"]["act"];

/** Twins, grades, neighbours, sisters and history of a colour. */
export function useKin(id: number, paper: number) {
  return useQuery({
    queryKey: ["kin", id, paper],
    queryFn: () =>
      data(api.GET("/api/colours/{colour_id}/kin", { params: { path: { colour_id: id }, query: { paper } } })),
    placeholderData: keepPreviousData,
  });
}

/** Every place that a pencil stands at. */
export function useTins() {
  return useQuery({ queryKey: ["tins"], queryFn: () => data(api.GET("/api/tins")) });
}

/** One piece of a pasted list. */
export type PastedLine = Schemas["PastedLineOut"];

/** What a pasted list of codes or names means. */
export function usePasted(text: string) {
  return useQuery({
    queryKey: ["pasted", text],
    queryFn: () => data(api.POST("/api/tidy/pasted", { body: { text } })),
    enabled: text.trim() !== "",
    placeholderData: keepPreviousData,
  });
}

/** A pasted list of colours, and of what it is one. */
export type ChartList = Schemas["ChartListIn"];
export type WrittenLine = Schemas["WrittenLineOut"];
export type WrittenColour = Schemas["WrittenColourOut"];

/** What a pasted list of colours says, line by line. */
export function useChartRead(list: ChartList) {
  return useQuery({
    queryKey: ["chart read", list],
    queryFn: () => data(api.POST("/api/tidy/charts/read", { body: list })),
    enabled: list.text.trim() !== "",
    placeholderData: keepPreviousData,
  });
}

/** A change of the collection by one request; all that may have changed is asked for anew. */
function useChange<Body, Made>(send: (body: Body) => Promise<Made>, gone: readonly string[] = []) {
  const changed = useChanged();
  return useMutation({ mutationFn: send, onSuccess: () => changed(gone) });
}

/** Write a pasted list: range, colours, set and owned pencils. */
export function useWriteChart() {
  return useChange((body: ChartList) => data(api.POST("/api/tidy/charts", { body })));
}

/** Tick typed codes of one range. */
export function useTick() {
  return useChange((body: Schemas["TickIn"]) => data(api.POST("/api/tidy/ticks", { body })));
}

/** Own colours, or own them no more. */
export function useOwned() {
  return useChange((body: Schemas["OwnedIn"]) => data(api.POST("/api/tidy/owned", { body })));
}

/** Own a whole set. */
export function useOwnSet() {
  return useChange((id: number) => data(api.POST("/api/sets/{set_id}/own", { params: { path: { set_id: id } } })));
}

/** Lose, find again, use up or move the pencils of some colours. */
export function useAct() {
  return useChange((body: Schemas["PencilsIn"]) => data(api.POST("/api/tidy/pencils", { body })));
}

/** One more stick of a colour. */
export function useAddPencil() {
  return useChange((id: number) =>
    data(api.POST("/api/colours/{colour_id}/pencils", { params: { path: { colour_id: id } } })),
  );
}

/** Say anew all of one stick. */
export function useEditPencil() {
  return useChange(({ id, body }: { id: number; body: Schemas["PencilIn"] }) =>
    data(api.PUT("/api/pencils/{pencil_id}", { params: { path: { pencil_id: id } }, body })),
  );
}

/** Own one stick no more. */
export function useRemovePencil() {
  return useChange((id: number) => data(api.DELETE("/api/pencils/{pencil_id}", { params: { path: { pencil_id: id } } })));
}

/** Say whether a tin is taken along. */
export function useTravel() {
  return useChange((body: Schemas["TravelIn"]) => data(api.PUT("/api/tins/travel", { body })));
}

/** A new range, or one said anew. */
export function useSaveRange() {
  return useChange(async ({ id, body }: { id: number | null; body: Schemas["RangeIn"] }) =>
    id === null
      ? (await data(api.POST("/api/ranges", { body }))).id
      : (await data(api.PUT("/api/ranges/{range_id}", { params: { path: { range_id: id } }, body })), id),
  );
}

/** Remove a range. */
export function useRemoveRange() {
  return useChange((id: number) => data(api.DELETE("/api/ranges/{range_id}", { params: { path: { range_id: id } } })));
}

/** A new colour of a range, or a chart corrected. */
export function useSaveColour() {
  return useChange(({ range, colour, body }: { range: number; colour: number | null; body: Schemas["ChartIn"] }) =>
    colour === null
      ? data(api.POST("/api/ranges/{range_id}/colours", { params: { path: { range_id: range } }, body }))
      : data(api.PUT("/api/colours/{colour_id}", { params: { path: { colour_id: colour } }, body })),
  );
}

const OF_COLOUR = ["colour", "kin", "why"];

/** Remove a colour from its chart; `leave` goes away from its page before anything is asked for anew. */
export function useRemoveColour(leave: () => void | Promise<void>) {
  const queries = useQueryClient();
  const changed = useChanged();
  const about = (id: number) =>
    queries.getQueryCache().findAll({ predicate: ({ queryKey: [what, of] }) => OF_COLOUR.includes(String(what)) && of === id });
  return useMutation({
    mutationFn: (id: number) => data(api.DELETE("/api/colours/{colour_id}", { params: { path: { colour_id: id } } })),
    onMutate: (id) => about(id).forEach((query) => leaving.add(query)),
    onError: (_, id) => about(id).forEach((query) => leaving.delete(query)),
    onSuccess: async () => {
      await leave();
      await changed(OF_COLOUR);
    },
    // If undo brings it back, its page begins anew.
    onSettled: () => queries.removeQueries({ predicate: (query) => leaving.has(query) && !query.isActive() }),
  });
}

/** A boxed set from typed codes. */
export function useAddSet() {
  return useChange(({ range, body }: { range: number; body: Schemas["SetIn"] }) =>
    data(api.POST("/api/ranges/{range_id}/sets", { params: { path: { range_id: range } }, body })),
  );
}

/** Remove a boxed set. */
export function useRemoveSet() {
  return useChange((id: number) => data(api.DELETE("/api/sets/{set_id}", { params: { path: { set_id: id } } })));
}

/** Which colours a measured mark can be. */
export function useWhat() {
  return useMutation({ mutationFn: (body: Schemas["WhatIn"]) => data(api.POST("/api/tidy/what", { body })) });
}

/** Store a typed Lab as a swatch. */
export function useTypeSwatch() {
  return useChange((body: Schemas["TypedIn"]) => data(api.POST("/api/swatches", { body })));
}

/** Remove a swatch. */
export function useRemoveSwatch() {
  return useChange((id: number) => data(api.DELETE("/api/swatches/{swatch_id}", { params: { path: { swatch_id: id } } })));
}
