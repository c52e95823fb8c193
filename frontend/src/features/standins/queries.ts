import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { api, data, type Schemas } from "../../api/client";
import type { Closest } from "../collection/queries";

export type Offer = Schemas["OfferOut"];
export type Standins = Schemas["StandinsOut"];

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
