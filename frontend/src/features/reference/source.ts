import type { Context } from "../../shared/queries/collection";
import { gridQuery, type Look } from "./Looking";
import type { Pick, Reference } from "./queries";

/** How a picture is seen beyond its look: in greys, between borders, with a pick's places hatched and sections drawn. */
export interface Seen {
  grey: boolean;
  borders: readonly number[] | null;
  marked: Pick | undefined;
  drawing: Context["drawing"];
  sections: number | null;
}

/** The address of a picture as it is looked at. */
export function source(reference: Reference, look: Look, seen: Seen): string {
  const asked = new URLSearchParams({ v: String(reference.revision) });
  if (seen.grey) asked.set("grey", "true");
  if (look.squint !== null) asked.set("squint", String(look.squint));
  seen.borders?.forEach((border) => asked.append("zones", String(border)));
  if (look.warmCool) asked.set("warm_cool", "true");
  if (look.upsideDown) asked.set("upside_down", "true");
  if (seen.marked !== undefined) asked.set("marked", String(seen.marked.number));
  if (look.grid !== "none" && seen.drawing !== null) {
    asked.set("wide_mm", String(seen.drawing.width_mm));
    asked.set("high_mm", String(seen.drawing.height_mm));
    gridQuery(look.grid).forEach((value, name) => asked.set(name, value));
  }
  if (seen.sections !== null) {
    asked.set("sections", "true");
    asked.set("parted", String(seen.sections));
  }
  return `/api/references/${reference.card.id}/picture?${asked.toString()}`;
}
