import { useMutation } from "@tanstack/react-query";
import { api, data, type Schemas } from "../../api/client";
import { asUpload } from "../../api/upload";
import { useChanged } from "../../shared/queries/collection";
import type { SaidColumns } from "./ColumnsRead";

export type Preview = Schemas["PreviewOut"];

interface CatalogueFile {
  file: File;
  columns: SaidColumns;
}

/** Look at a file: what it holds, what is wrong. */
export function usePreview() {
  return useMutation({
    mutationFn: ({ file, columns }: CatalogueFile) => data(api.POST("/api/catalogue/preview", asUpload(file, packed(columns)))),
  });
}

/** Take a file in, whole. */
export function useTakeIn() {
  const changed = useChanged();
  return useMutation({
    mutationFn: ({ file, columns }: CatalogueFile) => data(api.POST("/api/catalogue", asUpload(file, packed(columns)))),
    onSuccess: () => changed(),
  });
}

function packed(columns: SaidColumns): { columns: string } {
  return { columns: JSON.stringify(columns) };
}

export type SwatchesPreview = Schemas["SwatchesPreviewOut"];

/** What the artist says of a file of swatches; empty where nothing is said. */
export interface SaidOfFile {
  range: string;
  paper: string;
  pressure: "" | "light" | "medium" | "heavy";
  white: "" | "D65" | "D50";
  columns: SaidColumns;
}

interface SwatchFile {
  file: File;
  said: SaidOfFile;
}

/** Look at a file of swatches: what it holds, what it does not say, what is wrong. */
export function useSwatchPreview() {
  return useMutation({
    mutationFn: ({ file, said }: SwatchFile) => data(api.POST("/api/swatches/file/preview", asUpload(file, { ...said, ...packed(said.columns) }))),
  });
}

/** Take its swatches in, all or none. */
export function useTakeInSwatches() {
  const changed = useChanged();
  return useMutation({
    mutationFn: ({ file, said }: SwatchFile) => data(api.POST("/api/swatches/file", asUpload(file, { ...said, ...packed(said.columns) }))),
    onSuccess: () => changed(),
  });
}
