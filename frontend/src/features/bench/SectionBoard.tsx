import type { AtBench, Bench } from "./queries";
import classes from "./SectionBoard.module.css";

const NEXT = { "to do": "base", base: "building", building: "blended", blended: "done", done: "to do" } as const;
/** In words, as the map and the list say it. */
const SAID = { "to do": "not begun", base: "base", building: "building", blended: "blended", done: "done" } as const;

/** The sections as a small map of the drawing: how far each is by hatching and words, never by a hue. */
export function SectionBoard({ bench, acts }: { bench: Bench; acts: AtBench }) {
  const { board, sections } = bench;
  const wet = new Map(bench.dryings.map((one) => [one.section_id, one]));
  const done = sections.filter((one) => one.state === "done").length;
  const go = (id: number) => acts.place.mutate({ section_id: id });
  const at = sections.find((one) => one.id === bench.section_id);
  return (
    <section aria-label="Sections">
      <h2>
        Sections <span className="soft">{done} of {sections.length} done</span>
      </h2>
      {board !== null && (
        <svg className={classes.map} viewBox={`0 0 ${board.columns} ${board.rows}`} role="img" aria-label="Map of the sections; the list below says the same">
          <Hatching />
          {board.labels.map((label, i) => {
            const section = sections.find((one) => one.label === label);
            if (section === undefined) return null;
            const [x, y] = [i % board.columns, Math.floor(i / board.columns)];
            const other = (dx: number, dy: number) => {
              const [u, v] = [x + dx, y + dy];
              return u < 0 || v < 0 || u >= board.columns || v >= board.rows || board.labels[v * board.columns + u] !== label;
            };
            return (
              <g key={i} onClick={() => go(section.id)}>
                <rect x={x} y={y} width={1.02} height={1.02} fill={wet.has(section.id) ? "url(#hatch-wet)" : `url(#hatch-${section.state.replace(" ", "-")})`} />
                {other(1, 0) && <line x1={x + 1} x2={x + 1} y1={y} y2={y + 1} className={classes.border} />}
                {other(0, 1) && <line x1={x} x2={x + 1} y1={y + 1} y2={y + 1} className={classes.border} />}
                {section.id === bench.section_id && (other(-1, 0) || other(1, 0) || other(0, -1) || other(0, 1)) && <rect x={x + 0.2} y={y + 0.2} width={0.6} height={0.6} className={classes.at} />}
              </g>
            );
          })}
        </svg>
      )}
      {at !== undefined && (
        <p className={classes.now}>
          <label>
            At{" "}
            <select className="field" value={at.id} onChange={(event) => go(Number(event.currentTarget.value))}>
              {sections.map((one) => (
                <option key={one.id} value={one.id}>
                  {one.name}: {wet.has(one.id) ? "drying" : SAID[one.state]}
                  {one.minutes >= 1 ? `, ${Math.round(one.minutes)} min` : ""}
                </option>
              ))}
            </select>
          </label>
          <button type="button" className="button" title={`Next: ${SAID[NEXT[at.state]]}`} onClick={() => acts.section.mutate({ id: at.id, revision: at.revision, name: at.name, state: NEXT[at.state] })}>
            {SAID[at.state]} → {SAID[NEXT[at.state]]}
          </button>
        </p>
      )}
    </section>
  );
}

function Hatching() {
  return (
    <defs>
      <pattern id="hatch-to-do" width="1" height="1" patternUnits="userSpaceOnUse">
        <rect width="1" height="1" className={classes.bare} />
      </pattern>
      <pattern id="hatch-base" width="1.2" height="1.2" patternUnits="userSpaceOnUse">
        <rect width="1.2" height="1.2" className={classes.bare} />
        <path d="M0 1.200 1.200 0" className={classes.stroke} />
      </pattern>
      <pattern id="hatch-building" width="0.6" height="0.6" patternUnits="userSpaceOnUse">
        <rect width="0.6" height="0.6" className={classes.bare} />
        <path d="M0 .6 .6 0" className={classes.stroke} />
      </pattern>
      <pattern id="hatch-blended" width="0.6" height="0.6" patternUnits="userSpaceOnUse">
        <rect width="0.6" height="0.6" className={classes.bare} />
        <path d="M0 .6 .6 0M0 0 .6 .6" className={classes.stroke} />
      </pattern>
      <pattern id="hatch-done" width="1" height="1" patternUnits="userSpaceOnUse">
        <rect width="1" height="1" className={classes.full} />
      </pattern>
      <pattern id="hatch-wet" width="0.8" height="0.8" patternUnits="userSpaceOnUse">
        <rect width="0.8" height="0.8" className={classes.bare} />
        <circle cx="0.4" cy="0.4" r="0.2" className={classes.full} />
      </pattern>
    </defs>
  );
}
