import { useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { ColourName } from "../../shared/ui/ColourName";
import { Loading } from "../../shared/ui/Loading";
import { Mark } from "../../shared/ui/Mark";
import { Failed } from "../../shared/ui/Problem";
import { Choice } from "../../shared/ui/Field";
import { useBegin } from "./queries";
import { useFirst, type FirstSwatches } from "../predicting/queries";
import { SurenessBar } from "../predicting/SurenessBar";
import classes from "./first.module.css";

const COUNTS = ["4", "6", "8", "10", "12"].map((n) => [n, `${n} pencils`] as const);

/** A new paper: which pencils to swatch first and why, and how sure all the others are by now. */
export function FirstPage() {
  const id = Number(useParams()["id"]);
  const [count, setCount] = useState("8");
  const { data: first, error } = useFirst(id, Number(count));
  if (error !== null) return <Failed error={error} />;
  if (first?.paper_id !== id) return <Loading what="the advice" />;
  return (
    <div className="station-page">
      <header>
        <p>
          <Link to="/swatches">Swatches</Link> / <Link to="/swatches/papers">Your papers</Link> /
        </p>
        <h1>First on {first.paper_name}</h1>
        <p>
          {first.is_home
            ? "Most of your swatches are on this paper: pencils are known by it, and other papers lean on it."
            : "A few pencils, swatched light, medium and heavy, tell how this paper takes all the others."}
        </p>
      </header>
      <SurenessBar paper={id} name={first.paper_name} />
      {first.advised.length === 0 ? (
        <p>No pencil at hand has a known colour: tick what you own, and swatch it on any paper or give it a chart value.</p>
      ) : (
        <Advice first={first} count={count} onCount={setCount} />
      )}
    </div>
  );
}

function Advice({ first, count, onCount }: { first: FirstSwatches; count: string; onCount: (count: string) => void }) {
  const begin = useBegin();
  const navigate = useNavigate();
  const left = first.advised.filter((one) => !one.done);
  const start = (paper_id: number, colour_ids: number[], pressures: ("light" | "medium" | "heavy")[], over_black: boolean) =>
    begin.mutate(
      {
        paper_id, which: "chosen", pressures, over_black, only_missing: true, set_id: null, range_id: null, colour_ids,
        layers: 1, finish: "dry", burnisher_id: null, average_of: 1,
      },
      { onSuccess: ({ id }) => void navigate(`/swatches/${id}`) },
    );
  const begins = () => start(first.paper_id, left.map((one) => one.colour.id), ["light", "medium", "heavy"], false);
  const bar = first.over_black;
  return (
    <section>
      <div className="row">
        <h2>Swatch these first</h2>
        <span className={classes.many}>
          <Choice label="How many" value={count} options={COUNTS} onChange={onCount} />
        </span>
      </div>
      <ol className={classes.list}>
        {first.advised.map((one) => (
          <li key={one.colour.id} className={classes.one} data-done={one.done || undefined}>
            <span className={classes.mark}>
              <Mark mark={one.mark} seed={one.colour.id} height={30} />
            </span>
            <Link to={`/tidy/colours/${one.colour.id}`}>
              <ColourName colour={one.colour} range />
            </Link>
            <span className="soft">{one.why}</span>
            <strong>{one.done && "✓ read"}</strong>
          </li>
        ))}
      </ol>
      <div className="row">
        <button type="button" className="button" data-strong disabled={left.length === 0 || begin.isPending} onClick={begins}>
          {left.length === 0 ? "All of these are read" : `Begin with ${left.length === first.advised.length ? "these" : `the other ${left.length}`}`}
        </button>
        {left.length > 0 && (
          <span className="soft">{3 * left.length} marks: each light, medium and heavy. The list can be left and taken up any day.</span>
        )}
      </div>
      {bar && (
        <div className={classes.bar}>
          <p>
            <strong>On a ground this dark, cover decides.</strong> A heavy mark over a printed black bar on {bar.home_name} would
            bring heavy marks of {bar.colour_ids.length === 1 ? "one of these" : `${bar.colour_ids.length} of these`} from ±{" "}
            {bar.band_now.toFixed(1)} to ± {bar.band_then.toFixed(1)} ΔE; it helps each pencil that you try so.
          </p>
          <button type="button" className="button" disabled={begin.isPending} onClick={() => start(bar.home_id, bar.colour_ids, [], true)}>
            Begin with them over the black bar
          </button>
        </div>
      )}
      {begin.error !== null && <Failed error={begin.error} />}
    </section>
  );
}
