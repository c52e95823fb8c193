import type { Call, Recipe, Step } from "./queries";

/** Where the cursor of a recipe stops: at a call, or at a line that is still to be looked through. */
export interface Stop {
  /** That of the call; of a line it is below nought, since both are counted from one. */
  id: number;
  call: Call | null;
  line: Step | null;
}

/** The stops of a recipe, down the page: the calls of each line, then the line itself where it is to be looked through. */
export function stopsOf(recipe: Recipe): Stop[] {
  return recipe.steps.flatMap((step) => [
    ...step.calls.map((call) => ({ id: call.id, call, line: null })),
    ...(step.to_look_through ? [{ id: stopOf(step), call: null, line: step }] : []),
  ]);
}

/** Whether a stop waits for an answer of hers. */
export function waits({ call, line }: Stop): boolean {
  return call?.answer === "to settle" || line !== null;
}

/** Where the cursor goes when a stop is answered and gone: to the next that waits, from there on before it begins anew. */
export function afterwards(stops: readonly Stop[], answered: Stop): Stop | undefined {
  const at = stops.indexOf(answered);
  const others = [...stops.slice(at + 1), ...stops.slice(0, Math.max(at, 0))];
  return others.find(waits) ?? others[0];
}

/** The stop that a line is. */
export function stopOf(step: Step): number {
  return -step.id;
}
