import { useQuery } from "@tanstack/react-query";
import { api, data, type Schemas } from "../../api/client";

export type SheetCard = Schemas["SheetCardOut"];

/** All sheets and frames, the newest first. */
export function useSheetCards() {
  return useQuery({ queryKey: ["sheets"], queryFn: () => data(api.GET("/api/sheets")) });
}
