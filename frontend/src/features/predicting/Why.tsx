import { useState } from "react";
import { Dialog } from "../../shared/ui/Dialog";
import { PatchView } from "../../shared/ui/Comparison";
import { Loading } from "../../shared/ui/Loading";
import type { MarkData } from "../../shared/ui/Mark";
import { Failed } from "../../shared/ui/Problem";
import { Segments } from "../../shared/ui/Segments";
import { useWhy, type Pressure, type Why } from "./queries";
import classes from "./Why.module.css";
import { useKeys } from "../../shared/keys";
import { counted } from "../../shared/words";

const PRESSURES: readonly Pressure[] = ["light", "medium", "heavy"];

/** The pressures at which a mark is predicted. */
function predictedAt(mark: MarkData): Pressure[] {
  return PRESSURES.filter((p) => mark.zones.some((z) => z.pressure === p && z.trust === "predicted"));
}

/** The way from a predicted colour to its reasons; nothing where nothing is predicted. `keyed` gives it the key w. */
export function WhyButton({ colour, paper, mark, first, keyed = false }: {
  colour: number;
  paper: number;
  mark: MarkData;
  first?: string;
  keyed?: boolean;
}) {
  const at = predictedAt(mark);
  const [opened, setOpened] = useState(false);
  const [chosen, setChosen] = useState<Pressure | null>(null);
  useKeys(keyed && at.length > 0 ? { w: () => setOpened(true) } : {});
  const pressure = at.find((p) => p === chosen) ?? at.find((p) => p === first) ?? at.at(-1);
  if (pressure === undefined) return null;
  return (
    <>
      <button type="button" className={`button ${classes.ask ?? ""}`} onClick={() => setOpened(true)}>
        Why do you think so? {keyed && <kbd>w</kbd>}
      </button>
      <Dialog opened={opened} onClose={() => setOpened(false)} title="Why do you think so?" size="lg">
        {at.length > 1 && <Segments label="Which mark" options={at} value={pressure} onChange={setChosen} />}
        {opened && <Reasons colour={colour} paper={paper} pressure={pressure} />}
      </Dialog>
    </>
  );
}

function Reasons({ colour, paper, pressure }: { colour: number; paper: number; pressure: Pressure }) {
  const { data: why, error } = useWhy(colour, paper, pressure, true);
  if (error !== null) return <Failed error={error} />;
  if (why === undefined) return <Loading what="the reasons" lines={4} />;
  return (
    <div className={classes.why} aria-live="polite">
      <div className={classes.head}>
        <span className={classes.patch}>
          <PatchView patch={why.looks} />
        </span>
        <div>
          <p className={classes.name}>
            <code>
              {why.colour.range} {why.colour.code}
            </code>{" "}
            {why.colour.name}, {why.pressure} on {why.paper_name}
          </p>
          <p>
            <strong>
              Predicted, ± {why.explanation.band.toFixed(1)} <abbr title="Colour difference CIEDE2000: below 1 nobody sees it side by side, above 5 it is another colour">ΔE</abbr>
            </strong>
            : nine of ten such marks lie within that.
          </p>
        </div>
      </div>
      <section>
        <h3>From what</h3>
        {why.by_chart ? (
          <p>
            From its chart value alone: it was never swatched. How charts relate to heavy marks on {why.home_name} is read
            from the {why.charts_from} colours of yours that have both.
          </p>
        ) : (
          <ul className={classes.from}>
            {why.rests_on.map((one) => (
              <li key={one.words}>
                <span className={classes.dot}>
                  <PatchView patch={one.looks} />
                </span>
                {one.words}
              </li>
            ))}
          </ul>
        )}
        <p>{onPaper(why)}</p>
      </section>
      <section>
        <h3>Through which steps</h3>
        <ol className={classes.steps}>
          <li>
            <span>Wax on the tooth</span>
            <span>
              covers {Math.round(100 * why.explanation.coverage)} % of the paper; the core is {softness(why.explanation.softness)}
            </span>
          </li>
          <li>
            <span>Light in the wax</span>
            <span title={`Scattering ${why.explanation.scattering.toFixed(2)} a load (Kubelka–Munk)`}>
              it is taken to be {COVER[why.explanation.cover] ?? why.explanation.cover}, so{" "}
              {why.explanation.cover === "opaque" ? "the paper hardly tints it" : "the paper shines through it"}
            </span>
          </li>
          <li>
            <span>This paper</span>
            <span title={`Grain ${why.explanation.grain.toFixed(2)} times the usual`}>{tooth(why)}</span>
          </li>
          {why.explanation.carried > 0.3 && (
            <li>
              <span>Its own way</span>
              <span>moved by {why.explanation.carried.toFixed(1)} ΔE, as its own swatch differed from the model</span>
            </li>
          )}
        </ol>
      </section>
      <section>
        <h3>Where the doubt comes from</h3>
        <Doubt why={why} />
      </section>
      <section>
        <h3>What would make it surer</h3>
        <ul className={classes.surer}>
          <li>
            <span>swatch this very mark on {why.paper_name}</span>
            <span className="mono">measured</span>
          </li>
          {why.surer.map((way) => (
            <li key={way.words}>
              <span>{way.words}</span>
              <span className="mono">± {way.band.toFixed(1)}</span>
            </li>
          ))}
        </ul>
      </section>
    </div>
  );
}

const COVER: Record<string, string> = { transparent: "transparent", semi: "semi-opaque", opaque: "opaque" };

function onPaper(why: Why): string {
  if (why.guess) return `Nothing is swatched on ${why.paper_name} yet, so how it takes pencil is a guess from its tooth.`;
  if (why.paper_name === why.home_name) return `${why.home_name} is the paper that holds most of your swatches.`;
  return `How ${why.paper_name} takes pencil is read from ${counted(why.anchors, "swatch", "swatches")} on it.`;
}

function softness(value: number): string {
  if (value > 1.12) return "softer than most";
  return value < 0.89 ? "harder than most" : "of ordinary softness";
}

function tooth(why: Why): string {
  if (why.guess) return "its tooth is taken as an ordinary one of its kind";
  const grain = why.explanation.grain;
  if (grain > 1.08) return "it leaves more gaps than others of its tooth";
  return grain < 0.93 ? "it leaves fewer gaps than others of its tooth" : "it has the grain of its tooth";
}

const PARTS = [
  ["pencil", "what this pencil is made of"],
  ["paper", "how this paper takes pencil"],
  ["hand", "your hand, from one making to the next"],
  ["rest", "the reading, and what no model tells"],
] as const;

function Doubt({ why }: { why: Why }) {
  return (
    <dl className={classes.doubt}>
      {PARTS.map(([part, words]) => (
        <div key={part}>
          <dt>
            {words}
            {part === "hand" && <span className="soft"> (its load varies by about {Math.round(100 * why.explanation.hand)} %)</span>}
          </dt>
          <dd>
            <span className={classes.share} aria-hidden="true">
              <span style={{ width: `${100 * why.explanation.doubt[part]}%` }} />
            </span>
            <span className="mono">{Math.round(100 * why.explanation.doubt[part])} %</span>
          </dd>
        </div>
      ))}
    </dl>
  );
}
