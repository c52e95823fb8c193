import { useState } from "react";
import { useLocation } from "react-router";

/**
 * Where the cursor of a list is: kept in the page's state, so that a held key never outruns it, and written into the
 * address, so that a reload finds it again. A new address (the finder, a link) sets it anew.
 */
export function useCursor(name: string): [number | null, (id: number) => void] {
  const { key, search } = useLocation();
  const asked = Number(new URLSearchParams(search).get(name)) || null;
  const [moved, setMoved] = useState<{ key: string; id: number } | null>(null);
  const moveTo = (id: number) => {
    setMoved({ key, id });
    window.history.replaceState(window.history.state, "", `?${name}=${id}`);
  };
  return [moved?.key === key ? moved.id : asked, moveTo];
}
