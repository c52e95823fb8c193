import { useFitting, useSureness, type Sureness } from "./queries";
import classes from "./SurenessBar.module.css";

/** How sure all pencils at hand are on a paper by now: it shrinks and grows while marks are read. */
export function SurenessBar({ paper, name }: { paper: number; name: string }) {
  const { data: now } = useSureness(paper);
  const { data: fitting } = useFitting();
  if (now === undefined || now.marks === 0) return null;
  return <Bar now={now} name={name} working={fitting?.working === true || !now.ready} />;
}

const STEPS = ["within 2 ΔE", "within 3.5", "within 5", "farther"] as const;

function Bar({ now, name, working }: { now: Sureness; name: string; working: boolean }) {
  const parts: [string, number][] = [["measured", now.measured], ...STEPS.map((step, i): [string, number] => [step, now.within[i] ?? 0]), ["unknown", now.unknown]];
  return (
    <section className={classes.sureness} aria-label={`How sure your pencils are on ${name}`}>
      <p className={classes.line} role="status">
        <strong className={classes.share}>{Math.round(100 * now.good_share)} %</strong>{" "}
        <span>of your pencils' marks on {name} are measured, or predicted within 3.5 ΔE</span>
        {now.median_band !== null && <span className={classes.median}>middle of the predicted: ± {now.median_band.toFixed(1)}</span>}
      </p>
      <div className={classes.bar} aria-hidden="true">
        {parts.map(([part, count], i) => (
          <span key={part} data-part={i} style={{ flexGrow: count }} title={`${part}: ${count}`} />
        ))}
        <span className={classes.goal} title="Good enough: three of five" />
      </div>
      <ul className={classes.legend}>
        {parts.map(([part, count], i) => (
          <li key={part}>
            <span className={classes.key} data-part={i} />
            {part} <span className="mono">{count}</span>
          </li>
        ))}
      </ul>
      <p>
        <strong>{working ? "Working the newest swatches in …" : advice(now)}</strong>
      </p>
    </section>
  );
}

/** When to stop, in words. */
function advice(now: Sureness): string {
  if (now.unknown === now.marks) return "Nothing can be predicted yet: swatch your first pencils on any paper.";
  if (now.enough) return "Good enough: three of five marks are known that well. Swatch now only what you will use here.";
  if (now.anchors === 0) return "A guess so far: nothing is swatched on this paper.";
  return "Go on: at three of five it is good enough.";
}
