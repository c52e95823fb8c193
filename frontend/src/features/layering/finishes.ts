import { MARK_PRESSURES, type Finish, type MarkPressure, type Pressure } from "../../shared/vocabulary";

/** The finishes that the table knows: nothing is wetted on it. */
export type TableFinish = Exclude<Finish, "wet">;
export const TABLE_FINISHES: readonly TableFinish[] = ["dry", "burnished", "solvent"];

/** A pressure some steps heavier, or lighter; undefined where there is none, and for what burnishes. */
export function heavier(pressure: Pressure, by: number): MarkPressure | undefined {
  return pressure === "burnish" ? undefined : MARK_PRESSURES[MARK_PRESSURES.indexOf(pressure) + by];
}
