import { Link } from "react-router";
import { useKeys } from "../../shared/keys";
import type { AtBench, Bench, Clock } from "./queries";
import classes from "./page.module.css";

/** Hours and minutes, as a clock has them. */
export function asClock(minutes: number): string {
  const whole = Math.floor(minutes);
  return `${Math.floor(whole / 60)}:${String(whole % 60).padStart(2, "0")}`;
}

/** How long this sitting goes on, whether the clock runs, and its end. */
export function ClockLine({ bench, clock, acts }: { bench: Bench; clock: Clock | null; acts: AtBench }) {
  const turn = () => clock !== null && (clock.running ? acts.pause.mutate() : acts.resume.mutate());
  const giveBack = () => clock !== null && clock.not_counted > 0 && acts.giveBack.mutate();
  useKeys({ z: turn, Z: giveBack });
  const before = bench.sittings > 0 && (
    <span className="soft">
      {bench.sittings} {bench.sittings === 1 ? "sitting" : "sittings"}, {asClock(bench.minutes)} h in all
    </span>
  );
  return (
    <div className={classes.clock} role="group" aria-label="The sitting" data-clock>
      {before}
      {clock !== null && (
        <>
          <button type="button" className="button" onClick={turn} title={clock.running ? "Let it stand still" : "Let it run"}>
            <span className="visually-hidden">Clock </span>
            <span className={`mono ${classes.time ?? ""}`}>{asClock(clock.seconds / 60)}</span> {clock.running ? "runs" : "stands still"} <kbd>z</kbd>
          </button>
          {clock.not_counted > 0 && (
            <button type="button" className="button" onClick={giveBack} title="Nothing happened for ten minutes, so the clock stood still before them">
              Count {Math.round(clock.not_counted / 60)} quiet minutes <kbd>Z</kbd>
            </button>
          )}
        </>
      )}
      <Link className="button" to="/bench/values">
        Values
      </Link>
      {bench.log_count > 0 && (
        <Link className="button" to="/bench/done">
          What was done
        </Link>
      )}
      {clock !== null && (
        <button type="button" className="button" onClick={() => acts.end.mutate()}>
          End the sitting
        </button>
      )}
    </div>
  );
}
