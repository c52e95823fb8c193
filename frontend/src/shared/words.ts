import type { Schemas } from "../api/client";

/** With a capital. */
export function sentence(said: string): string {
  return said.charAt(0).toUpperCase() + said.slice(1);
}

/** So many of something, in the number that fits: “1 step”, “3 steps”. */
export function counted(count: number, one: string, many = `${one}s`): string {
  return `${count} ${count === 1 ? one : many}`;
}

/** How many more layers a paper takes. */
export function roomWords(left: number, paper: string): string {
  if (left < 0) return `That is ${-left} ${left === -1 ? "layer" : "layers"} more than ${paper} takes.`;
  if (left === 0) return `${paper} then takes no further layer.`;
  return `${paper} then takes ${left} more ${left === 1 ? "layer" : "layers"}.`;
}

/** How a shown colour is known. */
export function seenWords({ trust, band }: Schemas["SeenOut"]): string {
  return band === null ? trust : `${trust} ± ${band.toFixed(1)} ΔE`;
}

/** How a colour is rated for light: by an own fade test where there is a result, else as its chart prints it. */
export function ratedForLight({ tested, lightfastness }: Schemas["ColourOut"]): string {
  return tested || lightfastness;
}
