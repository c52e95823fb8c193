import { keepPreviousData, useMutation, useQuery } from "@tanstack/react-query";
import { api, data, type Schemas } from "../../api/client";
import { asUpload } from "../../api/upload";
import { useChanged } from "../../shared/queries/collection";
import { CLOSEST, oneOf, ROLES, type Closest } from "../../shared/vocabulary";

export type Card = Schemas["CardOut"];
export type Called = Schemas["CalledOut"];
export type Recipe = Schemas["RecipeOut"];
export type Step = Schemas["StepOut"];
export type Call = Schemas["CallOut"];
export type Reading = Schemas["ReadingOut"];
export type ReadStep = Schemas["ReadStepOut"];

/** All recipes with how their calls stand on a paper. */
export function useRecipes(paper: number) {
  return useQuery({
    queryKey: ["recipes", paper],
    queryFn: () => data(api.GET("/api/recipes", { params: { query: { paper } } })),
    placeholderData: keepPreviousData,
  });
}

/** One recipe with every call answered on a paper. */
export function useRecipe(id: number, paper: number, closest: Closest) {
  return useQuery({
    queryKey: ["recipe", id, paper, closest],
    queryFn: () =>
      data(api.GET("/api/recipes/{recipe_id}", { params: { path: { recipe_id: id }, query: { paper, closest } } })),
    placeholderData: keepPreviousData,
  });
}

/** How a pasted text would be read. */
export function useReading(text: string) {
  return useQuery({
    queryKey: ["reading", text],
    queryFn: () => data(api.POST("/api/recipes/reading", { body: { text, title: "" } })),
    enabled: text.trim() !== "",
    placeholderData: keepPreviousData,
  });
}

/** The palette of a picture written down as a recipe; asked: how it is answered, as an address has it. */
export function usePaletteText(picture: number | null, asked: URLSearchParams) {
  const mapped = asked.get("mapped") === "true";
  const [role, closest] = [oneOf(ROLES, asked.get("role")), oneOf(CLOSEST, asked.get("closest"))];
  return useQuery({
    queryKey: ["answers", "recipe text", picture, asked.toString()],
    queryFn: () =>
      data(
        api.GET("/api/references/{reference_id}/palette/recipe", {
          params: {
            path: { reference_id: picture ?? 0 },
            query: {
              paper: Number(asked.get("paper")), mapped,
              ...(role && { role }), ...(closest && { closest }),
            },
          },
        }),
      ),
    enabled: picture !== null,
  });
}

/** Keep a pasted recipe; picture: the one whose picks it began with. */
export function useSaveRecipe(picture: number | null) {
  const changed = useChanged();
  return useMutation({
    mutationFn: (text: string) => data(api.POST("/api/recipes", { body: { text, title: "", reference_id: picture } })),
    onSuccess: () => changed(),
  });
}

/** Take a recipe in from its file. */
export function useTakeIn() {
  const changed = useChanged();
  return useMutation({
    mutationFn: (file: File) => data(api.POST("/api/recipes/file", asUpload(file))),
    onSuccess: () => changed(),
  });
}

/** Remove a recipe. */
export function useRemoveRecipe(leave: () => void | Promise<void>) {
  const changed = useChanged();
  return useMutation({
    mutationFn: (id: number) =>
      data(api.DELETE("/api/recipes/{recipe_id}", { params: { path: { recipe_id: id } } })),
    onSuccess: async () => {
      await leave();
      await changed(["recipe", "standins", "layered", "plan"]);
    },
  });
}

/** Say which colour a call means; null says that it is none. */
export function useSettle() {
  const changed = useChanged();
  return useMutation({
    mutationFn: ({ call, colour }: { call: { id: number; revision: number }; colour: number | null }) =>
      data(api.PUT("/api/calls/{call_id}", { params: { path: { call_id: call.id } }, body: { colour_id: colour, revision: call.revision } })),
    onSuccess: () => changed(),
    // Another window was first: what it made of the call is shown beside the message.
    onError: () => changed(),
  });
}

/** Say that a line names no more colours than were read; asNote: it is no step at all. onAnswered: before the line asks no
 * more, and what asks about it is gone. */
export function useLookThrough(onAnswered: () => void) {
  const changed = useChanged();
  return useMutation({
    mutationFn: ({ step, asNote }: { step: { id: number; revision: number }; asNote: boolean }) =>
      data(
        api.PUT("/api/steps/{step_id}/looked-through", {
          params: { path: { step_id: step.id } },
          body: { revision: step.revision, as_note: asNote },
        }),
      ),
    onSuccess: async () => {
      onAnswered();
      await changed();
    },
    // Another window was first: what it made of the line is shown beside the message.
    onError: () => changed(),
  });
}

/** Let words of a line name a colour, which is to be settled then; start: where they stand, null for where they do first. */
export function useCallForWords() {
  const changed = useChanged();
  return useMutation({
    mutationFn: ({ step, words, start }: { step: number; words: string; start: number | null }) =>
      data(api.POST("/api/steps/{step_id}/calls", { params: { path: { step_id: step } }, body: { words, start } })),
    onSuccess: () => changed(),
  });
}

/** Use a pencil for a call on a paper, or layers of it and one over it; null leaves it open again. */
export function useChoose() {
  const changed = useChanged();
  return useMutation({
    mutationFn: ({ call, paper, colour, laid = [] }: {
      call: number;
      paper: number;
      colour: number | null;
      laid?: Schemas["ChoiceIn"]["laid"];
    }) =>
      data(
        api.PUT("/api/calls/{call_id}/choice", {
          params: { path: { call_id: call } },
          body: { paper_id: paper, colour_id: colour, laid },
        }),
      ),
    onSuccess: () => changed(),
  });
}
