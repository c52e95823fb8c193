import { Link, useNavigate } from "react-router";
import { momentWords } from "../../shared/dates";
import { WithDrawing } from "../../shared/ui/WithDrawing";
import { Loading } from "../../shared/ui/Loading";
import { Failed } from "../../shared/ui/Problem";
import { useDraft } from "../../shared/ui/draft";
import type { Schemas } from "../../api/client";
import { asClock } from "./ClockLine";
import { Lengths } from "../restock/Lengths";
import { useRunningOut } from "../restock/queries";
import { useAsDone, useAtBench } from "./queries";
import classes from "./page.module.css";

const MOST_USED = 6;

/** What was really done, as a recipe that can be edited before it is kept, and the plan beside it. */
export function DonePage() {
  return <WithDrawing>{(drawing) => <Done key={drawing.id} drawing={drawing.id} name={drawing.name} />}</WithDrawing>;
}

function Done({ drawing, name }: { drawing: number; name: string }) {
  const { data, error } = useAsDone(drawing);
  return (
    <div className="station-page" tabIndex={-1}>
      <p>
        <Link to="/bench">← The bench of {name}</Link>
      </p>
      <h1>What was done</h1>
      {error !== null && <Failed error={error} />}
      {data === undefined && error === null && <Loading what="the log" />}
      {data !== undefined && (
        <>
          <p>
            {data.entries} {data.entries === 1 ? "line" : "lines"} of the log, {data.sittings} {data.sittings === 1 ? "sitting" : "sittings"}, {asClock(data.minutes)} h.
          </p>
          <div className={classes.done}>
            <Text key={data.text} drawing={drawing} text={data.text} />
            <div className={classes.asRecipe}>
              {data.lines.length > 0 && <Beside lines={data.lines} />}
              {data.times.length > 0 && <Hours times={data.times} />}
              <UsedMost drawing={drawing} />
            </div>
          </div>
        </>
      )}
    </div>
  );
}

function Text({ drawing, text }: { drawing: number; text: string }) {
  const [written, write, forget] = useDraft(`tidy-tinder-as-done-${drawing}`, text);
  const acts = useAtBench(drawing);
  const navigate = useNavigate();
  const keep = () =>
    acts.keep.mutate(written, {
      onSuccess: ({ id }) => {
        forget();
        void navigate(`/recipes/${id}`);
      },
    });
  return (
    <section aria-label="As a recipe" className={classes.asRecipe}>
      <h2>As a recipe</h2>
      <p className="soft">Change what you like; the plan stays as it is.</p>
      <textarea className="field" aria-label="The recipe as done" rows={16} value={written} onChange={(event) => write(event.currentTarget.value)} />
      <div className="row">
        <button type="button" className="button" data-strong data-main disabled={acts.keep.isPending || written.trim() === ""} onClick={keep}>
          Keep it as a recipe
        </button>
        {written !== text && (
          <button type="button" className="button" onClick={() => write(text)}>
            As the log has it
          </button>
        )}
      </div>
      {acts.keep.error !== null && <Failed error={acts.keep.error} />}
    </section>
  );
}

function Beside({ lines }: { lines: readonly Schemas["UseLineOut"][] }) {
  return (
    <section aria-label="Planned beside used">
      <h2>Planned beside used</h2>
      <table className="table">
        <thead>
          <tr>
            <th scope="col">step</th>
            <th scope="col">planned</th>
            <th scope="col">used</th>
            <th scope="col">so</th>
          </tr>
        </thead>
        <tbody>
          {lines.map((line, i) => (
            <tr key={i}>
              <td className="mono">{line.step ?? "–"}</td>
              <td>{line.planned === null ? "–" : named(line.planned, line.planned_layers)}</td>
              <td>{line.used === null ? "–" : named(line.used, line.used_layers)}</td>
              <td>
                <strong>{line.use}</strong>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

function named(colour: Schemas["ColourOut"], layers: number) {
  return (
    <>
      {colour.range} <code>{colour.code}</code> {colour.name} <span className="soft">× {layers}</span>
    </>
  );
}

/** The hours by sitting, step and section. */
function Hours({ times }: { times: readonly Schemas["TimeLineOut"][] }) {
  return (
    <section aria-label="Hours">
      <h2>Hours</h2>
      <table className="table">
        <tbody>
          {times.map((time, i) => (
            <tr key={i}>
              <th scope="row">{spentOn(time)}</th>
              <td className="mono">{asClock(time.minutes)} h</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

/** Lengths of what was used most: they teach how fast each range wears. */
function UsedMost({ drawing }: { drawing: number }) {
  const { data } = useRunningOut(drawing);
  if (data === undefined || data.pencils.length === 0) return null;
  return (
    <section aria-label="Lengths">
      <h2>Lengths of what was used most</h2>
      <p className="soft">Typed now and again after some hours, they tell how long your pencils last.</p>
      <Lengths pencils={data.pencils.slice(0, MOST_USED)} stub={data.stub_mm} />
    </section>
  );
}

function spentOn({ of, name, began }: Schemas["TimeLineOut"]): string {
  if (began !== null) return `sitting of ${momentWords(began)}`;
  return name === "" ? `at no ${of}` : `${of} ${name}`;
}
