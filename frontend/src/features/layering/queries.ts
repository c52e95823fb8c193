import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { api, data, type Schemas } from "../../api/client";
import { written, type OnTable } from "../../shared/layers";

export type LaidOut = Schemas["LayeringOut"];
export type Order = Schemas["LaidOrderOut"];

/** What layers look like on a paper in every order; asked again while the collection is being fitted. */
export function useLayering(paper: number, { layers, solvent }: OnTable) {
  return useQuery({
    queryKey: ["layering", paper, layers, solvent],
    queryFn: () =>
      data(api.GET("/api/layering", { params: { query: { paper, laid: written(layers), solvent } } })),
    enabled: layers.length > 0,
    placeholderData: keepPreviousData,
    refetchInterval: ({ state }) => (state.data?.ready === false ? 400 : false),
  });
}
