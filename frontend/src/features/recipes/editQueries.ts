import { useMutation, useQuery } from "@tanstack/react-query";
import { api, data, type Schemas } from "../../api/client";
import { useChanged } from "../../shared/queries/collection";
import type { MarkPressure } from "../../shared/vocabulary";

export type LineIn = Schemas["LineIn"];
export type Version = Schemas["RecipeVersionOut"];
export type ComparedLine = Schemas["ComparedLineOut"];
export type LineSeen = Schemas["LineSeenOut"];

/** Let a recipe have these lines in this order. */
export function useWriteLines(recipe: number) {
  const changed = useChanged();
  return useMutation({
    mutationFn: (body: Schemas["LinesIn"]) =>
      data(api.PUT("/api/recipes/{recipe_id}/lines", { params: { path: { recipe_id: recipe } }, body })),
    onSuccess: () => changed(),
  });
}

/** Let a recipe ask for a call in another pressure and so many layers. */
export function useLayCall() {
  const changed = useChanged();
  return useMutation({
    mutationFn: ({ call, pressure, layers }: { call: number; pressure: MarkPressure; layers: number }) =>
      data(api.PUT("/api/calls/{call_id}/asked", { params: { path: { call_id: call } }, body: { pressure, layers } })),
    onSuccess: () => changed(),
  });
}

/** The versions of a recipe that are kept, the newest first. */
export function useVersions(recipe: number) {
  return useQuery({
    queryKey: ["recipe", recipe, "versions"],
    queryFn: () => data(api.GET("/api/recipes/{recipe_id}/versions", { params: { path: { recipe_id: recipe } } })),
  });
}

/** Keep a recipe as it stands. */
export function useKeepVersion(recipe: number) {
  const changed = useChanged();
  return useMutation({
    mutationFn: (name: string) =>
      data(api.POST("/api/recipes/{recipe_id}/versions", { params: { path: { recipe_id: recipe } }, body: { name } })),
    onSuccess: () => changed(),
  });
}

/** A version line by line beside another, or beside the recipe as it is now. */
export function useCompared(recipe: number, version: number | undefined, beside: number | null) {
  return useQuery({
    queryKey: ["recipe", recipe, "compared", version, beside],
    queryFn: () =>
      data(
        api.GET("/api/recipes/{recipe_id}/versions/{version_id}", {
          params: {
            path: { recipe_id: recipe, version_id: version ?? 0 },
            query: beside === null ? {} : { beside },
          },
        }),
      ),
    enabled: version !== undefined,
  });
}

/** Let a recipe be as it was in a version. */
export function useGoBack(recipe: number) {
  const changed = useChanged();
  return useMutation({
    mutationFn: (version: number) =>
      data(
        api.PUT("/api/recipes/{recipe_id}/versions/{version_id}", {
          params: { path: { recipe_id: recipe, version_id: version } },
        }),
      ),
    onSuccess: () => changed(),
  });
}
