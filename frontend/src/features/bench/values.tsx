import { useState } from "react";
import { Link } from "react-router";
import { momentWords } from "../../shared/dates";
import { Failed } from "../../shared/ui/Problem";
import { WithDrawing } from "../../shared/ui/WithDrawing";
import { useReferences } from "../reference/queries";
import { CheckTold } from "./CheckTold";
import { TakePhoto } from "./TakePhoto";
import { useChecks, type Check } from "./valueQueries";
import classes from "./values.module.css";

/** Where the drawing should still go darker or lighter. */
export function ValuesPage() {
  return (
    <WithDrawing>
      {(drawing, context) => <Values key={drawing.id} drawing={drawing.id} name={drawing.name} demo={context.demo ?? false} />}
    </WithDrawing>
  );
}

function Values({ drawing, name, demo }: { drawing: number; name: string; demo: boolean }) {
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
      {references !== undefined && reference === undefined && <NoPicture opening={references.references.some((one) => one.state === "waiting" || one.state === "opening")} />}
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
          <TakePhoto drawing={drawing} reference={reference.id} demo={demo} onChecked={show} />
        </>
      )}
      {check !== undefined && <CheckTold key={check.id} check={check} drawing={drawing} />}
      {checks !== undefined && checks.checks.length > 1 && <Past checks={checks.checks} shown={check?.id ?? 0} onShow={show} />}
    </div>
  );
}

function NoPicture({ opening }: { opening: boolean }) {
  if (opening) return <p role="status">The picture that this drawing is drawn from is being opened …</p>;
  return (
    <p>
      A photo of the drawing is laid on the picture that it is drawn from, and this drawing has none yet: <Link to="/reference">add it first</Link>.
    </p>
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
              {momentWords(one.made_at)}: {one.regions.length} to change
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}
