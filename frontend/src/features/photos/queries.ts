import { useMutation, useQuery } from "@tanstack/react-query";
import { api, data, type Schemas } from "../../api/client";
import { asUpload } from "../../api/upload";
import { useChanged } from "../../shared/queries/collection";

export type PhotoCard = Schemas["PhotoCardOut"];
export type Photo = Schemas["PhotoOut"];
export type PhotoCell = Schemas["PhotoCellOut"];
export type Condition = Schemas["SimulatedPhotoIn"]["condition"];

const SOON_MS = 600;

/** Whether a photo is on its way to being read. */
export function underWay(card: PhotoCard): boolean {
  return card.state === "waiting" || card.state === "reading";
}

/** The photos of a sheet, asked for again while one of them is being read. */
export function usePhotos(sheet: number) {
  return useQuery({
    queryKey: ["photos", sheet],
    queryFn: () => data(api.GET("/api/sheets/{sheet_id}/photos", { params: { path: { sheet_id: sheet } } })),
    refetchInterval: (query) => (query.state.data?.photos.some(underWay) === true ? SOON_MS : false),
  });
}

/** A photo with its cells; asked for anew once its state is another. */
export function usePhoto(card: PhotoCard) {
  return useQuery({
    queryKey: ["photo", card.id, card.state, card.taken],
    queryFn: () => data(api.GET("/api/photos/{photo_id}", { params: { path: { photo_id: card.id } } })),
  });
}

/** Add photos of a sheet, one after another; those that are refused come back with why. */
export function useAddPhotos(sheet: number) {
  const changed = useChanged();
  return useMutation({
    mutationFn: async (files: readonly File[]) => {
      const added: number[] = [];
      const refused: { name: string; error: unknown }[] = [];
      for (const file of files) {
        try {
          const { id } = await data(
            api.POST("/api/sheets/{sheet_id}/photos", {
              params: { path: { sheet_id: sheet } }, ...asUpload(file),
            }),
          );
          added.push(id);
        } catch (error) {
          refused.push({ name: file.name, error });
        }
      }
      return { added, refused };
    },
    onSettled: () => changed(),
  });
}

/** Let the simulated camera photograph a page. */
export function useSimulatedPhoto(sheet: number) {
  const changed = useChanged();
  return useMutation({
    mutationFn: (body: { page: number; condition: Condition; filled: number }) =>
      data(api.POST("/api/sheets/{sheet_id}/simulated-photo", { params: { path: { sheet_id: sheet } }, body })),
    onSuccess: () => changed(),
  });
}

/** Do something with a photo: stop reading it, read it again. */
export function usePhotoStep() {
  const changed = useChanged();
  return useMutation({
    mutationFn: ({ id, step }: { id: number; step: "stop" | "again" }) =>
      step === "stop"
        ? data(api.POST("/api/photos/{photo_id}/stop", { params: { path: { photo_id: id } } }))
        : data(api.POST("/api/photos/{photo_id}/again", { params: { path: { photo_id: id } } })),
    onSuccess: () => changed(),
  });
}

/** Keep what a reader measured of a sheet's grey ramp. */
export function useMeasureRamp(sheet: number) {
  const changed = useChanged();
  return useMutation({
    mutationFn: (steps: { black: number; lab: number[] }[]) =>
      data(api.PUT("/api/sheets/{sheet_id}/ramp", { params: { path: { sheet_id: sheet } }, body: { steps } })),
    onSuccess: () => changed(),
  });
}

/** Take the marks of some cells. */
export function useTakeCells(id: number) {
  const changed = useChanged();
  return useMutation({
    mutationFn: (cells: number[]) =>
      data(api.POST("/api/photos/{photo_id}/take", { params: { path: { photo_id: id } }, body: { cells } })),
    onSuccess: () => changed(),
  });
}

/** Remove a photo with its original. */
export function useRemovePhoto() {
  const changed = useChanged();
  return useMutation({
    mutationFn: (id: number) => data(api.DELETE("/api/photos/{photo_id}", { params: { path: { photo_id: id } } })),
    onSuccess: () => changed(["photo"]),
  });
}
