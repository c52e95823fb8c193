import { useMutation } from "@tanstack/react-query";
import { api, data, type Schemas } from "../../api/client";
import { useChanged } from "../../shared/queries/collection";

export type Preview = Schemas["PreviewOut"];

function asForm(file: File): FormData {
  const form = new FormData();
  form.append("file", file);
  return form;
}

// The generated type of an upload is its text; what goes out is the file itself, as the browser packs it.
const upload = { body: { file: "" } };

/** Look at a file: what it holds, what is wrong. */
export function usePreview() {
  return useMutation({
    mutationFn: (file: File) =>
      data(api.POST("/api/catalogue/preview", { ...upload, bodySerializer: () => asForm(file) })),
  });
}

/** Take a file in, whole. */
export function useTakeIn() {
  const changed = useChanged();
  return useMutation({
    mutationFn: (file: File) => data(api.POST("/api/catalogue", { ...upload, bodySerializer: () => asForm(file) })),
    onSuccess: () => changed(),
  });
}
