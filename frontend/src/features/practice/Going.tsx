import { useState } from "react";
import { Choice } from "../../shared/ui/Field";
import { LinePlot } from "../../shared/ui/LinePlot";
import { Failed } from "../../shared/ui/Problem";
import { sentence } from "../../shared/words";
import { useProgress, type DrillProgress } from "./queries";
import { drillWords } from "./words";
import { shortDay } from "../../shared/dates";
import classes from "./page.module.css";

/** How it goes: where the eye is biased, how sharp it is by kind and hue, and over the weeks. */
export function Going() {
  const { data, error } = useProgress();
  if (error !== null) return <Failed error={error} />;
  if (data === undefined || data.drills.length === 0) return null;
  return (
    <>
      {data.biases.length > 0 && (
        <section aria-label="What your eye gets wrong" className="section">
          <h2>What your eye gets wrong</h2>
          <ul className={classes.biases}>
            {data.biases.map((bias, i) => (
              <li key={i}>
                {sentence(bias.words)} <span className="soft">(± {bias.within.toFixed(1)}, from {bias.answers} answers)</span>
              </li>
            ))}
          </ul>
        </section>
      )}
      <section aria-label="How sharp your eye is" className="section">
        <h2>How sharp your eye is</h2>
        <p className="soft">The difference of which you see three in four, from your last 200 answers; nine of ten within the range. Smaller is sharper.</p>
        <Sharpness drills={data.drills} />
      </section>
      <Trend drills={data.drills} />
    </>
  );
}

function Sharpness({ drills }: { drills: readonly DrillProgress[] }) {
  return (
    <div className={classes.scroll} tabIndex={0} role="group" aria-label="Sharpness by kind">
      <table className="table">
        <thead>
          <tr>
            <th scope="col">kind</th>
            <th scope="col">answers</th>
            <th scope="col">right</th>
            <th scope="col">you see</th>
            <th scope="col">hardest for you</th>
          </tr>
        </thead>
        <tbody>
          {drills.map((one) => {
            const weakest = one.by_region[0];
            return (
              <tr key={one.drill}>
                <th scope="row">{drillWords(one.drill)}</th>
                <td className="mono">{one.answers}</td>
                <td className="mono">{Math.round((100 * one.right) / one.answers)} %</td>
                <td>{one.threshold === null ? <span className="soft">{one.unit === "" ? "–" : "after 12 answers"}</span> : `${one.threshold.level.toFixed(1)} ${one.unit} (${one.threshold.low.toFixed(1)} to ${one.threshold.high.toFixed(1)})`}</td>
                <td>{weakest === undefined ? "–" : `${weakest.region}: ${weakest.threshold.level.toFixed(1)} (${weakest.threshold.low.toFixed(1)} to ${weakest.threshold.high.toFixed(1)})`}</td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </div>
  );
}

function Trend({ drills }: { drills: readonly DrillProgress[] }) {
  const [drill, setDrill] = useState("");
  const plotted = drills.filter((one) => one.weeks.length > 1);
  const one = plotted.find((each) => each.drill === drill) ?? plotted[0];
  if (one === undefined) return null;
  const day = (begins: string) => Math.round(new Date(`${begins}T12:00Z`).getTime() / 86_400_000);
  return (
    <section aria-label="Over the weeks" className="section">
      <h2>Over the weeks</h2>
      <div className="form">
        <Choice label="Kind" value={one.drill} options={plotted.map((each) => [each.drill, drillWords(each.drill)] as const)} onChange={setDrill} />
      </div>
      <LinePlot
        label={`Sharpness over the weeks: ${drillWords(one.drill)}`}
        lines={[{ name: drillWords(one.drill), points: one.weeks.map((week) => ({ x: day(week.begins), y: week.threshold.level, low: week.threshold.low, high: week.threshold.high })) }]}
        xName="week of"
        yName={one.unit}
        xWords={(x) => shortDay(x * 86_400_000)}
      />
    </section>
  );
}
