import classes from "./StandinPanel.module.css";

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
