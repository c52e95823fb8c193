import { use, type CSSProperties } from "react";
import type { Schemas } from "../../api/client";
import { behind, PaperGround } from "./surround";
import classes from "./Comparison.module.css";

type Patch = Schemas["PatchOut"];
type Difference = Schemas["DifferenceOut"];

/** Two colours edge to edge, with no gap, so that the eye sees the difference itself. */
export function Comparison({ wanted, offered, height = 132, words = ["asked", "offered"] }: {
  wanted: Patch;
  offered: Patch;
  height?: number;
  words?: readonly [string, string];
}) {
  return (
    <figure className={classes.figure}>
      <EdgeToEdge patches={[wanted, offered]} height={height} />
      <figcaption className={classes.caption}>
        <span>{words[0]}</span>
        <span>{words[1]}</span>
      </figcaption>
      <ScreenNote patches={[wanted, offered]} />
    </figure>
  );
}

/** Patches that share their edges, on the surround at hand; a missing one is left out in grey. */
export function EdgeToEdge({ patches, height }: { patches: readonly (Patch | null)[]; height: number }) {
  const paper = use(PaperGround);
  return (
    <div className={`surround ${classes.surround ?? ""}`} data-hued="surround" style={behind(paper)}>
      <div className={classes.pair} style={{ height }}>
        {patches.map((patch, i) =>
          patch === null ? <span key={i} className={classes.unknown}>not measured</span> : <PatchView key={i} patch={patch} />,
        )}
      </div>
    </div>
  );
}

/** What has to be said beside every large comparison. */
export function ScreenNote({ patches }: { patches: readonly (Patch | null)[] }) {
  return (
    <p className={classes.note}>
      {patches.some((patch) => patch?.on_screen === false) && "The notched colour is beyond what this screen can show. "}
      Screens differ; the paper decides.
    </p>
  );
}

/** One plain patch; a corner notch where the screen cannot show it. */
export function PatchView({ patch }: { patch: Patch }) {
  const colours = { "--hue": patch.hex, "--hue-grey": patch.grey } as CSSProperties;
  return (
    <span className={`hued ${classes.patch ?? ""}`} data-hued="patch" style={colours}>
      {!patch.on_screen && <span className={classes.notch} />}
    </span>
  );
}

/** The words of a difference: the largest first, never "perfect"; plusMinus: how far it may be off, where it may. */
export function inWords(difference: Difference, plusMinus: number | null = null): string {
  if (difference.words.length > 0) return difference.words.join(", ");
  return plusMinus !== null ? "as near as can be told" : "no difference to be seen";
}

/** How far apart two colours will be: measured as it is, predicted as it is to be expected, its doubts counted. */
export function Apart({ difference, expected, plusMinus, under }: {
  difference: Difference;
  expected: number;
  plusMinus: number | null;
  under?: string | undefined;
}) {
  if (plusMinus === null) return <>{difference.delta_e.toFixed(1)}</>;
  return (
    <span title={`Most likely ${difference.delta_e.toFixed(1)}, ± ${plusMinus.toFixed(1)} nine times of ten: with all that is in doubt, ${expected.toFixed(1)} is to be expected`}>
      {under === undefined && "probably "}
      {expected.toFixed(1)}
      {under !== undefined && <span className={under}> probably</span>}
    </span>
  );
}

/** ΔE and its signed parts. */
export function Figures({ difference, rankedBy }: { difference: Difference; rankedBy?: number }) {
  const plain = difference.delta_e;
  const other = rankedBy !== undefined && Math.abs(rankedBy - plain) > 0.005;
  return (
    <div className={classes.measures}>
      <dl className={classes.figures}>
        <Figure value={plain.toFixed(1)} name="ΔE00" hint="Colour difference CIEDE2000; about 1 can just be seen edge to edge" />
        <Figure value={signed(difference.delta_L)} name="ΔL*" hint="Lighter (+) or darker (−)" />
        <Figure value={signed(difference.delta_C)} name="ΔC*" hint="More vivid (+) or duller (−)" />
        <Figure value={signed(difference.delta_H)} name="ΔH*" hint="How far the hue turns, and which way" />
        {other && <Figure value={rankedBy.toFixed(1)} name="ranked by" hint="ΔE00 weighted by what closest means now" />}
      </dl>
    </div>
  );
}

function Figure({ value, name, hint }: { value: string; name: string; hint: string }) {
  return (
    <div title={hint}>
      <dt>{name}</dt>
      <dd>{value}</dd>
    </div>
  );
}

/** A figure with its sign, and a real minus. */
export function signed(value: number): string {
  const text = Math.abs(value).toFixed(1);
  if (text === "0.0") return "0.0";
  return `${value < 0 ? "−" : "+"}${text}`;
}
