import { keepPreviousData, useMutation, useQuery, useQueryClient, type QueryKey, type UseMutationResult } from "@tanstack/react-query";
import { api, data, type Schemas } from "../../api/client";
import type { Closest, MarkPressure } from "../../shared/vocabulary";

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
export type Sought = { call: number } | { colour: number; pressure: MarkPressure; layers: number };

const POLL_MS = 250;

/** Asked for again and again while pairs are being mixed. */
const whileMixing = ({ state }: { state: { data?: { ready: boolean } | undefined } }) => (state.data?.ready === false ? POLL_MS : false);

/** A question whose pairs could not be mixed, asked once more; the answer takes the place of the failure. */
export type Again = UseMutationResult<{ ready: boolean }, Error, void>;

function useAgain<T extends { ready: boolean }>(queryKey: QueryKey, ask: (again: boolean) => Promise<T>): Again {
  const queries = useQueryClient();
  return useMutation({ mutationFn: () => ask(true), onSuccess: (answer) => queries.setQueryData(queryKey, answer) });
}

/** Single and layered stand-ins. */
export function useLayered(sought: Sought, paper: number, closest: Closest, wish: Wish) {
  const queryKey = ["layered", sought, paper, closest, wish];
  const ask = (again: boolean) => {
    const query = { paper, closest, no_black: wish.noBlack, lasting: wish.lasting, ranges: [...wish.ranges], again };
    return "call" in sought
      ? data(api.GET("/api/calls/{call_id}/layered", { params: { path: { call_id: sought.call }, query } }))
      : data(
          api.GET("/api/colours/{colour_id}/layered", {
            params: { path: { colour_id: sought.colour }, query: { ...query, pressure: sought.pressure, layers: sought.layers } },
          }),
        );
  };
  const { data: found, error } = useQuery({ queryKey, queryFn: () => ask(false), refetchInterval: whileMixing });
  return { data: found, error, again: useAgain(queryKey, ask) };
}

/** What darkens or greys a pencil without black. */
export function useNeutralisers(colour: number, paper: number, pressure: MarkPressure, enabled: boolean) {
  const queryKey = ["neutralisers", colour, paper, pressure];
  const ask = (again: boolean) =>
    data(
      api.GET("/api/colours/{colour_id}/neutralisers", {
        params: { path: { colour_id: colour }, query: { paper, pressure, again } },
      }),
    );
  const { data: found, error } = useQuery({ queryKey, queryFn: () => ask(false), enabled, refetchInterval: whileMixing });
  return { data: found, error, again: useAgain(queryKey, ask) };
}
