import { useSyncExternalStore } from "react";

/** Where the walk is: "offered" to whoever was never here, at a stop, or over. Kept by this browser. */
export type Walk = "offered" | "over" | number;

const STORED = "tidy-tinder-tour";
const listeners = new Set<() => void>();
let walk: Walk = read();

function read(): Walk {
  const stored = localStorage.getItem(STORED);
  if (stored === null) return "offered";
  const at = Number(stored);
  return Number.isInteger(at) && at >= 0 ? at : "over";
}

function set(next: Walk) {
  walk = next;
  localStorage.setItem(STORED, String(next));
  listeners.forEach((tell) => tell());
}

export const beginTour = () => set(0);
export const leaveTour = () => set("over");
export const goTo = (stop: number) => set(Math.max(stop, 0));

export function useTour(): Walk {
  return useSyncExternalStore(
    (tell) => {
      listeners.add(tell);
      return () => listeners.delete(tell);
    },
    () => walk,
  );
}
