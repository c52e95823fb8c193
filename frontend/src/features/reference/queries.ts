import { keepPreviousData, useMutation, useQuery } from "@tanstack/react-query";
import { api, data, type Schemas } from "../../api/client";
import { asUpload } from "../../api/upload";
import { useChanged, type Context } from "../../shared/queries/collection";
import { asked, type Wish } from "./wish";

export type ReferenceCard = Schemas["ReferenceCardOut"];
export type Reference = Schemas["ReferenceOut"];
export type Pick = Schemas["PickOut"];
export type Steps = Omit<Schemas["StepsIn"], "revision">;
export type Answers = Schemas["AnswersOut"];
export type PickAnswer = Schemas["PickAnswerOut"];

const SOON_MS = 500;
const LATER_MS = 3000;

/** Whether a picture is on its way to being opened. */
export function underWay(card: ReferenceCard): boolean {
  return card.state === "waiting" || card.state === "opening";
}

/** The pictures of a drawing, asked for again while one of them is being opened, or while a phone may send one. */
export function useReferences(drawing: number, phones: boolean) {
  return useQuery({
    queryKey: ["references", drawing],
    queryFn: () => data(api.GET("/api/drawings/{drawing_id}/references", { params: { path: { drawing_id: drawing } } })),
    refetchInterval: (query) => (query.state.data?.references.some(underWay) === true ? SOON_MS : phones && LATER_MS),
  });
}

/** A picture with its picks; asked for anew once its state is another. */
export function useReference(card: ReferenceCard) {
  return useQuery({
    queryKey: ["reference", card.id, card.state],
    queryFn: () => data(api.GET("/api/references/{reference_id}", { params: { path: { reference_id: card.id } } })),
    placeholderData: keepPreviousData,
  });
}

/** Add a picture. */
export function useAddReference(drawing: number) {
  const changed = useChanged();
  return useMutation({
    mutationFn: async (file: File) =>
      (
        await data(
          api.POST("/api/drawings/{drawing_id}/references", { params: { path: { drawing_id: drawing } }, ...asUpload(file) }),
        )
      ).id,
    onSettled: () => changed(),
  });
}

/** Remove a picture with its picks; sure: also where something came of it. */
export function useRemoveReference() {
  const changed = useChanged();
  return useMutation({
    mutationFn: ({ id, sure }: { id: number; sure: boolean }) =>
      data(api.DELETE("/api/references/{reference_id}", { params: { path: { reference_id: id }, query: { sure } } })),
    onSuccess: () => changed(["reference"]),
  });
}

/** Lay steps on a picture. */
export function useSteps(reference: Reference) {
  const changed = useChanged();
  return useMutation({
    mutationFn: (steps: Steps) =>
      data(
        api.PUT("/api/references/{reference_id}/steps", {
          params: { path: { reference_id: reference.card.id } },
          body: { ...steps, revision: reference.revision },
        }),
      ),
    onSuccess: () => changed(),
  });
}

/** What the loupe sees at a place of the shown picture. */
export function useLoupe(reference: Reference, at: { x: number; y: number } | null, radius: number) {
  return useQuery({
    queryKey: ["loupe", reference.card.id, reference.revision, at?.x, at?.y, radius],
    queryFn: () =>
      data(
        api.GET("/api/references/{reference_id}/loupe", {
          params: { path: { reference_id: reference.card.id }, query: { x: at?.x ?? 0, y: at?.y ?? 0, radius } },
        }),
      ),
    enabled: at !== null && reference.card.state === "ready",
    placeholderData: keepPreviousData,
    gcTime: 10_000,
  });
}

/** The value zones; borders where they were dragged. */
export function useZones(reference: Reference, paper: number, count: number, fitted: boolean, borders: readonly number[] | null) {
  return useQuery({
    queryKey: ["zones", reference.card.id, reference.revision, paper, count, fitted, borders],
    queryFn: () =>
      data(
        api.GET("/api/references/{reference_id}/zones", {
          params: {
            path: { reference_id: reference.card.id },
            query: { paper, count, steps: fitted ? "fitted" : "even", ...(borders === null ? {} : { borders: [...borders] }) },
          },
        }),
      ),
    enabled: count > 0,
    placeholderData: keepPreviousData,
  });
}

/** Keep the colour under the loupe. */
export function useAddPick(reference: number) {
  const changed = useChanged();
  return useMutation({
    mutationFn: async (body: Schemas["PickIn"]) =>
      (await data(api.POST("/api/references/{reference_id}/picks", { params: { path: { reference_id: reference } }, body }))).id,
    onSuccess: () => changed(),
  });
}

/** Find the main colours. */
export function useMainColours(reference: number) {
  const changed = useChanged();
  return useMutation({
    mutationFn: (count: number) =>
      data(
        api.POST("/api/references/{reference_id}/main-colours", {
          params: { path: { reference_id: reference } },
          body: { count },
        }),
      ),
    onSuccess: () => changed(["answers"]),
  });
}

/** Call a pick and its area. */
export function useNamePick() {
  const changed = useChanged();
  return useMutation({
    mutationFn: ({ id, ...body }: { id: number; revision: number; name: string; area: string }) =>
      data(api.PUT("/api/picks/{pick_id}", { params: { path: { pick_id: id } }, body })),
    onSuccess: () => changed(),
  });
}

/** Drop picks, or make one of them. */
export function usePicksStep() {
  const changed = useChanged();
  return useMutation({
    mutationFn: ({ ids, step }: { ids: readonly number[]; step: "drop" | "merge" }) =>
      step === "drop"
        ? data(api.POST("/api/picks/drop", { body: { ids: [...ids] } }))
        : data(api.POST("/api/picks/merge", { body: { ids: [...ids] } })),
    onSuccess: () => changed(["answers"]),
  });
}

/** What of hers comes nearest to a pick; asked again while pairs are mixed, and not once the pick is about to go. */
export function useAnswers(pick: Pick, context: Context, wish: Wish, going: boolean) {
  return useQuery({
    queryKey: ["answers", pick.id, pick.revision, pick.colour.lab, asked(context, wish), context.drawing],
    queryFn: () =>
      data(
        api.GET("/api/picks/{pick_id}/answers", {
          params: { path: { pick_id: pick.id }, query: asked(context, wish) },
        }),
      ),
    enabled: !going,
    refetchInterval: (query) => (query.state.data?.ready === false ? SOON_MS : false),
    placeholderData: keepPreviousData,
  });
}

/** Whether the paper reaches the darkest and the lightest of the picks. */
export function useReach(reference: Reference, paper: number) {
  const picks = reference.picks.map((pick) => pick.colour.lab[0]);
  return useQuery({
    queryKey: ["reach", reference.card.id, reference.revision, picks, paper],
    queryFn: () =>
      data(
        api.GET("/api/references/{reference_id}/reach", {
          params: { path: { reference_id: reference.card.id }, query: { paper } },
        }),
      ),
    enabled: picks.length > 0,
    refetchInterval: (query) => (query.state.data?.ready === false ? SOON_MS : false),
  });
}
