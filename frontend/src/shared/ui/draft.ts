import { useEffect, useState } from "react";

/** A text that survives a reload and a crash until it is kept: the text, how to change it, how to forget the draft. */
export function useDraft(name: string): [string, (text: string) => void, () => void] {
  const [text, setText] = useState(() => localStorage.getItem(name) ?? "");
  useEffect(() => localStorage.setItem(name, text), [name, text]);
  return [text, setText, () => localStorage.removeItem(name)];
}
