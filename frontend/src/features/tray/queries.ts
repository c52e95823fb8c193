import { keepPreviousData, useMutation, useQuery } from "@tanstack/react-query";
import { api, data, type Schemas } from "../../api/client";
import { useChanged } from "../../shared/queries/collection";

export type TrayData = Schemas["TrayOut"];

/** What lies in the tray on a paper, from light to dark. */
export function useTray(paper: number) {
  return useQuery({
    queryKey: ["tray", paper],
    queryFn: () => data(api.GET("/api/tray", { params: { query: { paper } } })),
    placeholderData: keepPreviousData,
  });
}

/** Put colours into the tray, or take them out. */
export function usePutInTray() {
  const changed = useChanged();
  return useMutation({
    mutationFn: (body: Schemas["TrayIn"]) => data(api.PUT("/api/tray", { body })),
    onSuccess: () => changed(),
  });
}

/** Put everything back. */
export function useEmptyTray() {
  const changed = useChanged();
  return useMutation({ mutationFn: () => data(api.DELETE("/api/tray")), onSuccess: () => changed() });
}
