import { useEffect, useRef } from "react";
import { useLocation } from "react-router";

/** The part of a page that takes the keys: its main list, or what the page says instead; else the page itself. */
const MAIN = "[data-main]";
const PAGE = ".station-page";

/**
 * Whenever a page opens, its main list has the focus, so that arrows, PgDn and Enter work at once: after a change of
 * station, after a link, after a reload. A field that has taken the focus itself keeps it.
 */
export function useMainFocus() {
  const { key } = useLocation();
  const station = useRef<HTMLElement>(null);
  useEffect(() => {
    const main = station.current;
    if (main === null) return;
    const inside = () => main.contains(document.activeElement) && document.activeElement !== main;
    const take = () => {
      if (inside()) return true;
      const list = main.querySelector<HTMLElement>(MAIN) ?? scrolled(main);
      list?.focus({ preventScroll: true });
      return list !== null;
    };
    if (!inside() && !take()) main.focus({ preventScroll: true });
    if (inside()) return;
    // What the page shows may still be on its way; whoever goes elsewhere meanwhile is left there.
    const began = document.activeElement;
    const watch = new MutationObserver(() => {
      if (document.activeElement !== began && document.activeElement !== document.body) watch.disconnect();
      else if (take()) watch.disconnect();
    });
    watch.observe(main, { childList: true, subtree: true });
    return () => watch.disconnect();
  }, [key]);
  return station;
}

/** The part of a page without a list that PgDn scrolls, once it is all there. */
function scrolled(main: HTMLElement): HTMLElement | null {
  const page = main.querySelector<HTMLElement>(PAGE);
  if (page === null || main.querySelector("[data-loading]") !== null) return null;
  page.tabIndex = -1;
  return page;
}
