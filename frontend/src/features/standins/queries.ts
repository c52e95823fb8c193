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

/** Single and layered stand-ins judged in the passage; asked for again and again while pairs are being mixed. */
export function useLayered(call: number, paper: number, closest: Closest, wish: Wish) {
  return useQuery({
    queryKey: ["layered", call, paper, closest, wish],
    queryFn: () =>
      data(
        api.GET("/api/calls/{call_id}/layered", {
          params: {
            path: { call_id: call },
            query: { paper, closest, no_black: wish.noBlack, lasting: wish.lasting, ranges: [...wish.ranges] },
          },
        }),
      ),
    refetchInterval: ({ state }) => (state.data?.ready === false ? 250 : false),
  });
}
