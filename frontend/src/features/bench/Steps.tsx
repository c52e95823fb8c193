import type { Bench } from "./queries";
import classes from "./StepView.module.css";

/** All steps: what became of each; one can be looked at, or gone to. */
export function Steps({ bench, looked, onLook, onGo }: { bench: Bench; looked: number | null; onLook: (id: number | null) => void; onGo: (id: number) => void }) {
  const many = (bench.steps[0]?.of ?? 1) > 1;
  return (
    <ol className={classes.steps} aria-label="All steps">
      {bench.steps.map((line) => {
        const here = line.id === bench.step?.id;
        return (
          <li key={line.id} aria-current={here ? "step" : undefined}>
            <span className="mono">{line.number}</span>
            <span className={classes.line}>
              {line.area !== "" && <strong>{line.area}: </strong>}
              {line.text}
            </span>
            <span className="soft">{[here && "at hand", many ? `${line.done} of ${line.of} sections` : (!here || line.state !== "to do") && line.state].filter(Boolean).join(", ")}</span>
            <button type="button" className="button" disabled={here} aria-pressed={looked === line.id} onClick={() => onLook(looked === line.id ? null : line.id)} aria-label={`Look at step ${line.number}`}>
              Look
            </button>
            <button type="button" className="button" disabled={here} onClick={() => onGo(line.id)} aria-label={`Go to step ${line.number}`}>
              Go there
            </button>
          </li>
        );
      })}
    </ol>
  );
}
