import { useMutation, useQuery } from "@tanstack/react-query";
import { api, data, type Schemas } from "../../api/client";
import { useChanged } from "../../shared/queries/collection";
import { WATCHING } from "../../shared/queries/watching";

export type Check = Schemas["CheckOut"];
export type Corner = readonly [number, number];

const path = (drawing: number) => ({ path: { drawing_id: drawing } });
// While pairs are mixed, how far the paper reaches is asked for again.
const SOON_MS = 1000;
// So often it is looked whether a phone has sent a photo.
const LOOK_MS = 2000;

/** The checks of a drawing, the newest first. */
export function useChecks(drawing: number) {
  return useQuery({
    queryKey: ["checks", drawing],
    queryFn: () => data(api.GET("/api/drawings/{drawing_id}/checks", { params: path(drawing) })),
  });
}

/** The photos of a drawing that wait for their check; a phone may send more at any time. */
export function useWaitingPhotos(drawing: number) {
  return useQuery({
    queryKey: [WATCHING, "drawing-photos", drawing],
    queryFn: () => data(api.GET("/api/drawings/{drawing_id}/photos", { params: path(drawing) })),
    refetchInterval: LOOK_MS,
  });
}

/** The corners of the picture in a photo, where they are found. */
export function useFoundCorners(photo: number, reference: number) {
  return useQuery({
    queryKey: ["corners", photo, reference],
    queryFn: () =>
      data(api.GET("/api/drawing-photos/{photo_id}/corners", { params: { path: { photo_id: photo }, query: { reference_id: reference } } })),
    staleTime: Infinity,
  });
}

/** How far the drawing's paper reaches the values that the picture asks for. */
export function useCheckReach(check: number) {
  return useQuery({
    queryKey: ["check-reach", check],
    queryFn: () => data(api.GET("/api/checks/{check_id}/reach", { params: { path: { check_id: check } } })),
    refetchInterval: (query) => (query.state.data?.ready === false ? SOON_MS : false),
  });
}

/** What one does with photos of a drawing and their checks. */
export function useValueActs(drawing: number) {
  const onSuccess = useChanged();
  return {
    add: useMutation({
      mutationFn: (file: File) => {
        const form = new FormData();
        form.append("file", file);
        return data(api.POST("/api/drawings/{drawing_id}/photos", { params: path(drawing), body: { file: "" }, bodySerializer: () => form }));
      },
      onSuccess: () => onSuccess(),
    }),
    simulate: useMutation({
      mutationFn: (body: Schemas["SimulatedDrawingIn"]) =>
        data(api.POST("/api/drawings/{drawing_id}/simulated-photo", { params: path(drawing), body })),
      onSuccess: () => onSuccess(),
    }),
    drop: useMutation({
      mutationFn: (photo: number) => data(api.DELETE("/api/drawing-photos/{photo_id}", { params: { path: { photo_id: photo } } })),
      // The photo waits no longer: nothing is asked about it again.
      onSuccess: () => onSuccess(["corners"]),
    }),
    check: useMutation({
      mutationFn: (body: Schemas["CheckIn"]) => data(api.POST("/api/checks", { body })),
      onSuccess: () => onSuccess(["corners"]),
    }),
    remove: useMutation({
      mutationFn: (id: number) => data(api.DELETE("/api/checks/{check_id}", { params: { path: { check_id: id } } })),
      onSuccess: () => onSuccess(["check-reach"]),
    }),
  };
}
