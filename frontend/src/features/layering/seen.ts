import type { Schemas } from "../../api/client";

/** How a shown colour is known. */
export function seenWords({ trust, band }: Schemas["SeenOut"]): string {
  return band === null ? trust : `${trust} ± ${band.toFixed(1)} ΔE`;
}
