import { useSyncExternalStore } from "react";

/** How colours are looked at on this screen: in grey, and on which surround. Kept by the browser, not the collection. */
export interface View {
  grey: boolean;
  surround: "mid grey" | "paper";
}

const STORED = "tidy-tinder-view";
const listeners = new Set<() => void>();
let view: View = read();
apply();

function read(): View {
  const stored = localStorage.getItem(STORED);
  const start: View = { grey: false, surround: "mid grey" };
  return stored === null ? start : { ...start, ...(JSON.parse(stored) as Partial<View>) };
}

function apply() {
  const { dataset } = document.documentElement;
  if (view.grey) dataset["grey"] = "";
  else delete dataset["grey"];
  dataset["surround"] = view.surround;
}

function set(next: View) {
  view = next;
  localStorage.setItem(STORED, JSON.stringify(view));
  apply();
  listeners.forEach((tell) => tell());
}

export const toggleGrey = () => set({ ...view, grey: !view.grey });
export const toggleSurround = () => set({ ...view, surround: view.surround === "paper" ? "mid grey" : "paper" });

/** The view as it is now. */
export function useView(): View {
  return useSyncExternalStore(
    (tell) => {
      listeners.add(tell);
      return () => listeners.delete(tell);
    },
    () => view,
  );
}
