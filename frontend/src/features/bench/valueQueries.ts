import { useMutation, useQuery } from "@tanstack/react-query";
import { api, data, type Schemas } from "../../api/client";
import { useChanged } from "../../shared/queries/collection";

export type Check = Schemas["CheckOut"];
export type Corner = readonly [number, number];

const path = (drawing: number) => ({ path: { drawing_id: drawing } });

/** The checks of a drawing, the newest first. */
export function useChecks(drawing: number) {
  return useQuery({
    queryKey: ["checks", drawing],
    queryFn: () => data(api.GET("/api/drawings/{drawing_id}/checks", { params: path(drawing) })),
  });
}

/** Lay a photo of the drawing on its reference. */
export function useCheck(drawing: number) {
  const changed = useChanged();
  return useMutation({
    mutationFn: ({ file, reference, corners, overrule }: { file: File; reference: number; corners: readonly Corner[]; overrule: boolean }) => {
      const form = new FormData();
      form.append("file", file);
      form.append("reference_id", String(reference));
      form.append("corners", corners.map(([x, y]) => `${x.toFixed(5)},${y.toFixed(5)}`).join(" "));
      form.append("overrule", String(overrule));
      const body = { file: "", reference_id: reference, corners: "", overrule };
      return data(api.POST("/api/drawings/{drawing_id}/checks", { params: path(drawing), body, bodySerializer: () => form }));
    },
    onSuccess: () => changed(),
  });
}

/** Remove a check. */
export function useRemoveCheck() {
  const changed = useChanged();
  return useMutation({
    mutationFn: (id: number) => data(api.DELETE("/api/checks/{check_id}", { params: { path: { check_id: id } } })),
    onSuccess: () => changed(),
  });
}
