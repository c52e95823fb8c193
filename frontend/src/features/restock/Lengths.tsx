import { useState } from "react";
import { Failed } from "../../shared/ui/Problem";
import { Named } from "./Parts";
import { useRestockActs, type Lasts, type RunningOut } from "./queries";
import classes from "./page.module.css";

/** Pencils in use, each with a line to type its length in, and how long it lasts. */
export function Lengths({ pencils, stub }: { pencils: readonly RunningOut[]; stub: number }) {
  return (
    <div className={classes.scroll} tabIndex={0} role="group" aria-label="Pencils in use">
      <table className="table">
        <thead>
          <tr>
            <th scope="col">pencil</th>
            <th scope="col">used so far</th>
            <th scope="col">length</th>
            <th scope="col" title={`Until it is ${stub} mm, nine of ten between the two`}>
              lasts
            </th>
          </tr>
        </thead>
        <tbody>
          {pencils.map((one) => (
            <tr key={one.pencil_id}>
              <th scope="row">
                <Named colour={one.colour} />
              </th>
              <td className="mono">{one.hours < 0.05 ? "–" : `${one.hours.toFixed(1)} h`}</td>
              <td>
                <Length key={`${one.pencil_id} ${one.length_mm ?? ""}`} one={one} />
              </td>
              <td>{howLong(one)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

function Length({ one }: { one: RunningOut }) {
  const [text, write] = useState(one.length_mm === null ? "" : String(one.length_mm));
  const { measure } = useRestockActs();
  const set = () => text !== "" && Number(text) !== one.length_mm && measure.mutate({ pencil: one.pencil_id, length: Math.round(Number(text)) });
  return (
    <form className="row" onSubmit={(event) => {
        event.preventDefault();
        set();
      }}>
      <input className={`field ${classes.length ?? ""}`} type="number" min={0} max={400} aria-label={`Length of ${one.colour.range} ${one.colour.code} in mm`} value={text} onChange={(event) => write(event.currentTarget.value)} onBlur={set} />
      mm
      {measure.error !== null && <Failed error={measure.error} />}
    </form>
  );
}

function howLong(one: RunningOut): string {
  const guess = one.wear.is_guess ? " (a guess: type its length again after some hours)" : "";
  if (one.lasts === null) return "type its length first";
  if (one.lasts.use === 0) return "a stub";
  const time = `${range(one.sittings ?? one.lasts)} ${one.sittings === null ? "h" : "sittings"}${guess}`;
  return one.layers === null ? time : `${time}, ${range(one.layers)} layers over 100 cm²`;
}

function range({ low, high }: Lasts): string {
  return `${low.toFixed(low < 10 ? 1 : 0)} to ${high.toFixed(high < 10 ? 1 : 0)}`;
}
