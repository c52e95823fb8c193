import { useState } from "react";
import { Link } from "react-router";
import { Choice, Field } from "../../shared/ui/Field";
import { Loading } from "../../shared/ui/Loading";
import { Failed, TooLate } from "../../shared/ui/Problem";
import { useSetting } from "../../shared/queries/collection";
import { ChartForm } from "./ChartForm";
import { useAddSet, useRemoveRange, useRemoveSet, useSaveRange } from "./queries";
import classes from "./charts.module.css";
import { useShelves, type Shelf } from "../../shared/queries/shelves";

/** Ranges, colours and sets by hand. */
export function ChartsPage() {
  const setting = useSetting();
  const { data, error } = useShelves(setting?.paper.id ?? 0);
  const [chosen, setChosen] = useState<number | null>(null);
  if (error !== null && setting !== undefined) return <Failed error={error} />;
  if (data === undefined) return <Loading what="the charts" />;
  const shelf = data.shelves.find((s) => s.range_id === chosen) ?? data.shelves[0];
  return (
    <div className="station-page">
      <header>
        <p>
          <Link to="/tidy">Tidy</Link> /
        </p>
        <h1>Charts and sets</h1>
        <p>
          A whole chart is quickest as a <Link to="/tidy/catalogue">CSV file</Link>; single things are written here. A colour's
          own page corrects its chart.
        </p>
      </header>
      <div className={classes.ranges} role="group" aria-label="Ranges">
        {data.shelves.map((s) => (
          <button
            key={s.range_id}
            type="button"
            className="button"
            aria-pressed={s === shelf}
            data-strong={s === shelf || undefined}
            onClick={() => setChosen(s.range_id)}
          >
            {s.maker} {s.name} ({s.colours.length})
          </button>
        ))}
      </div>
      {shelf && <RangeParts key={shelf.range_id} shelf={shelf} />}
      <section className={classes.section}>
        <h2>A new range</h2>
        <RangeForm key={data.shelves.length} onDone={setChosen} />
      </section>
    </div>
  );
}

function RangeParts({ shelf }: { shelf: Shelf }) {
  const removeRange = useRemoveRange();
  const removeSet = useRemoveSet();
  const [saved, setSaved] = useState(0);
  return (
    <>
      <section className={classes.section}>
        <h2>
          {shelf.maker} {shelf.name}
        </h2>
        <RangeForm key={saved} shelf={shelf} onDone={() => setSaved(saved + 1)} />
        <p>
          <button type="button" className="button" onClick={() => removeRange.mutate(shelf.range_id)}>
            Remove this range
          </button>
        </p>
        {removeRange.error !== null && <Failed error={removeRange.error} />}
      </section>
      <section className={classes.section}>
        <h2>A new colour of {shelf.name}</h2>
        <ChartForm range={shelf.range_id} onDone={() => undefined} />
      </section>
      <section className={classes.section}>
        <h2>Sets of {shelf.name}</h2>
        {shelf.sets.map((set) => (
          <p key={set.id} className="row">
            <strong>{set.name}</strong> {set.colours} colours, {set.owned} owned
            <button type="button" className="button" aria-label={`Remove the set ${set.name}`} onClick={() => removeSet.mutate(set.id)}>
              Remove
            </button>
          </p>
        ))}
        {removeSet.error !== null && <Failed error={removeSet.error} />}
        <SetForm range={shelf.range_id} />
      </section>
    </>
  );
}

type Said = "unsaid" | "yes" | "no";
const SAID: Record<Said, boolean | null> = { unsaid: null, yes: true, no: false };

/** Yes, no, or not said. */
function saidOf(value: boolean | null | undefined): Said {
  if (value == null) return "unsaid";
  return value ? "yes" : "no";
}

function RangeForm({ shelf, onDone }: { shelf?: Shelf; onDone: (id: number) => void }) {
  const [maker, setMaker] = useState(shelf?.maker ?? "");
  const [name, setName] = useState(shelf?.name ?? "");
  const [feel, setFeel] = useState(shelf?.feel ?? "");
  const [point, setPoint] = useState(saidOf(shelf?.holds_point));
  const [water, setWater] = useState(saidOf(shelf?.water_soluble));
  const [length, setLength] = useState(String(shelf?.new_length_mm ?? 175));
  const [revision] = useState(shelf?.revision ?? 1);
  const save = useSaveRange();
  const send = (against: number) =>
    save.mutate(
      { id: shelf?.range_id ?? null, body: {
          maker, name, feel, new_length_mm: Number(length), holds_point: SAID[point], water_soluble: SAID[water], revision: against,
        },
      },
      { onSuccess: (id) => onDone(id) },
    );
  return (
    <form
      className="form"
      onSubmit={(event) => {
        event.preventDefault();
        send(revision);
      }}
    >
      <Field label="Maker" value={maker} onChange={setMaker} maxLength={120} />
      <Field label="Range" value={name} onChange={setName} required maxLength={120} />
      <Field label="How it feels" value={feel} onChange={setFeel} maxLength={300} />
      <Choice label="Its point" value={point} options={[["unsaid", "not said"], ["yes", "holds"], ["no", "goes blunt soon"]]} onChange={setPoint} hint="Fine detail needs a core that holds its point" />
      <Choice label="Water" value={water} options={[["unsaid", "not said"], ["yes", "dissolves it"], ["no", "does not dissolve it"]]} onChange={setWater} hint="Nothing water-soluble may lie under a wet wash" />
      <Field label="A new pencil is, mm" type="number" min={20} max={400} value={length} onChange={setLength} />
      <button type="submit" className="button" data-strong={shelf === undefined || undefined} disabled={save.isPending}>
        {shelf === undefined ? "Add this range" : "Save the range"}
      </button>
      <div data-wide>
        {save.error !== null && <TooLate error={save.error} onMine={send} onTheirs={() => onDone(shelf?.range_id ?? 0)} />}
      </div>
    </form>
  );
}

function SetForm({ range }: { range: number }) {
  const [name, setName] = useState("");
  const [codes, setCodes] = useState("");
  const add = useAddSet();
  return (
    <form
      className="form"
      onSubmit={(event) => {
        event.preventDefault();
        add.mutate(
          { range, body: { name, codes } },
          {
            onSuccess: () => {
              setName("");
              setCodes("");
            },
          },
        );
      }}
    >
      <Field label="A new set's name" value={name} onChange={setName} required maxLength={120} />
      <Field label="Its codes, such as 101-112, 120" value={codes} onChange={setCodes} required maxLength={4000} />
      <button type="submit" className="button" disabled={add.isPending}>
        Add this set
      </button>
      <div data-wide>{add.error !== null && <Failed error={add.error} />}</div>
    </form>
  );
}
