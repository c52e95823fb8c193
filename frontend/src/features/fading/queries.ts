import { useMutation, useQuery } from "@tanstack/react-query";
import { api, data, type Schemas } from "../../api/client";
import { useChanged } from "../../shared/queries/collection";

export type Strip = Schemas["FadeStripOut"];
export type FadedMark = Schemas["FadedMarkOut"];
export type Half = Schemas["HalfIn"]["half"];
export type FadePlace = Strip["place"];

export const PLACES: readonly (readonly [FadePlace, string])[] = (["south window", "east window", "west window", "north window", "lamp"] as const).map((place) => [place, place]);

const path = (strip: number) => ({ path: { strip_id: strip } });

/** All strips in the light. */
export function useStrips() {
  return useQuery({ queryKey: ["fade-strips"], queryFn: () => data(api.GET("/api/fade-strips")) });
}

/** One strip, and the photos that it can be read from. */
export function useStrip(strip: number) {
  return useQuery({ queryKey: ["fade-strip", strip], queryFn: () => data(api.GET("/api/fade-strips/{strip_id}", { params: path(strip) })) });
}

/** What one does with fade tests. */
export function useFadingActs() {
  const onSuccess = useChanged();
  const done = { onSuccess: () => onSuccess() };
  return {
    begin: useMutation({ mutationFn: (body: Schemas["FadeStripIn"]) => data(api.POST("/api/fade-strips", { body })), ...done }),
    read: useMutation({
      mutationFn: ({ mark, ...body }: Schemas["HalfIn"] & { mark: number }) =>
        data(api.PUT("/api/fade-marks/{mark_id}/half", { params: { path: { mark_id: mark } }, body })),
      ...done,
    }),
    photo: useMutation({
      mutationFn: ({ strip, ...body }: Schemas["FromPhotoIn"] & { strip: number }) =>
        data(api.POST("/api/fade-strips/{strip_id}/from-photo", { params: path(strip), body })),
      ...done,
    }),
    light: useMutation({
      mutationFn: ({ strip, ...body }: Schemas["LightIn"] & { strip: number }) =>
        data(api.PUT("/api/fade-strips/{strip_id}/light", { params: path(strip), body })),
      ...done,
    }),
    over: useMutation({
      mutationFn: ({ strip, over }: { strip: number; over: boolean }) =>
        data(api.PUT("/api/fade-strips/{strip_id}/over", { params: path(strip), body: { over } })),
      ...done,
    }),
    remove: useMutation({
      mutationFn: (strip: number) => data(api.DELETE("/api/fade-strips/{strip_id}", { params: path(strip) })),
      onSuccess: () => onSuccess(["fade-strip"]),
    }),
  };
}

/** Today as a form has it, where the artist is. */
export function today(): string {
  const now = new Date();
  return `${now.getFullYear()}-${String(now.getMonth() + 1).padStart(2, "0")}-${String(now.getDate()).padStart(2, "0")}`;
}
