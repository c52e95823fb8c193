import { useEffect, useEffectEvent } from "react";

export type KeyMap = Readonly<Record<string, (event: KeyboardEvent) => void>>;

/** True where a typed key belongs to what has the focus, not to a shortcut. */
export function typing(target: EventTarget | null): boolean {
  if (!(target instanceof HTMLElement)) return false;
  return target.isContentEditable || /^(TEXTAREA|SELECT)$/.test(target.tagName) || (target instanceof HTMLInputElement && !/^(checkbox|radio|button|file|range)$/.test(target.type));
}

/** True where a key presses what the keyboard went to; what was only clicked keeps no such claim. */
function pressing(event: KeyboardEvent): boolean {
  if (event.key !== " " && event.key !== "Enter") return false;
  return event.target instanceof HTMLElement && event.target.matches("button:focus-visible, a:focus-visible, summary:focus-visible");
}

/**
 * Single keys that work anywhere on the page, but never while a field has the focus or a dialog is open. yields: space
 * and Enter are left to a button that the keyboard went to. before: they go before those of the stations.
 */
export function useKeys(keys: KeyMap, yields = false, before = false): void {
  const onKey = useEffectEvent((event: KeyboardEvent) => {
    if (yields && pressing(event)) return;
    if (event.ctrlKey || event.metaKey || event.altKey || event.defaultPrevented || typing(event.target)) return;
    if (document.querySelector('[role="dialog"]') !== null) return;
    const action = keys[event.key];
    if (action === undefined) return;
    event.preventDefault();
    action(event);
  });
  useEffect(() => {
    window.addEventListener("keydown", onKey, before);
    return () => window.removeEventListener("keydown", onKey, before);
  }, [before]);
}
