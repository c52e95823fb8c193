import { useEffect, useEffectEvent } from "react";

export type KeyMap = Readonly<Record<string, (event: KeyboardEvent) => void>>;

/** True where a typed key belongs to what has the focus, not to a shortcut. */
export function typing(target: EventTarget | null): boolean {
  if (!(target instanceof HTMLElement)) return false;
  return target.isContentEditable || /^(TEXTAREA|SELECT)$/.test(target.tagName) || (target instanceof HTMLInputElement && !/^(checkbox|radio|button|file|range)$/.test(target.type));
}

/** Single keys that work anywhere on the page, but never while a field has the focus or a dialog is open. */
export function useKeys(keys: KeyMap): void {
  const onKey = useEffectEvent((event: KeyboardEvent) => {
    if (event.ctrlKey || event.metaKey || event.altKey || event.defaultPrevented || typing(event.target)) return;
    if (document.querySelector('[role="dialog"]') !== null) return;
    const action = keys[event.key];
    if (action === undefined) return;
    event.preventDefault();
    action(event);
  });
  useEffect(() => {
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, []);
}
