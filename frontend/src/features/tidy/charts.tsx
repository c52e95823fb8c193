import { useRef, useState } from "react";
import { Link } from "react-router";
import { useCursor } from "../../shared/cursor";
import { Loading } from "../../shared/ui/Loading";
import { Failed } from "../../shared/ui/Problem";
import { useSetting, type Paper } from "../../shared/queries/collection";
import { useColour, useShelves, type Shelf } from "../../shared/queries/shelves";
import type { Closest } from "../../shared/vocabulary";
import { ChartForm } from "./ChartForm";
import { useOwned, useRemoveColour, useRemoveRange } from "./queries";
import { RangeForm } from "./RangeForm";
import { SetsForm } from "./SetsForm";
import { Shelves, type ShelvesHandle } from "./Shelves";
import classes from "./charts.module.css";

/** Charts as they are printed: each range as its marks, with a gap where nothing is known, corrected beside it. */
export function ChartsPage() {
  const setting = useSetting();
  const { data, error } = useShelves(setting?.paper.id ?? 0);
  if (error !== null && setting !== undefined) return <Failed error={error} />;
  if (data === undefined || setting === undefined) return <Loading what="the charts" />;
  if (data.shelves.length === 0) return <NoRange />;
  return <Charts shelves={data.shelves} paper={setting.paper} closest={setting.closest} />;
}

type Part = "colour" | "another colour" | "range" | "sets" | "another range";

function Charts({ shelves, paper, closest }: { shelves: readonly Shelf[]; paper: Paper; closest: Closest }) {
  const [at, moveCursor] = useCursor("colour");
  const [chosen, setChosen] = useState<number | null>(null);
  const [part, setPart] = useState<Part>("colour");
  const grid = useRef<ShelvesHandle>(null);
  const panel = useRef<HTMLElement>(null);
  const holding = shelves.find((s) => s.colours.some((c) => c.id === at));
  const shelf = shelves.find((s) => s.range_id === chosen) ?? holding ?? shelves[0];
  const owned = useOwned();
  if (shelf === undefined) return null;
  const cursor = shelf.colours.find((c) => c.id === at)?.id ?? shelf.colours[0]?.id ?? null;
  const shown: Part = part === "colour" && cursor === null ? "another colour" : part;
  const gaps = shelf.colours.filter((c) => c.card.mark.trust === "none").length;
  const section = {
    key: `range-${shelf.range_id}`,
    title: `${shelf.maker} ${shelf.name}`.trim(),
    feel: shelf.feel,
    count: `${shelf.colours.length} colours${gaps > 0 ? `, ${gaps === 1 ? "1 gap" : `${gaps} gaps`}` : ""}`,
    colours: shelf.colours,
    shelf,
  };
  const toggle = () => {
    const colour = shelf.colours.find((c) => c.id === cursor);
    if (colour !== undefined) owned.mutate({ colour_ids: [colour.id], owned: colour.owning === "not owned" });
  };
  return (
    <div className={classes.page}>
      <div className={classes.bench}>
        <header className={classes.head}>
          <p>
            <Link to="/tidy">Tidy</Link> /
          </p>
          <h1>Charts</h1>
          <Link className="button" to="/tidy/write">
            Write from a list
          </Link>
          <div className={classes.ranges} role="group" aria-label="Ranges">
            {shelves.map((s) => (
              <button
                key={s.range_id}
                type="button"
                className="button"
                aria-pressed={s === shelf}
                data-strong={s === shelf || undefined}
                onClick={() => {
                  setChosen(s.range_id);
                  setPart("colour");
                }}
              >
                {`${s.maker} ${s.name}`.trim()} ({s.colours.length})
              </button>
            ))}
          </div>
        </header>
        {owned.error !== null && <Failed error={owned.error} />}
        <Shelves
          ref={grid}
          sections={[section]}
          paper={paper.name}
          cursor={cursor}
          selected={NONE}
          onMove={(id) => {
            moveCursor(id);
            setPart("colour");
          }}
          onToggle={toggle}
          onOpen={() => panel.current?.querySelector("input")?.focus()}
          onSelectAll={() => undefined}
          onClear={() => undefined}
        />
      </div>
      <aside ref={panel} className={`side-panel ${classes.panel ?? ""}`} aria-label="Corrected here">
        <div className={classes.parts} role="group" aria-label="What is written">
          {PARTS.map(([name, words]) => (
            <button key={name} type="button" className="button" aria-pressed={name === shown} data-strong={name === shown || undefined} onClick={() => setPart(name)}>
              {words}
            </button>
          ))}
        </div>
        {shown === "colour" && cursor !== null && (
          <Colour id={cursor} shelf={shelf} paper={paper.id} closest={closest} onDone={() => grid.current?.focus()} />
        )}
        {shown === "another colour" && (
          <>
            <h2>Another colour of {shelf.name}</h2>
            <ChartForm range={shelf.range_id} onDone={() => undefined} />
          </>
        )}
        {shown === "range" && <Range key={shelf.range_id} shelf={shelf} onGone={() => setChosen(null)} />}
        {shown === "sets" && (
          <>
            <h2>Sets of {shelf.name}</h2>
            <SetsForm key={shelf.range_id} shelf={shelf} />
          </>
        )}
        {shown === "another range" && (
          <>
            <h2>A new range</h2>
            <RangeForm
              onDone={(id) => {
                setChosen(id);
                setPart("another colour");
              }}
            />
          </>
        )}
      </aside>
    </div>
  );
}

const NONE: ReadonlySet<number> = new Set();
const PARTS: readonly (readonly [Part, string])[] = [
  ["colour", "This colour"],
  ["another colour", "Another colour"],
  ["range", "The range"],
  ["sets", "Its sets"],
  ["another range", "A new range"],
];

/** What the chart says of the colour at the cursor, corrected in its place. */
function Colour({ id, shelf, paper, closest, onDone }: { id: number; shelf: Shelf; paper: number; closest: Closest; onDone: () => void }) {
  const { data: page, error } = useColour(id, paper, closest);
  const [saved, setSaved] = useState(0);
  const remove = useRemoveColour(onDone);
  if (error !== null) return <Failed error={error} />;
  if (page?.colour.id !== id) return <Loading what="the colour" />;
  return (
    <>
      <h2>
        {shelf.name} {page.colour.code} {page.colour.name}
      </h2>
      <ChartForm
        key={`${id} ${saved}`}
        range={shelf.range_id}
        page={page}
        onDone={() => {
          setSaved(saved + 1);
          onDone();
        }}
      />
      <p className="row">
        <Link className="button" to={`/tidy/colours/${id}`}>
          All about it
        </Link>
        <button type="button" className="button" onClick={() => remove.mutate(id)}>
          Remove from the chart
        </button>
      </p>
      {remove.error !== null && <Failed error={remove.error} />}
    </>
  );
}

function Range({ shelf, onGone }: { shelf: Shelf; onGone: () => void }) {
  const [saved, setSaved] = useState(0);
  const remove = useRemoveRange();
  return (
    <>
      <h2>
        {shelf.maker} {shelf.name}
      </h2>
      <RangeForm key={saved} shelf={shelf} onDone={() => setSaved(saved + 1)} />
      <p>
        <button type="button" className="button" onClick={() => remove.mutate(shelf.range_id, { onSuccess: onGone })}>
          Remove this range
        </button>
      </p>
      {remove.error !== null && <Failed error={remove.error} />}
    </>
  );
}

function NoRange() {
  return (
    <div className="station-page">
      <header>
        <p>
          <Link to="/tidy">Tidy</Link> /
        </p>
        <h1>Charts</h1>
        <p>No range is here yet. A whole chart is quickest from a list of its colours, wherever that stands.</p>
        <p className="row">
          <Link className="button" data-strong to="/tidy/write">
            Write from a list
          </Link>
          <Link className="button" to="/tidy/catalogue">
            Bring in a catalogue (CSV)
          </Link>
        </p>
      </header>
      <section>
        <h2>A range without colours, to begin with</h2>
        <RangeForm onDone={() => undefined} />
      </section>
    </div>
  );
}
