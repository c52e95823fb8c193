import type { ReactNode } from "react";
import classes from "./Empty.module.css";

/** Nothing here yet: what this place does, and the first thing to do. */
export function Empty({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section className={classes.empty}>
      <h1>{title}</h1>
      {children}
    </section>
  );
}
