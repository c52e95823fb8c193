import { useState } from "react";
import { useKeys } from "../../shared/keys";
import type { Context } from "../../shared/queries/collection";
import { Failed } from "../../shared/ui/Problem";
import { useSteps, type Reference, type Steps } from "./queries";
import classes from "./page.module.css";

const SIDES = ["left", "top", "right", "bottom"] as const;

/** Steps that are kept beside the picture; each is a change of its own, with its undo. */
export function StepsBar({ reference, drawing }: { reference: Reference; drawing: Context["drawing"] }) {
  const save = useSteps(reference);
  const kept = reference.steps;
  const now: Steps = { neutral: kept.neutral, quarter_turns: kept.quarter_turns, mirrored: kept.mirrored, crop: kept.crop, contrast: kept.contrast };
  const [crop, setCrop] = useState(kept.crop);
  const [contrast, setContrast] = useState(kept.contrast);
  const lay = (part: Partial<Steps>) => save.mutate({ ...now, ...part });
  const asItCame = () => save.mutate({ neutral: null, quarter_turns: 0, mirrored: false, crop: [0, 0, 1, 1], contrast: 1 });
  useKeys({ c: asItCame });
  return (
    <details className={classes.steps}>
      <summary>Adjust: turn, mirror, crop, contrast, what should be neutral</summary>
      <div className="row">
        <button type="button" className="button" onClick={() => lay({ quarter_turns: (now.quarter_turns ?? 0) === 3 ? 0 : (now.quarter_turns ?? 0) + 1, crop: [0, 0, 1, 1] })}>
          Turn by a quarter
        </button>
        <button type="button" className="button" aria-pressed={now.mirrored} onClick={() => lay({ mirrored: now.mirrored !== true })}>
          Mirror
        </button>
        <label className={classes.slider}>
          Contrast
          <input type="range" min={0.5} max={2} step={0.05} value={contrast} onChange={(event) => setContrast(Number(event.currentTarget.value))}
            onPointerUp={() => contrast !== now.contrast && lay({ contrast })} onBlur={() => contrast !== now.contrast && lay({ contrast })} />
          <span className="mono">{contrast.toFixed(2)}</span>
        </label>
        <Neutral reference={reference} onLay={lay} laid={now.neutral != null} />
        <button type="button" className="button" onClick={asItCame}>
          As it came <kbd>c</kbd>
        </button>
      </div>
      <form
        className="row"
        onSubmit={(event) => {
          event.preventDefault();
          lay({ crop });
        }}
      >
        {SIDES.map((side, i) => (
          <label key={side} className={classes.slider}>
            {side}
            <input className="field" type="number" min={0} max={100} step={1} value={Math.round(100 * (crop[i] ?? 0))}
              onChange={(event) => setCrop(crop.map((value, j) => (j === i ? Number(event.currentTarget.value) / 100 : value)))} />
            %
          </label>
        ))}
        <button type="submit" className="button">
          Crop
        </button>
        {drawing !== null && (
          <button type="button" className="button" onClick={() => lay({ crop: toShape(reference, drawing) })} title="As much of the picture's middle as has the drawing's shape">
            Crop to {drawing.width_mm} × {drawing.height_mm}
          </button>
        )}
      </form>
      {save.error !== null && <Failed error={save.error} />}
    </details>
  );
}

/** The largest crop of the drawing's shape in the middle of what is shown now; left, top, right, bottom. */
function toShape({ steps, shown_width, shown_height }: Reference, drawing: NonNullable<Context["drawing"]>): number[] {
  const [left = 0, top = 0, right = 1, bottom = 1] = steps.crop;
  const wanted = drawing.width_mm / drawing.height_mm;
  const now = shown_width / Math.max(shown_height, 1);
  const [wide, high] = [Math.min(1, wanted / now), Math.min(1, now / wanted)];
  const [x, y] = [(right - left) * (1 - wide), (bottom - top) * (1 - high)];
  return [left + x / 2, top + y / 2, right - x / 2, bottom - y / 2];
}

/** The chosen colour is said to be a grey; its light is taken away from the whole picture. */
function Neutral({ reference, onLay, laid }: { reference: Reference; onLay: (part: Partial<Steps>) => void; laid: boolean }) {
  const [number, setNumber] = useState("");
  if (laid) {
    return (
      <button type="button" className="button" onClick={() => onLay({ neutral: null })}>
        Light as it came
      </button>
    );
  }
  if (reference.picks.length === 0) return <span className="soft">Pick a grey to say what should be neutral.</span>;
  return (
    <span className="row">
      <label className={classes.slider} title="Warm light may be wanted; nothing is made neutral unasked">
        Neutral is colour
        <select className="field" value={number} onChange={(event) => setNumber(event.currentTarget.value)}>
          <option value="">choose</option>
          {reference.picks.map((pick) => (
            <option key={pick.id} value={pick.number}>
              {pick.number}, {pick.described}
            </option>
          ))}
        </select>
      </label>
      <button type="button" className="button" disabled={number === ""} onClick={() => {
          const pick = reference.picks.find((one) => String(one.number) === number);
          if (pick !== undefined) onLay({ neutral: pick.came });
        }}>
        Make it neutral
      </button>
    </span>
  );
}
