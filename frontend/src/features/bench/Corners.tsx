import type { KeyboardEvent, MouseEvent } from "react";
import type { Corner } from "./valueQueries";
import classes from "./values.module.css";

export const CORNERS = ["top left", "top right", "bottom right", "bottom left"] as const;
// An arrow key moves a corner by this share of the photo, with Shift by ten times that.
const STEP = 0.001;

/** The photo with the corners that were tapped; each is moved by arrow keys, or tapped anew. */
export function Corners({ source, corners, most, onChange }: { source: string; corners: readonly Corner[]; most: number; onChange: (corners: readonly Corner[]) => void }) {
  const tap = (event: MouseEvent<HTMLDivElement>) => {
    if (corners.length >= most) return;
    const box = event.currentTarget.getBoundingClientRect();
    onChange([...corners, [(event.clientX - box.left) / box.width, (event.clientY - box.top) / box.height]]);
  };
  const move = (event: KeyboardEvent, at: number) => {
    const by = event.shiftKey ? 10 * STEP : STEP;
    const way = { ArrowLeft: [-by, 0], ArrowRight: [by, 0], ArrowUp: [0, -by], ArrowDown: [0, by] }[event.key];
    if (way === undefined) return;
    event.preventDefault();
    onChange(corners.map(([x, y], i) => (i === at ? [inside(x + (way[0] ?? 0)), inside(y + (way[1] ?? 0))] : [x, y])));
  };
  // Without a pointer: the corners of the photo itself to begin with, then the arrows.
  const places: Corner[] = [[0.1, 0.1], [0.9, 0.1], [0.9, 0.9], [0.1, 0.9], [0.05, 0.5]];
  const begin = () => onChange([...corners, ...places.slice(corners.length, most)]);
  return (
    <div className={classes.corners}>
      {/* What a pointer taps; the keyboard has the button below and the corners themselves. */}
      <div className={classes.photo} onClick={tap}>
        <img src={source} alt="The photo of the drawing" data-hued="photo" draggable={false} />
        {corners.map(([x, y], i) => (
          <button key={i} type="button" className={classes.corner} style={{ left: `${100 * x}%`, top: `${100 * y}%` }} aria-label={`${i + 1}: the ${CORNERS[i] ?? "bare"} ${i < CORNERS.length ? "corner" : "spot"}; arrow keys move it`}
            onKeyDown={(event) => move(event, i)} onClick={(event) => event.stopPropagation()}>
            {i + 1}
          </button>
        ))}
      </div>
      {corners.length < most && (
        <button type="button" className="button" onClick={begin}>
          Set them by keys
        </button>
      )}
    </div>
  );
}

function inside(value: number): number {
  return Math.min(Math.max(value, 0), 1);
}
