import type { Schemas } from "../../api/client";
import { Failed } from "../../shared/ui/Problem";
import { useReach, type Reference } from "./queries";
import classes from "./page.module.css";

type End = Schemas["EndOut"];

/** What comes first: whether the paper reaches the picture's darkest and lightest at all. */
export function Reach({ reference, paper }: { reference: Reference; paper: number }) {
  const { data, error } = useReach(reference, paper);
  if (error !== null) return <Failed error={error} />;
  if (data === undefined) return null;
  if (!data.ready) {
    return (
      <p role="status" className={classes.reach}>
        Working out how far this paper reaches{data.total > 0 ? `: ${data.done} of ${data.total}` : ""} …
      </p>
    );
  }
  if (data.darkest === null || data.lightest === null) return null;
  return (
    <section className={classes.reach} aria-label="Whether this paper reaches it">
      {data.darkest.reached && data.lightest.reached && <p>Its darkest and its lightest are within reach of this paper.</p>}
      {!data.darkest.reached && <EndLine word="darkest" end={data.darkest} />}
      {!data.lightest.reached && <EndLine word="lightest" end={data.lightest} />}
    </section>
  );
}

function EndLine({ word, end }: { word: "darkest" | "lightest"; end: End }) {
  return (
    <p className={classes.short}>
      <strong>
        The {word} here is value {end.picture.toFixed(1)}; on this paper with what you own {end.paper.toFixed(1)} is the limit:
      </strong>{" "}
      {end.said}.
      {end.ways.length > 0
        ? ` Further: ${end.ways.join("; ")}.`
        : " Nothing that you own goes further on any of your papers; lay the picture's range into what this one reaches."}
    </p>
  );
}
