import { useEffect, useState } from "react";

/** A text that survives a reload and a crash until it is kept: the text, how to change it, how to forget the draft.
 * begun: what it is where nothing was typed yet.
 */
export function useDraft(name: string, begun = ""): [string, (text: string) => void, () => void] {
  const [text, setText] = useState(() => localStorage.getItem(name) ?? begun);
  useEffect(() => {
    if (text === begun) localStorage.removeItem(name);
    else localStorage.setItem(name, text);
  }, [name, text, begun]);
  return [text, setText, () => localStorage.removeItem(name)];
}
