import { keepPreviousData, queryOptions, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { api, data, type Schemas } from "../../api/client";
import type { Closest } from "../vocabulary";
import { SHELVES } from "./collection";

export type Shelf = Schemas["ShelfOut"];
export type ShelfColour = Schemas["ShelfColourOut"];
export type ColourPage = Schemas["ColourPageOut"];

/** Every range with its colours and their marks on a paper, as a question to the server. */
export function shelvesOn(paper: number) {
  return queryOptions({
    queryKey: [...SHELVES, paper],
    queryFn: () => data(api.GET("/api/tidy", { params: { query: { paper } } })),
  });
}

/** Every range with its colours and their marks on a paper. */
export function useShelves(paper: number) {
  return useQuery({ ...shelvesOn(paper), placeholderData: keepPreviousData });
}

function aboutColour(id: number | null, paper: number, closest: Closest) {
  return queryOptions({
    queryKey: ["colour", id, paper, closest],
    queryFn: () =>
      data(
        api.GET("/api/colours/{colour_id}", { params: { path: { colour_id: id ?? 0 }, query: { paper, closest } } }),
      ),
  });
}

/** What the panel says of one colour. */
export function useColour(id: number | null, paper: number, closest: Closest) {
  return useQuery({ ...aboutColour(id, paper, closest), enabled: id !== null, placeholderData: keepPreviousData });
}

/** Asks beforehand for the colours that a key comes to next, once the one at the cursor is there. */
export function useReadyColours(at: number | null, beside: readonly number[], paper: number, closest: Closest) {
  const client = useQueryClient();
  const { data: page, isPlaceholderData } = useColour(at, paper, closest);
  const there = page !== undefined && !isPlaceholderData;
  const wanted = beside.join(" ");
  useEffect(() => {
    if (!there || wanted === "") return;
    // One that cannot be had now is asked for again, and said, when the cursor comes to it.
    for (const id of wanted.split(" ")) client.query(aboutColour(Number(id), paper, closest)).catch(() => undefined);
  }, [client, there, wanted, paper, closest]);
}
