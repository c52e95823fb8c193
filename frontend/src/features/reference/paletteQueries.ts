import { keepPreviousData, useMutation, useQuery } from "@tanstack/react-query";
import { api, data, type Schemas } from "../../api/client";
import { useChanged, type Context } from "../../shared/queries/collection";
import type { Pick, Reference } from "./queries";
import { asked, type Wish } from "./wish";

export type PaletteRow = Schemas["PaletteRowOut"];

const SOON_MS = 500;

/** Each pick with the way in which it is laid; asked again while pairs are mixed. */
export function usePalette(reference: Reference, context: Context, wish: Wish) {
  const picks = reference.picks.map((pick) => [pick.id, pick.revision]);
  return useQuery({
    queryKey: ["answers", "palette", reference.card.id, reference.revision, picks, asked(context, wish), context.drawing],
    queryFn: () =>
      data(
        api.GET("/api/references/{reference_id}/palette", {
          params: { path: { reference_id: reference.card.id }, query: asked(context, wish) },
        }),
      ),
    refetchInterval: (query) => (query.state.data?.ready === false ? SOON_MS : false),
    placeholderData: keepPreviousData,
  });
}

/** Use these layers for a pick; none: whatever is nearest. */
export function useChooseWay() {
  const changed = useChanged();
  return useMutation({
    mutationFn: ({ pick, laid }: { pick: Pick; laid: Schemas["WayIn"]["laid"] }) =>
      data(api.PUT("/api/picks/{pick_id}/way", { params: { path: { pick_id: pick.id } }, body: { laid } })),
    onSuccess: () => changed(),
  });
}

/** Make two picks of one. */
export function useSplit() {
  const changed = useChanged();
  return useMutation({
    mutationFn: (id: number) => data(api.POST("/api/picks/{pick_id}/split", { params: { path: { pick_id: id } } })),
    onSuccess: () => changed(["answers"]),
  });
}
