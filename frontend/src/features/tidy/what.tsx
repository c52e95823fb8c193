import { useState } from "react";
import { Link } from "react-router";
import { Barrel } from "../../shared/ui/Barrel";
import { ColourName } from "../../shared/ui/ColourName";
import { EdgeToEdge, inWords, ScreenNote } from "../../shared/ui/Comparison";
import { Choice } from "../../shared/ui/Field";
import { Loading } from "../../shared/ui/Loading";
import { Failed } from "../../shared/ui/Problem";
import { useSetting, type Paper } from "../../shared/queries/collection";
import { ReaderPanel } from "../reader/ReaderPanel";
import { useReadOnce } from "../reader/queries";
import { useWhat } from "./queries";
import { PRESSURES } from "./TypedForm";
import classes from "./what.module.css";
import { LabFields } from "../../shared/ui/LabFields";

type Answer = NonNullable<ReturnType<typeof useWhat>["data"]>;

/** A worn stamp: a measured mark on the paper at hand, and the colours that it can be. */
export function WhatPage() {
  const setting = useSetting();
  if (setting === undefined) return <Loading what="the page" />;
  return <What paper={setting.paper} />;
}

function What({ paper }: { paper: Paper }) {
  const [lab, setLab] = useState(["", "", ""]);
  const [pressure, setPressure] = useState<"light" | "medium" | "heavy">("heavy");
  const what = useWhat();
  const read = useReadOnce();
  const ask = (values: readonly string[]) => what.mutate({ lab: values.map(Number), paper: paper.id, pressure });
  const error = what.error ?? read.error;
  return (
    <div className={`split ${classes.page ?? ""}`}>
      <div className="station-page">
        <header>
          <p>
            <Link to="/tidy">Tidy</Link> /
          </p>
          <h1>What is this?</h1>
          <p>
            Make one dry mark of the unknown pencil on <strong>{paper.name}</strong>, measure it, and see which colours it can
            be.
          </p>
        </header>
        <form
          className="form"
          onSubmit={(event) => {
            event.preventDefault();
            ask(lab);
          }}
        >
          <Choice label="How the mark was made" value={pressure} options={PRESSURES} onChange={setPressure} />
          <button
            type="button"
            className="button"
            disabled={read.isPending}
            onClick={() =>
              read.mutate(undefined, {
                onSuccess: ({ colour }) => {
                  const values = colour.lab.map((v) => v.toFixed(2));
                  setLab(values);
                  ask(values);
                },
              })
            }
          >
            Read it with the reader
          </button>
          <LabFields lab={lab} onChange={setLab} required />
          <button type="submit" className="button" data-strong disabled={what.isPending}>
            Look for it
          </button>
        </form>
        {error !== null && <Failed error={error} />}
        {what.data !== undefined && <Answers answer={what.data} paper={paper} />}
      </div>
      <ReaderPanel paper={paper} />
    </div>
  );
}

function Answers({ answer, paper }: { answer: Answer; paper: Paper }) {
  const best = [...answer.here].sort((a, b) => b.share - a.share)[0];
  const known = best !== undefined && best.share > answer.none_share;
  return (
    <section className="section" aria-live="polite">
      <h2>
        {known
          ? `Likely ${best.colour.range} ${best.colour.code} ${best.colour.name}`
          : answer.searched === 0
            ? `No ${answer.pressure} mark is measured or predicted on ${paper.name}`
            : `None of the ${answer.searched} marks known here fits`}
      </h2>
      {answer.alike.length > 0 && (
        <p>
          <strong>Cannot be told apart by this mark:</strong> {answer.alike.join("; ")}. Try another pressure or paper.
        </p>
      )}
      <Suspects title={`${answer.pressure[0]?.toUpperCase()}${answer.pressure.slice(1)} on ${answer.paper_name}, owned first`} suspects={answer.here.filter((s) => s.difference.delta_e < 12)} answer={answer} />
      <Suspects title="By chart, not on this paper" suspects={answer.by_chart} answer={answer} />
      {answer.pressure !== "heavy" && answer.by_chart.length === 0 && !known && (
        <p>Charts speak of heavy marks only. A heavy mark can be looked for by chart too.</p>
      )}
    </section>
  );
}

function Suspects({ title, suspects, answer }: { title: string; suspects: Answer["here"]; answer: Answer }) {
  if (suspects.length === 0) return null;
  return (
    <>
      <h3>{title}</h3>
      <ol className={classes.list}>
        {suspects.map((suspect) => (
          <li key={suspect.colour.id} className={classes.suspect}>
            <Barrel owning={suspect.owning} />
            <div className={classes.pair}>
              <EdgeToEdge patches={[answer.seen, suspect.looks]} height={44} />
            </div>
            <Link to={`/tidy/colours/${suspect.colour.id}`}>
              <ColourName colour={suspect.colour} range />
              <span className="visually-hidden">, {suspect.owning}</span>
            </Link>
            <span className="mono" title="How much of the belief it takes, against all others and none of them">
              {suspect.share > 0.005 ? `${Math.round(suspect.share * 100)} %` : "unlikely"}
            </span>
            <span>
              ΔE {suspect.difference.delta_e.toFixed(1)}: yours is {inWords(suspect.difference)}
              {suspect.band !== null && <span className="soft"> (its look is predicted ± {suspect.band.toFixed(1)})</span>}
            </span>
          </li>
        ))}
      </ol>
      <ScreenNote patches={[answer.seen]} />
    </>
  );
}
