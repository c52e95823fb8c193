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

export type SwatchesPreview = Schemas["SwatchesPreviewOut"];

/** What the artist says of a file of swatches; empty where nothing is said. */
export interface SaidOfFile {
  range: string;
  paper: string;
  pressure: "" | "light" | "medium" | "heavy";
  white: "" | "D65" | "D50";
}

interface SwatchFile {
  file: File;
  said: SaidOfFile;
}

/** Look at a file of swatches: what it holds, what it does not say, what is wrong. */
export function useSwatchPreview() {
  return useMutation({
    mutationFn: ({ file, said }: SwatchFile) => data(api.POST("/api/swatches/file/preview", asUpload(file, { ...said }))),
  });
}

/** Take its swatches in, all or none. */
export function useTakeInSwatches() {
  const changed = useChanged();
  return useMutation({
    mutationFn: ({ file, said }: SwatchFile) => data(api.POST("/api/swatches/file", asUpload(file, { ...said }))),
    onSuccess: () => changed(),
  });
}
