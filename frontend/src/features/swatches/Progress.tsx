import type { SessionCard } from "./queries";
import classes from "./Progress.module.css";

/** How far a session is, as a bar with its count. */
export function Progress({ session }: { session: SessionCard }) {
  const done = session.read + session.skipped;
  return (
    <span className={classes.progress}>
      <progress max={session.marks} value={done} aria-label={`${done} of ${session.marks} marks`} />
      <span className="mono">
        {done} of {session.marks}
      </span>
    </span>
  );
}
