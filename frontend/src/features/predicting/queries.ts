import { keepPreviousData, useQuery, useQueryClient, type Query } from "@tanstack/react-query";
import { useEffect, useEffectEvent, useRef } from "react";
import { WATCHING } from "../../shared/queries/watching";
import { api, data, type Schemas } from "../../api/client";
import { leaving } from "../../shared/queries/collection";

export type Why = Schemas["WhyOut"];
export type FirstSwatches = Schemas["FirstSwatchesOut"];
export type Sureness = Schemas["SurenessOut"];
export type Pressure = "light" | "medium" | "heavy";

const FITTING = "fitting";

/** How far the predictions are worked out; asked for again and again only while they are. */
export function useFitting() {
  return useQuery({
    queryKey: [FITTING],
    queryFn: () => data(api.GET("/api/fitting")),
    refetchInterval: ({ state }) => (state.data?.working === true ? 250 : false),
  });
}

/** Whether a query is the one that only watches: it makes no page busy. */
export function onlyWatches(queryKey: readonly unknown[]): boolean {
  return queryKey[0] === FITTING || queryKey[0] === WATCHING;
}

/** When predictions are there for newer swatches, everything that shows marks is asked for anew. */
export function useFollowFitting(): Schemas["FittingOut"] | undefined {
  const queries = useQueryClient();
  const { data: now } = useFitting();
  const before = useRef<number | null>(null);
  const version = now?.version;
  // At the first answer: predictions that came in a moment ago may have come after this page asked for its marks.
  const justNow = now !== undefined && now.age_seconds < 15;
  const first = useEffectEvent(() => justNow);
  useEffect(() => {
    if (version === undefined) return;
    if (before.current === null ? first() : before.current !== version) {
      const shown = (query: Query) => !onlyWatches(query.queryKey) && !leaving.has(query);
      // What is asked for the first time just now may still be answered from before, and is not asked for again meanwhile.
      const asked = queries.getQueryCache().findAll({ fetchStatus: "fetching", predicate: (query) => shown(query) && query.state.data === undefined });
      void queries.invalidateQueries({ predicate: shown });
      for (const query of asked) {
        void Promise.resolve(query.promise)
          .catch(() => undefined)
          .then(() => queries.invalidateQueries({ queryKey: query.queryKey, exact: true }));
      }
    }
    before.current = version;
  }, [queries, version]);
  return now;
}

/** Why a mark is predicted as it is. */
export function useWhy(colour: number, paper: number, pressure: Pressure, opened: boolean) {
  return useQuery({
    queryKey: ["why", colour, paper, pressure],
    queryFn: () =>
      data(api.GET("/api/colours/{colour_id}/why", { params: { path: { colour_id: colour }, query: { paper, pressure } } })),
    enabled: opened,
    placeholderData: keepPreviousData,
  });
}

/** Which pencils to swatch first on a paper. */
export function useFirst(paper: number, count: number) {
  return useQuery({
    queryKey: ["first", paper, count],
    queryFn: () => data(api.GET("/api/papers/{paper_id}/first", { params: { path: { paper_id: paper }, query: { count } } })),
    placeholderData: keepPreviousData,
  });
}

/** How sure the pencils at hand are on a paper by now. */
export function useSureness(paper: number) {
  return useQuery({
    queryKey: ["sureness", paper],
    queryFn: () => data(api.GET("/api/papers/{paper_id}/sureness", { params: { path: { paper_id: paper } } })),
  });
}
