import type { KeyboardEvent } from "react";

/** Arrows, Home and End go among the links of a list; Enter is the link's own. */
export function amongLinks(event: KeyboardEvent<HTMLElement>) {
  const links = [...event.currentTarget.querySelectorAll("a")];
  const at = links.findIndex((link) => link === document.activeElement);
  const next = { ArrowDown: links[at + 1], ArrowUp: links[at - 1], Home: links[0], End: links.at(-1) }[event.key];
  if (next === undefined) return;
  next.focus();
  event.preventDefault();
}

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
