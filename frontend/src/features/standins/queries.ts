import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { api, data, type Schemas } from "../../api/client";
import type { Closest } from "../collection/queries";

export type Offer = Schemas["OfferOut"];
export type Standins = Schemas["StandinsOut"];
export type Layered = Schemas["LayeredOut"];
export type LayeredOffer = Schemas["LayeredOfferOut"];

/** What is left out of layered stand-ins; no ranges means all. */
export interface Wish {
  noBlack: boolean;
  lasting: boolean;
  ranges: readonly number[];
}

/** Stand-ins for a call on a paper, nearest first. */
export function useStandins(call: number, paper: number, closest: Closest) {
  return useQuery({
    queryKey: ["standins", call, paper, closest],
    queryFn: () =>
      data(
        api.GET("/api/calls/{call_id}/standins", {
          params: { path: { call_id: call }, query: { paper, closest, limit: 12 } },
        }),
      ),
    placeholderData: keepPreviousData,
  });
}

/** What is to be stood in for: a call of a recipe in its passage, or any colour by itself as it would be laid. */
export type Sought =
  | { call: number }
  | { colour: number; pressure: "light" | "medium" | "heavy"; layers: number };

/** Single and layered stand-ins; asked for again and again while pairs are being mixed. */
export function useLayered(sought: Sought, paper: number, closest: Closest, wish: Wish) {
  const query = { paper, closest, no_black: wish.noBlack, lasting: wish.lasting, ranges: [...wish.ranges] };
  return useQuery({
    queryKey: ["layered", sought, paper, closest, wish],
    queryFn: () =>
      "call" in sought
        ? data(api.GET("/api/calls/{call_id}/layered", { params: { path: { call_id: sought.call }, query } }))
        : data(
            api.GET("/api/colours/{colour_id}/layered", {
              params: {
                path: { colour_id: sought.colour },
                query: { ...query, pressure: sought.pressure, layers: sought.layers },
              },
            }),
          ),
    refetchInterval: ({ state }) => (state.data?.ready === false ? 250 : false),
  });
}

export type Neutralised = Schemas["NeutralisedOut"];

/** What darkens or greys a pencil without black; asked for again while pairs are being mixed. */
export function useNeutralisers(colour: number, paper: number, pressure: "light" | "medium" | "heavy", opened: boolean) {
  return useQuery({
    queryKey: ["neutralisers", colour, paper, pressure],
    queryFn: () =>
      data(
        api.GET("/api/colours/{colour_id}/neutralisers", {
          params: { path: { colour_id: colour }, query: { paper, pressure } },
        }),
      ),
    enabled: opened,
    refetchInterval: ({ state }) => (state.data?.ready === false ? 250 : false),
  });
}
