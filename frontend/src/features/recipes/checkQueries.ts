import { keepPreviousData, useMutation, useQuery } from "@tanstack/react-query";
import { api, data, type Schemas } from "../../api/client";
import { useChanged } from "../../shared/queries/collection";

export type Checked = Schemas["CheckedOut"];
export type Finding = Schemas["FindingOut"];
export type Rule = Schemas["Rule"];

/** What will not work in a recipe on a paper, and what is to be minded. */
export function useChecks(recipe: number, paper: number) {
  return useQuery({
    queryKey: ["recipe", recipe, "checks", paper],
    queryFn: () =>
      data(api.GET("/api/recipes/{recipe_id}/checks", { params: { path: { recipe_id: recipe }, query: { paper } } })),
    placeholderData: keepPreviousData,
    // Until the collection is fitted, what layers look like is not known.
    refetchInterval: ({ state }) => (state.data?.working === true ? 1000 : false),
  });
}

/** Do what a check advises. */
export function useFollowAdvice(recipe: number, paper: number) {
  const changed = useChanged();
  return useMutation({
    mutationFn: ({ rule, step, call }: Finding) =>
      data(
        api.POST("/api/recipes/{recipe_id}/checks", {
          params: { path: { recipe_id: recipe } },
          body: { paper_id: paper, rule, step, call },
        }),
      ),
    onSuccess: () => changed(),
  });
}

/** Switch a check off or on, for this recipe or everywhere. */
export function useSwitchCheck(recipe: number) {
  const changed = useChanged();
  return useMutation({
    mutationFn: (body: Schemas["SwitchIn"]) =>
      data(api.PUT("/api/recipes/{recipe_id}/checks", { params: { path: { recipe_id: recipe } }, body })),
    onSuccess: () => changed(),
  });
}
