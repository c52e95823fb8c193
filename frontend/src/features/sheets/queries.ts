import { keepPreviousData, useMutation, useQuery } from "@tanstack/react-query";
import { api, data, type Schemas } from "../../api/client";
import { useChanged } from "../../shared/queries/collection";

export type SheetWish = Required<Schemas["SheetIn"]>;
export type SheetCount = Schemas["SheetCountOut"];
export type SheetPage = Schemas["SheetPageOut"];

/** A sheet with its pages, in mm. */
export function useSheet(id: number) {
  return useQuery({
    queryKey: ["sheet", id],
    queryFn: () => data(api.GET("/api/sheets/{sheet_id}", { params: { path: { sheet_id: id } } })),
  });
}

/** How many pencils and pages a sheet would have. */
export function useSheetCount(wish: SheetWish) {
  return useQuery({
    queryKey: ["sheet count", wish],
    queryFn: () => data(api.POST("/api/sheets/count", { body: wish })),
    placeholderData: keepPreviousData,
  });
}

/** Give each pencil its place on a new sheet; its number. */
export function useMakeSheet() {
  const changed = useChanged();
  return useMutation({
    mutationFn: (body: SheetWish) => data(api.POST("/api/sheets", { body })),
    onSuccess: () => changed(),
  });
}

/** Forget a sheet. */
export function useRemoveSheet() {
  const changed = useChanged();
  return useMutation({
    mutationFn: (id: number) => data(api.DELETE("/api/sheets/{sheet_id}", { params: { path: { sheet_id: id } } })),
    onSuccess: () => changed(["sheet"]),
  });
}
