import type { ReactNode } from "react";
import { Link } from "react-router";
import classes from "./page.module.css";

/** What taking a file in would do, and the button that does it; where all of it is here already, the way back. */
export function Found({ title, here, back, act, busy, onTake, children }: {
  title: string;
  here: boolean;
  back: readonly [to: string, words: string];
  act: string;
  busy: boolean;
  onTake: () => void;
  children: ReactNode;
}) {
  return (
    <section className={classes.seen}>
      <h2>{here ? "All of it is here already" : title}</h2>
      <ul>{children}</ul>
      {here ? (
        <Link className="button" to={back[0]}>
          {back[1]}
        </Link>
      ) : (
        <button type="button" className="button" data-strong disabled={busy} onClick={onTake}>
          {act}
        </button>
      )}
    </section>
  );
}
