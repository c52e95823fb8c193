import type { FadedMark } from "./queries";

/** What is held of a mark, in few words. */
export function standing(mark: FadedMark): string {
  const last = mark.seen.at(-1);
  if (last === undefined) return "not read yet";
  const moved = `ΔE ${last.change.delta_e_ab.toFixed(1)}`;
  return mark.held.length > 0 ? `${moved}: ${mark.held.join(" or ")}` : `${moved} so far`;
}

/** The same with its reason, beside what the chart prints. */
export function verdict(mark: FadedMark): string {
  const last = mark.seen.at(-1);
  if (last === undefined) return "Read both halves to see how far it has come.";
  const chart = mark.colour.lightfastness === "" ? "the chart says nothing" : `the chart says ${mark.colour.lightfastness}`;
  const classes = last.change.classes.join(" or ");
  if (mark.held.length > 0) return `${classes} by your own test; ${chart}`;
  return `${classes} so far. It may still fade: ${chart}, and that stands until a blue wool shows that there was light enough`;
}
