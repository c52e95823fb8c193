import { useState } from "react";
import { momentWords } from "../../shared/dates";
import { useKeys } from "../../shared/keys";
import { Failed } from "../../shared/ui/Problem";
import { Ladders } from "./Ladders";
import { useValueActs, type Check } from "./valueQueries";
import classes from "./values.module.css";

/** Drawing and picture beside each other, or one through the other; what is wrong outlined, the largest first. */
export function CheckTold({ check, drawing }: { check: Check; drawing: number }) {
  const [grey, setGrey] = useState(true);
  const [squint, setSquint] = useState(false);
  const [through, setThrough] = useState<number | null>(null);
  const { remove } = useValueActs(drawing);
  const fade = () => setThrough(through === null ? 50 : null);
  useKeys({ v: () => setGrey(!grey), q: () => setSquint(!squint), x: fade });
  const look = `grey=${String(grey)}${squint ? "&squint=0.012" : ""}`;
  const when = momentWords(check.made_at);
  const drawn = <img src={`/api/checks/${check.id}/picture?${look}`} alt="The drawing, flat and in even light" data-hued="photo" />;
  const asked = (style: { opacity: number } | undefined) => (
    <img src={`/api/references/${check.reference_id}/picture?side=900&${look}`} alt="The picture that it is drawn from" data-hued="photo" style={style} />
  );
  return (
    <section aria-label="What the photo tells">
      <h2>
        {check.name}, {when}
      </h2>
      {check.mended !== null && check.before > 0 && (
        <p>
          Since the check before: <strong>{check.mended}</strong> of {check.before} mended.
        </p>
      )}
      {check.words.map((words) => (
        <p key={words} className="caution">
          {words}
        </p>
      ))}
      <div className="row">
        <button type="button" className="button" aria-pressed={grey} onClick={() => setGrey(!grey)}>
          As values <kbd>v</kbd>
        </button>
        <button type="button" className="button" aria-pressed={squint} onClick={() => setSquint(!squint)}>
          Squint <kbd>q</kbd>
        </button>
        <button type="button" className="button" aria-pressed={through !== null} onClick={fade}>
          One through the other <kbd>x</kbd>
        </button>
        {through !== null && (
          <label className={classes.through}>
            drawing
            <input type="range" min={0} max={100} step={5} value={through} aria-label="How much of the picture shows through" onChange={(event) => setThrough(Number(event.currentTarget.value))} />
            picture
          </label>
        )}
        <button type="button" className="button" onClick={() => remove.mutate(check.id)}>
          Remove this check
        </button>
      </div>
      <div className={classes.pair} data-one={through !== null || undefined}>
        <figure>
          <div className={classes.over}>
            {drawn}
            {through !== null && <div className={classes.upon}>{asked({ opacity: through / 100 })}</div>}
            <Outlines check={check} />
          </div>
          <figcaption>{through === null ? "the drawing" : "the picture laid on the drawing"}</figcaption>
        </figure>
        {through === null && (
          <figure>
            {asked(undefined)}
            <figcaption>the picture</figcaption>
          </figure>
        )}
      </div>
      <Regions check={check} />
      <p className="soft">
        What you pressed together as a whole, and what the camera made of it, is taken out first: only what leaves the common order is told. Where you are within what
        a photo can tell, nothing is said.
        {check.not_drawn > 0.01 && ` Not drawn yet: ${(100 * check.not_drawn).toFixed(0)} %.`}
        {check.cannot_tell > 0.01 && ` Not to be told from this photo: ${(100 * check.cannot_tell).toFixed(0)} %.`}
      </p>
      <Ladders check={check} />
      {remove.error !== null && <Failed error={remove.error} />}
    </section>
  );
}

function Regions({ check }: { check: Check }) {
  if (check.regions.length === 0) {
    return (
      <p>
        <strong>Nothing leaves the common order of values</strong> by more than this photo can tell.
      </p>
    );
  }
  return (
    <ol className={classes.regions} aria-label="What should change">
      {check.regions.map((region, i) => (
        <li key={i}>
          <strong>
            {region.way === "darker" ? "↓ darker" : "↑ lighter"} by {Math.abs(region.off).toFixed(0)} L*
          </strong>
          , about {region.steps.toFixed(1)} value steps, {whereIn(region.x, region.y)}, {region.share < 0.01 ? "under 1" : (100 * region.share).toFixed(0)} % of the picture
        </li>
      ))}
    </ol>
  );
}

function Outlines({ check }: { check: Check }) {
  return (
    <svg className={classes.outlines} viewBox="0 0 1000 1000" preserveAspectRatio="none" aria-hidden="true">
      {check.regions.map((region, i) => {
        const points = region.outline.map((point) => point.map((v) => (1000 * v).toFixed(0)).join(",")).join(" ");
        return (
          <g key={i}>
            <polygon points={points} className={classes.halo} />
            <polygon points={points} className={classes.line} />
          </g>
        );
      })}
      {check.regions.map((region, i) => (
        <foreignObject key={i} x={1000 * region.x - 60} y={1000 * region.y - 30} width={120} height={60}>
          <span className={classes.arrow}>
            {region.way === "darker" ? "↓" : "↑"}
            {Math.abs(region.off).toFixed(0)}
          </span>
        </foreignObject>
      ))}
    </svg>
  );
}

/** Where a place lies, in words. */
function whereIn(x: number, y: number): string {
  const down = y < 0.36 ? "upper" : y > 0.64 ? "lower" : "middle";
  const across = x < 0.36 ? "left" : x > 0.64 ? "right" : "middle";
  return down === across ? "in the middle" : `${down} ${across}`;
}
