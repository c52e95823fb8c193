import { useSessionStorage } from "@mantine/hooks";
import { Link } from "react-router";
import { ColourName } from "../../shared/ui/ColourName";
import { EdgeToEdge, Figures, inWords, ScreenNote } from "../../shared/ui/Comparison";
import { UnderLamps } from "../../shared/ui/Lamps";
import { Loading } from "../../shared/ui/Loading";
import { Failed } from "../../shared/ui/Problem";
import { ColourFinder } from "../../shared/ui/Finder";
import { useCollection, type Context } from "../../shared/queries/collection";
import { useTray } from "../tray/queries";
import { useBeside, type Beside } from "./queries";
import classes from "./beside.module.css";
import { MARK_PRESSURES } from "../../shared/vocabulary";

const MOST = 6;

/** Two to six marks edge to edge, across papers and pressures; each is compared with the first. */
export function BesidePage() {
  const { data: context } = useCollection();
  if (context === undefined) return <Loading what="the page" />;
  return <Chosen context={context} />;
}

function Chosen({ context }: { context: Context }) {
  const [marks, setMarks] = useSessionStorage<Beside[]>({ key: "swatches-beside", defaultValue: [], getInitialValueInEffect: false });
  const { data, error } = useBeside(marks);
  const { data: tray } = useTray(context.paper_id);
  const laid = marks.length >= 2 && data?.laid.length === marks.length ? data.laid : [];
  const add = (colour_id: number) => {
    if (marks.length < MOST) setMarks([...marks, { colour_id, paper_id: context.paper_id, pressure: "heavy" }]);
  };
  const change = (i: number, part: Partial<Beside>) => setMarks(marks.map((m, j) => (j === i ? { ...m, ...part } : m)));
  return (
    <div className="station-page">
      <header>
        <p>
          <Link to="/swatches">Swatches</Link> /
        </p>
        <h1>Marks side by side</h1>
        <p>Two to six measured marks share their edges, whatever their paper and pressure. Each is compared with the first.</p>
      </header>
      <div className={classes.add}>
        <ColourFinder label="Add a colour" placeholder="Add a colour by code or name" onPick={(colour) => add(colour.id)} />
        {(tray?.pulled.length ?? 0) >= 2 && (
          <button
            type="button"
            className="button"
            onClick={() =>
              setMarks(
                tray?.pulled.slice(0, MOST).map(({ card }) => ({ colour_id: card.colour.id, paper_id: context.paper_id, pressure: "heavy" })) ?? [],
              )
            }
          >
            Take the tray
          </button>
        )}
        {marks.length > 0 && (
          <button type="button" className="button" onClick={() => setMarks([])}>
            Clear
          </button>
        )}
        <span className="soft">
          {marks.length} of {MOST}
        </span>
      </div>
      {error !== null && <Failed error={error} />}
      {marks.length === 0 && <p>Add two colours to begin. The tray can be taken as it is.</p>}
      {marks.length === 1 && <p>One more, and they are laid edge to edge.</p>}
      {laid.length > 0 && (
        <figure className={classes.figure}>
          <EdgeToEdge patches={laid.map((l) => l.patch ?? null)} height={200} />
          <ScreenNote patches={laid.map((l) => l.patch ?? null)} />
        </figure>
      )}
      <div className={classes.columns} style={{ gridTemplateColumns: `repeat(${Math.max(marks.length, 1)}, minmax(0, 1fr))` }}>
        {marks.map((mark, i) => {
          const one = laid[i];
          return (
            <section key={i} className={classes.column} aria-label={one ? `${one.colour.code} ${one.colour.name}` : `Mark ${i + 1}`}>
              {one && (
                <h2>
                  <ColourName colour={one.colour} range />
                </h2>
              )}
              <select
                className="field"
                aria-label={`Paper of mark ${i + 1}`}
                value={mark.paper_id}
                onChange={(event) => change(i, { paper_id: Number(event.currentTarget.value) })}
              >
                {context.papers.map((p) => (
                  <option key={p.id} value={p.id}>
                    {p.name}
                  </option>
                ))}
              </select>
              <select
                className="field"
                aria-label={`Pressure of mark ${i + 1}`}
                value={mark.pressure}
                onChange={(event) => change(i, { pressure: MARK_PRESSURES.find((p) => p === event.currentTarget.value) ?? "heavy" })}
              >
                {MARK_PRESSURES.map((p) => (
                  <option key={p}>{p}</option>
                ))}
              </select>
              {one && !one.patch && <p>Not measured there, nor predicted.</p>}
              {one?.patch && <p className="soft">{one.band === null ? "measured" : `${one.trust === "measured" ? "measured by photo" : "predicted"} ± ${one.band.toFixed(1)} ΔE`}</p>}
              {one?.difference && (
                <>
                  <p>{inWords(one.difference)} than the first</p>
                  <Figures difference={one.difference} />
                  <UnderLamps lamps={one.lamps} />
                </>
              )}
              <button type="button" className="button" onClick={() => setMarks(marks.filter((_, j) => j !== i))}>
                Take away
              </button>
            </section>
          );
        })}
      </div>
    </div>
  );
}
