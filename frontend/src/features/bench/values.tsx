import { useEffect, useMemo, useState } from "react";
import { Link } from "react-router";
import { useKeys } from "../../shared/keys";
import { Failed } from "../../shared/ui/Problem";
import { WithDrawing } from "../../shared/ui/WithDrawing";
import { asProblem } from "../../api/errors";
import { useReferences } from "../reference/queries";
import { Corners, CORNERS } from "./Corners";
import { useCheck, useChecks, useRemoveCheck, type Check, type Corner } from "./valueQueries";
import classes from "./values.module.css";

/** Where the drawing should still go darker or lighter. */
export function ValuesPage() {
  return <WithDrawing>{(drawing) => <Values key={drawing.id} drawing={drawing.id} name={drawing.name} />}</WithDrawing>;
}

function Values({ drawing, name }: { drawing: number; name: string }) {
  const { data: references, error } = useReferences(drawing, false);
  const { data: checks } = useChecks(drawing);
  const [chosen, choose] = useState<number | null>(null);
  const [shown, show] = useState<number | null>(null);
  const ready = references?.references.filter((one) => one.state === "ready") ?? [];
  const reference = ready.find((one) => one.id === chosen) ?? ready[0];
  const check = checks?.checks.find((one) => one.id === shown) ?? checks?.checks[0];
  return (
    <div className="station-page" tabIndex={-1}>
      <p>
        <Link to="/bench">← The bench of {name}</Link>
      </p>
      <h1>Values: where should it still go darker or lighter?</h1>
      {error !== null && <Failed error={error} />}
      {references !== undefined && reference === undefined && (
        <p>
          A photo of the drawing is laid on the picture that it is drawn from, and this drawing has none yet: <Link to="/reference">add it first</Link>.
        </p>
      )}
      {reference !== undefined && (
        <>
          {ready.length > 1 && (
            <label>
              Laid on{" "}
              <select className="field" value={reference.id} onChange={(event) => choose(Number(event.currentTarget.value))}>
                {ready.map((one) => (
                  <option key={one.id} value={one.id}>
                    {one.name}
                  </option>
                ))}
              </select>
            </label>
          )}
          <Take drawing={drawing} reference={reference.id} onChecked={show} />
        </>
      )}
      {check !== undefined && <Told check={check} />}
      {checks !== undefined && checks.checks.length > 1 && <Past checks={checks.checks} shown={check?.id ?? 0} onShow={show} />}
    </div>
  );
}

/** A photo, and the four corners of the picture in it. */
function Take({ drawing, reference, onChecked }: { drawing: number; reference: number; onChecked: (id: number) => void }) {
  const [file, setFile] = useState<File | null>(null);
  const [corners, setCorners] = useState<readonly Corner[]>([]);
  const check = useCheck(drawing);
  const source = useMemo(() => (file === null ? "" : URL.createObjectURL(file)), [file]);
  useEffect(() => () => URL.revokeObjectURL(source), [source]);
  const run = (overrule: boolean) => {
    if (file === null || corners.length !== CORNERS.length) return;
    check.mutate({ file, reference, corners, overrule }, {
      onSuccess: ({ id }) => {
        setFile(null);
        setCorners([]);
        onChecked(id);
      },
    });
  };
  // Said by the core only where the artist knows better than an order of values.
  const unlike = check.error !== null && asProblem(check.error).detail.endsWith("go on all the same.");
  return (
    <section aria-label="A photo of the drawing" className={classes.take}>
      <label className="button" data-strong={file === null || undefined}>
        {file === null ? "Photo of the drawing, with a margin of bare paper" : "Another photo"}
        <input type="file" accept="image/*" className="visually-hidden" onChange={(event) => {
            setFile(event.currentTarget.files?.[0] ?? null);
            setCorners([]);
            check.reset();
          }} />
      </label>
      {file !== null && (
        <>
          <p role="status">
            {check.isPending
              ? "Laid on the picture …"
              : corners.length < CORNERS.length
                ? `Tap the ${CORNERS[corners.length] ?? ""} corner of the picture (not of the paper).`
                : "Move the corners with the arrow keys where they are off; then check."}
          </p>
          <Corners source={source} corners={corners} onChange={setCorners} />
          <div className="row">
            <button type="button" className="button" data-strong disabled={corners.length !== CORNERS.length || check.isPending} onClick={() => run(false)}>
              Check the values
            </button>
            <button type="button" className="button" disabled={corners.length === 0} onClick={() => setCorners([])}>
              Tap anew
            </button>
            {unlike && (
              <button type="button" className="button" onClick={() => run(true)}>
                It is the same picture: go on all the same
              </button>
            )}
          </div>
        </>
      )}
      {check.error !== null && <Failed error={check.error} />}
    </section>
  );
}

/** Drawing and reference beside each other, what is wrong outlined, the largest first. */
function Told({ check }: { check: Check }) {
  const [grey, setGrey] = useState(true);
  const [squint, setSquint] = useState(false);
  const remove = useRemoveCheck();
  useKeys({ v: () => setGrey(!grey), q: () => setSquint(!squint) });
  const look = `grey=${String(grey)}${squint ? "&squint=0.012" : ""}`;
  const when = new Date(check.made_at).toLocaleString([], { dateStyle: "medium", timeStyle: "short" });
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
        <button type="button" className="button" onClick={() => remove.mutate(check.id)}>
          Remove this check
        </button>
      </div>
      <div className={classes.pair}>
        <figure>
          <div className={classes.over}>
            <img src={`/api/checks/${check.id}/picture?${look}`} alt="The drawing, flat and in even light" data-hued="photo" />
            <Outlines check={check} />
          </div>
          <figcaption>the drawing</figcaption>
        </figure>
        <figure>
          <img src={`/api/references/${check.reference_id}/picture?side=900&${look}`} alt="The picture that it is drawn from" data-hued="photo" />
          <figcaption>the picture</figcaption>
        </figure>
      </div>
      {check.regions.length === 0 ? (
        <p>
          <strong>Nothing leaves the common order of values</strong> by more than this photo can tell.
        </p>
      ) : (
        <ol className={classes.regions} aria-label="What should change">
          {check.regions.map((region, i) => (
            <li key={i}>
              <strong>
                {region.way === "darker" ? "↓ darker" : "↑ lighter"} by {Math.abs(region.off).toFixed(0)} L*
              </strong>
              , about {region.steps.toFixed(1)} value steps, {whereIn(region.x, region.y)}, {(100 * region.share).toFixed(0)} % of the picture
            </li>
          ))}
        </ol>
      )}
      <p className="soft">
        Your darkest is about value {check.darkest.toFixed(1)} as this photo shows it, the picture’s {check.darkest_asked.toFixed(1)}. What you pressed together as a
        whole, and what the camera made of it, is taken out first: only what leaves the common order is told.
        {check.not_drawn > 0.01 && ` Not drawn yet: ${(100 * check.not_drawn).toFixed(0)} %.`}
        {check.cannot_tell > 0.01 && ` Not to be told from this photo: ${(100 * check.cannot_tell).toFixed(0)} %.`}
      </p>
      {remove.error !== null && <Failed error={remove.error} />}
    </section>
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

function Past({ checks, shown, onShow }: { checks: readonly Check[]; shown: number; onShow: (id: number) => void }) {
  return (
    <section aria-label="Checks before">
      <h2>All checks</h2>
      <ul className={classes.past}>
        {checks.map((one) => (
          <li key={one.id}>
            <button type="button" className="button" aria-pressed={one.id === shown} onClick={() => onShow(one.id)}>
              {new Date(one.made_at).toLocaleString([], { dateStyle: "medium", timeStyle: "short" })}: {one.regions.length} to change
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** Where a place lies, in words. */
function whereIn(x: number, y: number): string {
  const down = y < 0.36 ? "upper" : y > 0.64 ? "lower" : "middle";
  const across = x < 0.36 ? "left" : x > 0.64 ? "right" : "middle";
  return down === across ? "in the middle" : `${down} ${across}`;
}
