import type { Schemas } from "../api/client";

// The closed words of the trade, as the server's document has them, and the limits of what is laid (the server refuses
// by the same ones).
export type Pressure = Schemas["Pressure"];
export type MarkPressure = Exclude<Pressure, "burnish">;
export type Finish = Schemas["Finish"];
export type Closest = Schemas["Closest"];
export type Role = Schemas["Role"];
export type Purpose = Schemas["Purpose"];
export type StepKind = Schemas["StepKind"];

export const MARK_PRESSURES: readonly MarkPressure[] = ["light", "medium", "heavy"];
export const FINISHES: readonly Finish[] = ["dry", "burnished", "solvent", "wet"];
export const CLOSEST: readonly Closest[] = ["overall", "value", "hue"];
export const ROLES: readonly Role[] = ["glaze", "highlight", "burnisher", "base", "detail", "below"];
export const PURPOSES: readonly Purpose[] = ["map", "base", "build", "deepen", "blend", "burnish", "glaze", "highlight", "resist", "lift"];
export const STEP_KINDS: readonly StepKind[] = ["heading", "note", "step"];

export const MOST_PENCILS = 3;
export const MOST_LAYERS = 12;

/** Whether a text is one of the pressures of a mark. */
export function isMarkPressure(text: string | null | undefined): text is MarkPressure {
  return MARK_PRESSURES.some((pressure) => pressure === text);
}

/** The word of a closed list that a text is, if it is one. */
export function oneOf<T extends string>(words: readonly T[], text: string | null): T | undefined {
  return words.find((word) => word === text);
}
