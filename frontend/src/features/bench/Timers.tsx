import { useEffect, useState } from "react";
import type { AtBench, Bench, Drying } from "./queries";
import classes from "./page.module.css";

/** What dries, and how long that usually takes here. */
export function Timers({ bench, acts }: { bench: Bench; acts: AtBench }) {
  const dryings = bench.dryings;
  useEveryMinute(dryings.length > 0);
  if (dryings.length === 0) return null;
  const nameOf = (id: number) => bench.sections.find((one) => one.id === id)?.name ?? "";
  return (
    <section aria-label="What dries">
      <h2>Drying</h2>
      <ul className={classes.timers}>
        {dryings.map((one) => (
          <li key={one.id}>
            <p>
              <strong className={classes.time}>{since(one)}</strong> min since {one.wetting}
              {nameOf(one.section_id) !== "" && ` on ${nameOf(one.section_id)}`}
            </p>
            <p className="soft">
              {one.answers === 0 ? "Not known here yet: somewhere from" : "Usually"} {minutes(one.low)} to {minutes(one.high)} min here
              {one.answers > 0 && `, from ${one.answers} ${one.answers === 1 ? "time" : "times"}`}. {one.likely > 0.5 ? "More likely dry than not: touch a corner." : ""}
            </p>
            <div className="row">
              <button type="button" className="button" data-strong onClick={() => acts.dry.mutate({ id: one.id, state: "dry" })}>
                {one.section_id === bench.section_id && <kbd>y</kbd>} It is dry
              </button>
              <button type="button" className="button" onClick={() => acts.dry.mutate({ id: one.id, state: "dry before" })} title="Nothing but an upper bound is learned from it">
                It was before
              </button>
              <button type="button" className="button" onClick={() => acts.dry.mutate({ id: one.id, state: "dropped" })} title="Dry, and nothing is learned from it: a hair dryer, a mistaken tap">
                Do not count it
              </button>
            </div>
          </li>
        ))}
      </ul>
      {bench.turn === null && bench.turn_minutes !== null && bench.sections.length > 0 && (
        <p role="status">All that is left is wet. The first may be dry in about {minutes(bench.turn_minutes)} min.</p>
      )}
    </section>
  );
}

function minutes(value: number): string {
  return value < 10 ? value.toFixed(value < 3 ? 1 : 0) : value.toFixed(0);
}

/** Minutes since it was wetted, by this machine's own clock where that is not behind. */
function since(one: Drying): string {
  const begun = new Date(one.begun_at).getTime();
  return Math.max(Math.floor((Date.now() - begun) / 60_000), 0).toString();
}

function useEveryMinute(wanted: boolean) {
  const [, turn] = useState(0);
  useEffect(() => {
    if (!wanted) return;
    const timer = window.setInterval(() => turn((n) => n + 1), 10_000);
    return () => window.clearInterval(timer);
  }, [wanted]);
}
