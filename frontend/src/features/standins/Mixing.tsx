import type { Again } from "./queries";
import classes from "../../shared/ui/answers.module.css";

/** How far the mixing of every two pencils is. */
export function Mixing({ done, total }: { done: number; total: number }) {
  return (
    <p className={classes.mixing} role="status">
      Two layered pencils come when every two of yours are mixed on this paper
      <progress max={Math.max(total, 1)} value={done} aria-label="How far the mixing is" />
      <span className="mono">
        {done} of {total}
      </span>
    </p>
  );
}

/** That pairs could not be mixed, and a way to try it once more. */
export function MixingFailed({ problem, again }: { problem: string; again: Again }) {
  return (
    <div className="caution" role="alert">
      <p>
        <strong>No pairs:</strong> {problem}
      </p>
      <button type="button" className="button" disabled={again.isPending} onClick={() => again.mutate()}>
        Try again
      </button>
    </div>
  );
}
