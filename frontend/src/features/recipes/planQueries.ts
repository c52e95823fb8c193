import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, data, type Schemas } from "../../api/client";
import { useChanged } from "../../shared/queries/collection";
import { asLayers } from "../../shared/layers";
import { supposedBy, type Hands } from "./hands";
import type { Closest } from "../../shared/vocabulary";

export type PlanSoFar = Schemas["PlanSoFarOut"];
export type Plan = Schemas["PlanOut"];
export type PassagePlan = Schemas["PassagePlanOut"];
export type CallPlan = Schemas["CallPlanOut"];

/** What a plan is of: a recipe, a paper, a meaning of closest; with which pencils, one that would be bought, and whether
 * without black, where that is not as the drawing has it. */
export interface PlanOf {
  recipe: number;
  paper: number;
  closest: Closest;
  hands: Hands;
  bought?: number;
  noBlack?: boolean;
}

const POLL_MS = 300;

/** The plan as far as it is; asked for again and again until nothing better comes. */
export function usePlan(of: PlanOf) {
  const { recipe, paper, closest, hands, bought, noBlack } = of;
  const queries = useQueryClient();
  const queryKey = ["plan", recipe, paper, closest, hands, bought ?? null, noBlack ?? null];
  const query = { paper, closest, ...supposedBy(hands), ...(bought !== undefined && { bought }), ...(noBlack !== undefined && { no_black: noBlack }) };
  const params = (again: boolean) => ({ params: { path: { recipe_id: recipe }, query: { ...query, again } } });
  const { data: found, error } = useQuery({
    queryKey,
    queryFn: () => data(api.GET("/api/recipes/{recipe_id}/plan", params(false))),
    refetchInterval: ({ state }) => (state.data?.ended === false ? POLL_MS : false),
  });
  const keep = (answer: PlanSoFar) => queries.setQueryData(queryKey, answer);
  const again = useMutation({ mutationFn: () => data(api.GET("/api/recipes/{recipe_id}/plan", params(true))), onSuccess: keep });
  const stop = useMutation({
    mutationFn: () => data(api.DELETE("/api/recipes/{recipe_id}/plan", { params: { path: { recipe_id: recipe }, query } })),
    onSuccess: keep,
  });
  return { found, error, again, stop };
}

/** Use what the plan lays for the calls that it changes, in one change. */
export function useTakePlan({ recipe, paper }: PlanOf) {
  const changed = useChanged();
  return useMutation({
    mutationFn: (plan: Plan) =>
      data(
        api.PUT("/api/recipes/{recipe_id}/plan", {
          params: { path: { recipe_id: recipe } },
          body: {
            paper_id: paper,
            ways: changing(plan).map((call) => ({ call_id: call.call_id, laid: asLayers(call.laid), instead: call.instead !== null })),
          },
        }),
      ),
    onSuccess: () => changed(),
  });
}

/** Write a plan with other pencils as a recipe of its own. */
export function usePutInto({ recipe, paper, closest, hands }: PlanOf) {
  const changed = useChanged();
  const { only_range: range, only_set: box } = supposedBy(hands);
  return useMutation({
    mutationFn: () =>
      data(
        api.POST("/api/recipes/{recipe_id}/into", {
          params: { path: { recipe_id: recipe } },
          body: { paper_id: paper, closest, range_id: range ?? null, set_id: box ?? null },
        }),
      ),
    onSuccess: () => changed(),
  });
}

/** Let plans leave the chosen stand-in of a call as it is, or not. */
export function useLock(paper: number) {
  const changed = useChanged();
  return useMutation({
    mutationFn: ({ call, locked }: { call: number; locked: boolean }) =>
      data(api.PUT("/api/calls/{call_id}/lock", { params: { path: { call_id: call } }, body: { paper_id: paper, locked } })),
    onSuccess: () => changed(),
  });
}

/** Let plans not offer a pencil for a call, or offer it again. */
export function useExclude(paper: number) {
  const changed = useChanged();
  return useMutation({
    mutationFn: ({ call, colour, excluded }: { call: number; colour: number; excluded: boolean }) =>
      data(
        api.PUT("/api/calls/{call_id}/exclusion", {
          params: { path: { call_id: call } },
          body: { paper_id: paper, colour_id: colour, excluded },
        }),
      ),
    onSuccess: () => changed(),
  });
}

/** The calls that taking a plan changes. */
export function changing(plan: Plan): CallPlan[] {
  return plan.passages.flatMap((passage) => passage.calls.filter((call) => call.changes));
}

/** Every call of a plan by its number. */
export function callsOf(plan: Plan | null): ReadonlyMap<number, CallPlan> {
  return new Map((plan?.passages ?? []).flatMap((passage) => passage.calls.map((call) => [call.call_id, call] as const)));
}
