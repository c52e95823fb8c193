import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { api, data, type Schemas } from "../../api/client";
import type { Closest } from "../vocabulary";
import { SHELVES } from "./collection";

export type Shelf = Schemas["ShelfOut"];
export type ShelfColour = Schemas["ShelfColourOut"];
export type ColourPage = Schemas["ColourPageOut"];

/** Every range with its colours and their marks on a paper. */
export function useShelves(paper: number) {
  return useQuery({
    queryKey: [...SHELVES, paper],
    queryFn: () => data(api.GET("/api/tidy", { params: { query: { paper } } })),
    placeholderData: keepPreviousData,
  });
}

/** What the panel says of one colour. */
export function useColour(id: number | null, paper: number, closest: Closest) {
  return useQuery({
    queryKey: ["colour", id, paper, closest],
    queryFn: () =>
      data(
        api.GET("/api/colours/{colour_id}", { params: { path: { colour_id: id ?? 0 }, query: { paper, closest } } }),
      ),
    enabled: id !== null,
    placeholderData: keepPreviousData,
  });
}
