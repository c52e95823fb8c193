import { useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { useKeys } from "../../shared/keys";
import { useCollection } from "../../shared/queries/collection";
import { EdgeToEdge } from "../../shared/ui/Comparison";
import { Choice } from "../../shared/ui/Field";
import { LabFields } from "../../shared/ui/LabFields";
import { LinePlot } from "../../shared/ui/LinePlot";
import { Loading } from "../../shared/ui/Loading";
import { Failed } from "../../shared/ui/Problem";
import type { Schemas } from "../../api/client";
import { ReaderPanel } from "../reader/ReaderPanel";
import { Named, Part } from "../restock/Parts";
import { today, useFadingActs, useStrip, type FadedMark, type Half, type Strip } from "./queries";
import { dayWords } from "../../shared/dates";
import { verdict } from "./words";
import classes from "./page.module.css";
import { counted } from "../../shared/words";

const HALVES = ["covered", "open"] as const;
const ROMAN = ["I", "II", "III", "IV", "V"];

/** One strip: read half by half, and how far each mark has come. */
export function StripPage() {
  const strip = Number(useParams().strip);
  const { data, error } = useStrip(strip);
  if (data === undefined) return <Part title="Fade test">{error === null ? <Loading what="the strip" /> : <Failed error={error} />}</Part>;
  return <Opened key={data.strip.id} page={data} />;
}

function Opened({ page }: { page: Schemas["FadeStripPageOut"] }) {
  const { strip } = page;
  const { data: context } = useCollection();
  const acts = useFadingActs();
  const navigate = useNavigate();
  const [day, setDay] = useState(today());
  const next = nextHalf(strip, day);
  const readNext = () => next !== null && !acts.read.isPending && acts.read.mutate({ mark: next.mark.id, half: next.half, read_on: day });
  useKeys({ r: readNext });
  const paper = context?.papers.find((one) => one.name === strip.paper);
  return (
    <Part title={strip.name}>
      <div className={classes.with}>
        <div className={classes.main}>
          <p>
            On {strip.paper}, at a {strip.place}, in the light since {dayWords(strip.begun_on)}: {counted(strip.days, "day")}. By your window, so far: no controlled exposure.{" "}
            {strip.is_due && <strong>It is time to read it again.</strong>}
          </p>
          <section aria-label="Read it" className="section">
            <h2>Read it</h2>
            <div className="form">
              <label>
                Day
                <input className="field" type="date" value={day} min={strip.begun_on} max={today()} onChange={(event) => setDay(event.currentTarget.value)} />
              </label>
              <Light key={day} strip={strip} day={day} />
            </div>
            <div className="row">
              <button type="button" className="button" data-strong data-main disabled={next === null || acts.read.isPending} onClick={readNext}>
                {next === null ? "All halves are read for this day" : `Read the ${next.half} half of ${next.mark.colour.code}`} <kbd>r</kbd>
              </button>
              <FromPhoto page={page} day={day} acts={acts} />
            </div>
            {[acts.read.error, acts.photo.error].map((one, i) => one !== null && <Failed key={i} error={one} />)}
          </section>
          <Marks strip={strip} day={day} acts={acts} />
          <Plot page={page} />
          <div className="row">
            <button type="button" className="button" onClick={() => acts.over.mutate({ strip: strip.id, over: !strip.over })}>
              {strip.over ? "Back into the light" : "It is over: out of the light"}
            </button>
            <button type="button" className="button" onClick={() => acts.remove.mutate(strip.id, { onSuccess: () => void navigate("/restock/fading") })}>
              Remove this strip
            </button>
            <Link to="/restock/fading">All fade tests</Link>
          </div>
          {[acts.over.error, acts.remove.error].map((one, i) => one !== null && <Failed key={i} error={one} />)}
        </div>
        {paper !== undefined && <ReaderPanel paper={paper} />}
      </div>
    </Part>
  );
}

/** The half that is read next on a day: mark by mark, the covered one first. */
function nextHalf(strip: Strip, day: string): { mark: FadedMark; half: Half } | null {
  const read = strip.looks.find((look) => look.read_on === day)?.halves ?? [];
  const all = strip.marks.flatMap((mark) => HALVES.map((half) => ({ mark, half })));
  return all.find(({ mark, half }) => !read.some((one) => one.mark_id === mark.id && one.half === half)) ?? null;
}

function Light({ strip, day }: { strip: Strip; day: string }) {
  const look = strip.looks.find((one) => one.read_on === day);
  const { light } = useFadingActs();
  const [hours, setHours] = useState(look?.light_hours == null ? "" : String(look.light_hours));
  const [wool, setWool] = useState(look?.wool == null ? "" : String(look.wool));
  const keep = (nextWool: string) => light.mutate({ strip: strip.id, read_on: day, light_hours: hours.trim() === "" ? null : Number(hours), wool: nextWool === "" ? null : Number(nextWool) });
  const wools: (readonly [string, string])[] = [["", "no card beside it"], ...[1, 2, 3, 4, 5, 6, 7, 8].map((n) => [String(n), `${n} has faded`] as const)];
  return (
    <>
      <label title="Hours of light on it so far, where you counted them">
        Hours of light
        <input className="field" type="number" min={0} max={100000} value={hours} onChange={(event) => setHours(event.currentTarget.value)} onBlur={() => hours !== (look?.light_hours == null ? "" : String(look.light_hours)) && keep(wool)} />
      </label>
      <Choice label="Blue wool" hint="The highest of the eight blue wools on a card beside it that has visibly faded (ISO 105-B): a better clock than days" value={wool} options={wools} onChange={(next) => {
          setWool(next);
          keep(next);
        }} />
      {light.error !== null && <Failed error={light.error} />}
    </>
  );
}

function FromPhoto({ page, day, acts }: { page: Schemas["FadeStripPageOut"]; day: string; acts: ReturnType<typeof useFadingActs> }) {
  const [photo, setPhoto] = useState("");
  const [half, setHalf] = useState<Half>("open");
  if (page.photos.length === 0) return null;
  const chosen = Number(photo === "" ? page.photos[0]?.id : photo);
  return (
    <details>
      <summary>From a photo of a sheet</summary>
      <div className="form">
        <Choice label="Photo" value={String(chosen)} options={page.photos.map((one) => [String(one.id), `${one.name}, ${dayWords(one.added_on)}`] as const)} onChange={setPhoto} />
        <Choice label="It shows" value={half} options={[["open", "what lay in the light"], ["covered", "what was covered"]]} onChange={setHalf} />
        <button type="button" className="button" disabled={acts.photo.isPending} onClick={() => acts.photo.mutate({ strip: page.strip.id, photo_id: chosen, half, read_on: day })}>
          Take it
        </button>
      </div>
    </details>
  );
}

function Marks({ strip, day, acts }: { strip: Strip; day: string; acts: ReturnType<typeof useFadingActs> }) {
  return (
    <div className={classes.scroll} tabIndex={0} role="group" aria-label="Marks of this strip">
      <table className="table">
        <thead>
          <tr>
            <th scope="col">mark</th>
            <th scope="col">covered, open</th>
            <th scope="col" title="ΔE*ab (CIE 1976), by which the classes are set; nine of ten within the range">
              has come
            </th>
            <th scope="col" title="CIEDE2000, as everywhere else here">
              ΔE00
            </th>
            <th scope="col">class</th>
            <th scope="col">typed in</th>
          </tr>
        </thead>
        <tbody>
          {strip.marks.map((mark) => (
            <Row key={mark.id} mark={mark} day={day} acts={acts} />
          ))}
        </tbody>
      </table>
    </div>
  );
}

function Row({ mark, day, acts }: { mark: FadedMark; day: string; acts: ReturnType<typeof useFadingActs> }) {
  const last = mark.seen.at(-1);
  return (
    <tr>
      <th scope="row">
        <Named colour={mark.colour} />, {mark.pressure}
      </th>
      <td>
        <div className={classes.pair}>
          <EdgeToEdge patches={[mark.covered, mark.open]} height={44} />
        </div>
      </td>
      <td className={`mono ${classes.figure ?? ""}`}>
        {last === undefined ? "–" : `${last.change.delta_e_ab.toFixed(1)} (${last.change.low.toFixed(1)} to ${last.change.high.toFixed(1)})`}
        {last?.by_first === true && <div className="soft">beside its first reading</div>}
      </td>
      <td className="mono">{last === undefined ? "–" : last.change.delta_e_2000.toFixed(1)}</td>
      <td className={classes.verdict}>{verdict(mark)}</td>
      <td>
        <Typed mark={mark} day={day} acts={acts} />
      </td>
    </tr>
  );
}

function Typed({ mark, day, acts }: { mark: FadedMark; day: string; acts: ReturnType<typeof useFadingActs> }) {
  const [lab, setLab] = useState<readonly string[]>(["", "", ""]);
  const [half, setHalf] = useState<Half>("open");
  const send = () =>
    acts.read.mutate({ mark: mark.id, half, read_on: day, lab: lab.map(Number) }, { onSuccess: () => setLab(["", "", ""]) });
  return (
    <details className={classes.typed}>
      <summary>
        Type in<span className="visually-hidden">: {mark.colour.code}</span>
      </summary>
      <form className="form" onSubmit={(event) => {
          event.preventDefault();
          send();
        }}>
        <Choice label="Half" value={half} options={[["open", "open"], ["covered", "covered"]]} onChange={setHalf} />
        <LabFields lab={lab} onChange={setLab} required />
        <button type="submit" className="button">
          Keep
        </button>
      </form>
    </details>
  );
}

function Plot({ page }: { page: Schemas["FadeStripPageOut"] }) {
  const begun = new Date(`${page.strip.begun_on}T12:00`).getTime();
  const days = (day: string) => Math.round((new Date(`${day}T12:00`).getTime() - begun) / 86_400_000);
  const edges = [0, ...page.limits, Infinity];
  return (
    <LinePlot
      label="How far each mark has come over time"
      lines={page.strip.marks.map((mark) => ({
        name: `${mark.colour.range} ${mark.colour.code}${mark.pressure === "heavy" ? "" : `, ${mark.pressure}`}`,
        points: mark.seen.map((one) => ({ x: days(one.read_on), y: one.change.delta_e_ab, low: one.change.low, high: one.change.high })),
      }))}
      bands={ROMAN.map((name, i) => ({ name, from: edges[i] ?? 0, to: edges[i + 1] ?? Infinity }))}
      xFrom={0}
      xName="days in the light"
      yName="ΔE*ab"
      xWords={(x) => String(x)}
    />
  );
}
