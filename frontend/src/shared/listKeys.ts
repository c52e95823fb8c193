import type { KeyboardEvent } from "react";

/** Keys of a list of stand-ins: the arrows pick, Enter uses what is picked, Escape goes back to the calls. */
export function listKeys<T>(all: readonly T[], current: T | undefined, on: { pick: (one: T) => void; take: () => void; back: () => void }) {
  return (event: KeyboardEvent) => {
    const at = all.findIndex((one) => one === current);
    const next = { ArrowDown: all[at + 1], ArrowUp: all[at - 1] }[event.key];
    if (event.key === "Enter") on.take();
    else if (event.key === "Escape") on.back();
    else if (next !== undefined) on.pick(next);
    else if (!event.key.startsWith("Arrow")) return;
    event.preventDefault();
  };
}
