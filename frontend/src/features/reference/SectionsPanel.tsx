import { useState, type KeyboardEvent } from "react";
import { Failed } from "../../shared/ui/Problem";
import type { Reference } from "./queries";
import { useDescribeSection, usePart, useSectionOrder, useSections, type Section } from "./sectionsQueries";
import classes from "./SectionsPanel.module.css";

const NEXT = { "to do": "base", base: "building", building: "blended", blended: "done", done: "to do" } as const;

/** The sections of the drawing, worked one after another: their names, their order, how far each is. */
export function SectionsPanel({ reference }: { reference: Reference }) {
  const drawing = reference.drawing_id;
  const { data, error } = useSections(drawing);
  const part = usePart(drawing);
  const order = useSectionOrder(drawing);
  if (error !== null) return <Failed error={error} />;
  if (data === undefined) return null;
  const { sections } = data;
  const move = (at: number, by: number) => {
    const ids = sections.map((section) => section.id);
    const [one] = ids.splice(at, 1);
    if (one === undefined) return;
    ids.splice(at + by, 0, one);
    order.mutate(ids);
  };
  const done = sections.filter((section) => section.state === "done").length;
  return (
    <section className={classes.panel} aria-label="Sections">
      <p>
        {sections.length === 0
          ? "Small areas that are worked one after another, each until it is done: a hand rests and a layer dries over about 29 cm²."
          : `${sections.length} sections, ${done} done. ${data.words}`}
      </p>
      <div className="row">
        <button type="button" className="button" data-strong={sections.length === 0 || undefined} disabled={part.isPending} onClick={() => part.mutate({ kind: "grid" })}>
          Equal fields
        </button>
        <button type="button" className="button" disabled={part.isPending || reference.card.state !== "ready"} onClick={() => part.mutate({ kind: "shapes", reference_id: reference.card.id })}>
          By this picture’s shapes
        </button>
        {sections.length > 0 && (
          <button type="button" className="button" disabled={part.isPending} onClick={() => part.mutate(null)}>
            No sections
          </button>
        )}
        <span role="status">{part.isPending && "Parting …"}</span>
      </div>
      {[part, order].map((one, i) => one.error !== null && <Failed key={i} error={one.error} />)}
      <ol className={classes.list} onKeyDown={among}>
        {sections.map((section, i) => (
          <Row key={`${section.id} ${section.revision}`} section={section} first={i === 0} last={i === sections.length - 1} onMove={(by) => move(i, by)} />
        ))}
      </ol>
    </section>
  );
}

function Row({ section, first, last, onMove }: { section: Section; first: boolean; last: boolean; onMove: (by: number) => void }) {
  const describe = useDescribeSection();
  const [name, setName] = useState(section.name);
  const is = (change: { name?: string; state?: Section["state"] }) =>
    describe.mutate({ id: section.id, revision: section.revision, name: section.name, state: section.state, ...change });
  const keep = () => name.trim() !== "" && name !== section.name && is({ name });
  return (
    <li className={classes.row}>
      <button type="button" className={classes.state} data-state={section.state} data-row onClick={() => is({ state: NEXT[section.state] })} title={`Next: ${NEXT[section.state]}`}>
        <span className="visually-hidden">Section {section.name}, </span>
        {section.state}
      </button>
      <input className="field" aria-label={`Name of section ${section.name}`} value={name} maxLength={60} onChange={(event) => setName(event.currentTarget.value)} onBlur={keep}
        onKeyDown={(event) => event.key === "Enter" && keep()} />
      <span className={classes.area}>{section.cm2.toFixed(0)} cm²</span>
      <button type="button" className="button" disabled={first} aria-label={`Section ${section.name} earlier`} onClick={() => onMove(-1)}>
        ↑
      </button>
      <button type="button" className="button" disabled={last} aria-label={`Section ${section.name} later`} onClick={() => onMove(1)}>
        ↓
      </button>
      {describe.error !== null && <Failed error={describe.error} />}
    </li>
  );
}

/** Up and down go among the states of the rows. */
function among(event: KeyboardEvent<HTMLElement>) {
  const rows = [...event.currentTarget.querySelectorAll<HTMLElement>("[data-row]")];
  const at = rows.findIndex((row) => row === document.activeElement);
  const next = { ArrowDown: rows[at + 1], ArrowUp: rows[at - 1] }[event.key];
  if (at < 0 || next === undefined) return;
  next.focus();
  event.preventDefault();
}
