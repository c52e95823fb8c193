import type { Drill } from "./queries";

/** The kinds of questions as they are chosen. */
export const DRILLS: readonly (readonly [Drill, string])[] = [
  ["lighter", "lighter or darker"],
  ["warmer", "warmer or cooler"],
  ["closest", "which is closest"],
  ["order", "order by value"],
  ["value step", "name the value"],
  ["layer", "what a layer gives"],
  ["tin", "which tin"],
];

/** A kind in words. */
export function drillWords(drill: Drill): string {
  return DRILLS.find(([key]) => key === drill)?.[1] ?? drill;
}
