import { useMutation } from "@tanstack/react-query";
import { api, data, type Schemas } from "../../api/client";
import { asUpload } from "../../api/upload";
import { useChanged } from "../../shared/queries/collection";

export type Preview = Schemas["PreviewOut"];

/** Look at a file: what it holds, what is wrong. */
export function usePreview() {
  return useMutation({
    mutationFn: (file: File) =>
      data(api.POST("/api/catalogue/preview", asUpload(file))),
  });
}

/** Take a file in, whole. */
export function useTakeIn() {
  const changed = useChanged();
  return useMutation({
    mutationFn: (file: File) => data(api.POST("/api/catalogue", asUpload(file))),
    onSuccess: () => changed(),
  });
}
