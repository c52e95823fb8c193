/** With a capital. */
export function sentence(said: string): string {
  return said.charAt(0).toUpperCase() + said.slice(1);
}

/** How many more layers a paper takes. */
export function roomWords(left: number, paper: string): string {
  if (left < 0) return `That is ${-left} ${left === -1 ? "layer" : "layers"} more than ${paper} takes.`;
  if (left === 0) return `${paper} then takes no further layer.`;
  return `${paper} then takes ${left} more ${left === 1 ? "layer" : "layers"}.`;
}

/** What lies in a field of a strip: one pencil alone, or the layers in one of two orders. */
export const FIELD_WORDS: Readonly<Record<string, string>> = { alone: "alone", laid: "in this order", turned: "the other way round" };
