import { useRef, useState } from "react";
import { timeOfDay } from "../../shared/dates";
import { useKeys } from "../../shared/keys";
import { useDraft } from "../../shared/ui/draft";
import { useCalled, useLog, type AtBench, type Bench, type Entry } from "./queries";
import type { Schemas } from "../../api/client";
import classes from "./page.module.css";
import { counted } from "../../shared/words";

// Lines that stand beside the step; the rest is asked for.
const SHOWN = 12;
const OTHER = ["eraser", "blade", "too dark", "too light", "note"] as const;
type Other = (typeof OTHER)[number];

/** One key writes down what was really used. */
export function LogPanel({ bench, acts }: { bench: Bench; acts: AtBench }) {
  const field = useRef<HTMLInputElement>(null);
  const [all, setAll] = useState(false);
  const { data: whole } = useLog(bench.drawing_id, all);
  const shown = all && whole !== undefined ? whole.entries : bench.log.slice(0, SHOWN);
  useKeys({ l: () => field.current?.focus() });
  return (
    <section aria-label="The log">
      <h2>Also used</h2>
      <LogForm bench={bench} acts={acts} field={field} />
      <ul className={classes.log} aria-label="Logged, the newest first">
        {shown.map((entry) => (
          <Line key={`${entry.id} ${entry.revision}`} entry={entry} acts={acts} bench={bench} />
        ))}
      </ul>
      {bench.log_count > SHOWN && (
        <button type="button" className="button" aria-expanded={all} onClick={() => setAll(!all)}>
          {all ? `Only the newest ${SHOWN}` : `All ${counted(bench.log_count, "line")}`}
        </button>
      )}
    </section>
  );
}

function LogForm({ bench, acts, field }: { bench: Bench; acts: AtBench; field: React.RefObject<HTMLInputElement | null> }) {
  const [text, setText, forget] = useDraft(`tidy-tinder-log-${bench.drawing_id}`);
  const [found, setFound] = useState<readonly Schemas["ColourOut"][] | null>(null);
  const [instead, setInstead] = useState(0);
  const called = useCalled(bench.drawing_id);
  const replaced = bench.step?.pencils ?? [];
  const written = () => {
    setText("");
    forget();
    setFound(null);
    setInstead(0);
    field.current?.blur();
  };
  const keep = (colour: number) => acts.log.mutate({ colour_id: colour, instead_of_id: instead === 0 ? null : instead }, { onSuccess: written });
  const other = (kind: Other) => acts.log.mutate({ kind, note: kind === "note" ? text.trim() : "" }, kind === "note" ? { onSuccess: written } : {});
  const ask = async () => {
    const answer = await called(text);
    if (answer.sure !== null) keep(answer.sure);
    else setFound(answer.found);
  };
  return (
    <form
      className={classes.logForm}
      onSubmit={(event) => {
        event.preventDefault();
        if (text.trim() !== "") void ask();
      }}
    >
      <div className="row">
        <label className={classes.logField}>
          <span className="visually-hidden">Code, name, or # and the number in the tray</span>
          <input ref={field} className="field" placeholder="code, name or #" value={text} maxLength={200} onChange={(event) => {
              setText(event.currentTarget.value);
              setFound(null);
            }} onKeyDown={(event) => event.key === "Escape" && event.currentTarget.blur()} />
        </label>
        <button type="submit" className="button" disabled={text.trim() === "" || acts.log.isPending}>
          <kbd>l</kbd> Log
        </button>
      </div>
      {found !== null && found.length === 0 && <p role="alert">No colour is called that. It can be kept as a note.</p>}
      {found !== null && found.length > 0 && (
        <ul className={classes.found} aria-label="Which of these?">
          {found.map((colour, i) => (
            <li key={colour.id}>
              <button type="button" className="button" ref={i === 0 ? takeFocus : undefined} onClick={() => keep(colour.id)}>
                <code>{colour.code}</code> {colour.range} {colour.name}
              </button>
            </li>
          ))}
        </ul>
      )}
      {replaced.length > 0 && (
        <label className={classes.instead}>
          instead of{" "}
          <select className="field" value={instead} onChange={(event) => setInstead(Number(event.currentTarget.value))}>
            <option value={0}>nothing: as well</option>
            {replaced.map((one) => (
              <option key={`${one.call_id} ${one.colour.id}`} value={one.colour.id}>
                {one.colour.range} {one.colour.code} {one.colour.name}
              </option>
            ))}
          </select>
        </label>
      )}
      <div className={classes.others} role="group" aria-label="Something else">
        {OTHER.map((kind) => (
          <button key={kind} type="button" className="button" disabled={kind === "note" && text.trim() === ""} onClick={() => other(kind)}>
            {kind}
          </button>
        ))}
      </div>
    </form>
  );
}

/** What is to be decided next has the focus as soon as it is there. */
function takeFocus(button: HTMLButtonElement | null) {
  button?.focus();
}

/** A line of the log: what, where, and how it is corrected. */
function Line({ entry, bench, acts }: { entry: Entry; bench: Bench; acts: AtBench }) {
  const [open, setOpen] = useState(false);
  const step = bench.steps.find((one) => one.id === entry.step_id);
  const section = bench.sections.find((one) => one.id === entry.section_id);
  const what = entry.colour === null ? entry.note || entry.kind : `${entry.colour.code} ${entry.colour.range} ${entry.colour.name}`;
  const how = [entry.pressure, entry.layers > 0 ? `${entry.layers} ${entry.layers === 1 ? "layer" : "layers"}` : ""].filter(Boolean).join(", ");
  const where = [step === undefined ? entry.area : `step ${step.number}`, section?.name ?? ""].filter(Boolean).join(", ");
  const at = timeOfDay(entry.made_at);
  const said = { pressure: entry.pressure, layers: entry.layers, area: entry.area, note: entry.note, step_id: entry.step_id, section_id: entry.section_id, instead_of_id: entry.instead_of?.id ?? null, made_at: entry.made_at };
  const correct = (change: Partial<typeof said>) => acts.correct.mutate({ id: entry.id, revision: entry.revision, ...said, ...change });
  return (
    <li>
      <button type="button" className={classes.line} aria-expanded={open} onClick={() => setOpen(!open)}>
        <span className="mono">{at}</span>
        <span>
          {what}
          {entry.instead_of !== null && ` instead of ${entry.instead_of.code}`}
          <span className="soft"> {[how, where].filter(Boolean).join(" · ")}</span>
        </span>
      </button>
      {open && (
        <div className={`row ${classes.correct ?? ""}`}>
          {entry.colour !== null && (
            <>
              <label>
                pressure{" "}
                <select className="field" value={entry.pressure} onChange={(event) => correct({ pressure: event.currentTarget.value as Entry["pressure"] })}>
                  <option value="">not said</option>
                  {["light", "medium", "heavy", "burnish"].map((one) => (
                    <option key={one}>{one}</option>
                  ))}
                </select>
              </label>
              <label>
                layers{" "}
                <select className="field" value={entry.layers} onChange={(event) => correct({ layers: Number(event.currentTarget.value) })}>
                  <option value={0}>not said</option>
                  {Array.from({ length: 12 }, (_, i) => (
                    <option key={i} value={i + 1}>
                      {i + 1}
                    </option>
                  ))}
                </select>
              </label>
            </>
          )}
          {bench.steps.length > 0 && (
            <label>
              step{" "}
              <select className="field" value={entry.step_id ?? 0} onChange={(event) => {
                  const to = bench.steps.find((one) => one.id === Number(event.currentTarget.value));
                  correct({ step_id: to?.id ?? null, area: to?.area ?? "" });
                }}>
                <option value={0}>none</option>
                {bench.steps.map((one) => (
                  <option key={one.id} value={one.id}>
                    {one.number}
                  </option>
                ))}
              </select>
            </label>
          )}
          {bench.sections.length > 0 && (
            <label>
              section{" "}
              <select className="field" value={entry.section_id} onChange={(event) => correct({ section_id: Number(event.currentTarget.value) })}>
                <option value={0}>the whole</option>
                {bench.sections.map((one) => (
                  <option key={one.id} value={one.id}>
                    {one.name}
                  </option>
                ))}
              </select>
            </label>
          )}
          <button type="button" className="button" aria-label={`Take ${what} out of the log`} onClick={() => acts.remove.mutate(entry.id)}>
            Take out
          </button>
        </div>
      )}
    </li>
  );
}
