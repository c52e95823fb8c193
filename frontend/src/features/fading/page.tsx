import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { useSetting, useCollection } from "../../shared/queries/collection";
import { Choice, Field } from "../../shared/ui/Field";
import { ColourFinder } from "../../shared/ui/Finder";
import { Loading } from "../../shared/ui/Loading";
import { Failed } from "../../shared/ui/Problem";
import type { Schemas } from "../../api/client";
import { Named, Part } from "../restock/Parts";
import { PLACES, today, useFadingActs, useStrips, type FadePlace, type Strip } from "./queries";
import { dayWords } from "../../shared/dates";
import { standing } from "./words";
import classes from "./page.module.css";

/** Strips in the light: what has faded so far, and what is to be read again. */
export function FadingPage() {
  const { data, error } = useStrips();
  const [begins, setBegins] = useState(false);
  return (
    <Part title="Fade tests">
      <p>
        Make a mark of each pencil on the very paper, cover half of it, and lay the strip into the light. Read it now and again: what your own test shows goes before the chart.
      </p>
      {error !== null && <Failed error={error} />}
      {data === undefined && error === null && <Loading what="the fade tests" />}
      {data !== undefined && (
        <>
          {data.strips.length === 0 && !begins && <p>No strip lies in the light yet.</p>}
          <ul className={classes.strips}>
            {data.strips.map((strip) => (
              <StripCard key={strip.id} strip={strip} />
            ))}
          </ul>
          {begins ? (
            <Begin onLeave={() => setBegins(false)} />
          ) : (
            <p>
              <button type="button" className="button" data-strong={data.strips.length === 0 || undefined} onClick={() => setBegins(true)}>
                Begin a strip
              </button>
            </p>
          )}
        </>
      )}
    </Part>
  );
}

function StripCard({ strip }: { strip: Strip }) {
  const faded = strip.marks.filter((mark) => mark.seen.length > 0);
  return (
    <li>
      <h2>
        <Link to={`/restock/fading/${strip.id}`}>{strip.name}</Link>
      </h2>
      <p className="soft">
        {strip.marks.length} {strip.marks.length === 1 ? "mark" : "marks"} on {strip.paper}, {strip.place}, {strip.days} days{strip.over ? ", over" : ""}
      </p>
      {strip.is_due ? <p className="caution">Read it again: it is time.</p> : strip.due !== null && <p className="soft">To be read again from {dayWords(strip.due)}.</p>}
      <ul className={classes.marks}>
        {faded.slice(0, 6).map((mark) => (
          <li key={mark.id}>
            <Named colour={mark.colour} /> <span className="soft">{standing(mark)}</span>
          </li>
        ))}
        {faded.length > 6 && <li className="soft">and {faded.length - 6} more</li>}
      </ul>
    </li>
  );
}

type Chosen = { colour: Schemas["ColourOut"]; pressure: "light" | "medium" | "heavy" };

function Begin({ onLeave }: { onLeave: () => void }) {
  const { data: context } = useCollection();
  const here = useSetting();
  const { begin } = useFadingActs();
  const navigate = useNavigate();
  const [name, setName] = useState("");
  const [paper, setPaper] = useState("");
  const [place, setPlace] = useState<FadePlace>("south window");
  const [day, setDay] = useState(today());
  const [marks, setMarks] = useState<readonly Chosen[]>([]);
  const paperId = Number(paper === "" ? here?.paper.id ?? 0 : paper);
  const send = () =>
    begin.mutate(
      { name, paper_id: paperId, place, begun_on: day, marks: marks.map((mark) => ({ colour: mark.colour.id, pressure: mark.pressure })) },
      { onSuccess: ({ id }) => void navigate(`/restock/fading/${id}`) },
    );
  const change = (at: number, pressure: Chosen["pressure"]) => setMarks(marks.map((mark, i) => (i === at ? { ...mark, pressure } : mark)));
  return (
    <form className={classes.begin} aria-label="A new strip" onSubmit={(event) => {
        event.preventDefault();
        send();
      }}>
      <div className="form">
        <Field label="Called" value={name} onChange={setName} required maxLength={60} />
        <Choice label="On" value={String(paperId)} options={(context?.papers ?? []).map((one) => [String(one.id), one.name] as const)} onChange={setPaper} />
        <Choice label="Lies at a" value={place} options={PLACES} onChange={setPlace} />
        <label>
          In the light since
          <input className="field" type="date" value={day} max={today()} required onChange={(event) => setDay(event.currentTarget.value)} />
        </label>
      </div>
      <ColourFinder label="Pencil on the strip" placeholder="Find a pencil to put on it" onPick={(colour) => setMarks([...marks, { colour, pressure: "heavy" }])} />
      {marks.length === 0 && <p className="soft">No pencil is on it yet.</p>}
      <ul className={classes.chosen}>
        {marks.map((mark, at) => (
          <li key={at} className="row">
            <Named colour={mark.colour} />
            <select className="field" aria-label={`Pressure of ${mark.colour.code}`} value={mark.pressure} onChange={(event) => change(at, event.currentTarget.value as Chosen["pressure"])}>
              <option value="heavy">heavy</option>
              <option value="medium">medium</option>
              <option value="light">light</option>
            </select>
            <button type="button" className="button" aria-label={`Off the strip: ${mark.colour.code}`} onClick={() => setMarks(marks.filter((_, i) => i !== at))}>
              Off the strip
            </button>
          </li>
        ))}
      </ul>
      {begin.error !== null && <Failed error={begin.error} />}
      <div className="row">
        <button type="submit" className="button" data-strong disabled={marks.length === 0 || begin.isPending}>
          Into the light
        </button>
        <button type="button" className="button" onClick={onLeave}>
          Not now
        </button>
      </div>
    </form>
  );
}
