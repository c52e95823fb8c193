import type { ReactNode } from "react";
import classes from "./words.module.css";

/** Where words stand in a line: from start up to end. */
export interface Place {
  start: number;
  end: number;
}

/** A line as it was written: what was read as a colour underlined, and dotted what was read as nothing and may name one. */
export function Words({ text, read, left }: { text: string; read: readonly Place[]; left: readonly Place[] }) {
  const marked = [...read.map((place) => ({ ...place, read: true })), ...left.map((place) => ({ ...place, read: false }))];
  const words: ReactNode[] = [];
  let at = 0;
  for (const { start, end, read: known } of marked.sort((one, other) => one.start - other.start)) {
    // One letter, or “same as above”, may stand for several.
    if (start < at) continue;
    const word = text.slice(start, end);
    words.push(text.slice(at, start), known ? <u key={start} className={classes.read}>{word}</u> : <span key={start} className={classes.left}>{word}</span>);
    at = end;
  }
  return [...words, text.slice(at)];
}
