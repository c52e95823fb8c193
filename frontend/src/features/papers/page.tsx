import { useState } from "react";
import { Link, useNavigate, useSearchParams } from "react-router";
import { PatchView } from "../../shared/ui/Comparison";
import { Check, Choice, Field } from "../../shared/ui/Field";
import { Loading } from "../../shared/ui/Loading";
import { Failed, TooLate } from "../../shared/ui/Problem";
import { useCollection, useSettings } from "../../shared/queries/collection";
import { ReaderPanel } from "../reader/ReaderPanel";
import { useCopyPaper, usePapers, useReadPaper, useRemovePaper, useSavePaper, type PaperPage } from "./queries";
import classes from "./page.module.css";
import { LabFields } from "../../shared/ui/LabFields";

const TOOTHS = [
  ["smooth", "smooth"],
  ["medium", "medium"],
  ["rough", "rough"],
] as const;

/** The papers: their own colour, tooth, what they take; a new batch is a paper of its own. */
export function PapersPage() {
  const { data, error } = usePapers();
  const { data: context } = useCollection();
  const [asked] = useSearchParams();
  const [picked, setChosen] = useState<number | "new" | null>(null);
  const chosen = picked ?? (asked.has("new") ? "new" : null);
  const settings = useSettings();
  const [saved, setSaved] = useState(0);
  const navigate = useNavigate();
  if (error !== null) return <Failed error={error} />;
  if (data === undefined || context === undefined) return <Loading what="the papers" />;
  const here = context.papers.find((p) => p.id === context.paper_id);
  const paper = chosen === "new" ? undefined : (data.papers.find((p) => p.id === chosen) ?? data.papers[0]);
  return (
    <div className={`split ${classes.page ?? ""}`}>
      <div className="station-page">
        <header>
          <p>
            <Link to="/swatches">Swatches</Link> /
          </p>
          <h1>Your papers</h1>
        </header>
        <ul className={classes.list}>
          {data.papers.map((p) => (
            <li key={p.id}>
              <button type="button" className={classes.paper} data-main={p === paper || undefined} aria-pressed={p === paper} onClick={() => setChosen(p.id)}>
                <span className={classes.sheet}>
                  <PatchView patch={p.colour} />
                </span>
                <span>
                  <strong>{p.said.name}</strong>
                  <br />
                  <span className="soft">
                    {p.said.tooth} tooth, {p.said.most_layers} layers · {p.swatches} swatches
                  </span>
                </span>
              </button>
            </li>
          ))}
          <li>
            <button type="button" className="button" aria-pressed={chosen === "new"} onClick={() => setChosen("new")}>
              A new paper
            </button>
          </li>
        </ul>
        {paper && (
          <p>
            <Link className="button" to={`/swatches/papers/${paper.id}/first`}>
              What to swatch first on {paper.said.name}
            </Link>
          </p>
        )}
        <PaperForm
          key={`${paper?.id ?? "new"} ${saved}`}
          paper={paper}
          onDone={(id) => {
            setChosen(id);
            setSaved(saved + 1);
            if (paper !== undefined || id === null) return;
            // A new paper is at hand from then on, and says first what to swatch on it.
            settings.mutate({ paper_id: id });
            void navigate(`/swatches/papers/${id}/first`);
          }}
        />
      </div>
      {here && <ReaderPanel paper={here} />}
    </div>
  );
}


function PaperForm({ paper, onDone }: { paper: PaperPage | undefined; onDone: (id: number | null) => void }) {
  const said = paper?.said;
  const [name, setName] = useState(said?.name ?? "");
  const [mill, setMill] = useState(said?.mill ?? "");
  const [kind, setKind] = useState(said?.kind ?? "");
  const [lab, setLab] = useState(said?.lab.map(String) ?? ["96", "-0.3", "1.5"]);
  const [tooth, setTooth] = useState(TOOTHS.find(([t]) => t === said?.tooth)?.[0] ?? "medium");
  const [layers, setLayers] = useState(String(said?.most_layers ?? 8));
  const [absorbent, setAbsorbent] = useState(said?.absorbent ?? false);
  const [solvent, setSolvent] = useState(said?.stands_solvent ?? true);
  const [notes, setNotes] = useState(said?.notes ?? "");
  // What another window does meanwhile must not wipe what is typed here: saving then shows both.
  const [revision] = useState(paper?.revision ?? 1);
  const save = useSavePaper();
  const copy = useCopyPaper();
  const remove = useRemovePaper();
  const read = useReadPaper();
  const send = (against: number) =>
    save.mutate(
      {
        id: paper?.id ?? null,
        body: {
          name, mill, kind, lab: lab.map(Number), tooth, most_layers: Number(layers), absorbent, stands_solvent: solvent,
          notes, revision: against,
        },
      },
      { onSuccess: (id) => onDone(id) },
    );
  return (
    <section className={classes.form}>
      <h2>{said?.name ?? "A new paper"}</h2>
      {paper?.copied_from && <p className="soft">A later batch of {paper.copied_from}; its swatches are its own.</p>}
      <form
        className="form"
        onSubmit={(event) => {
          event.preventDefault();
          send(revision);
        }}
      >
        <Field label="Name" value={name} onChange={setName} required maxLength={120} data-main={paper === undefined || undefined} />
        <Field label="Mill" value={mill} onChange={setMill} maxLength={120} />
        <Field label="Kind" value={kind} onChange={setKind} maxLength={200} />
        <Choice label="Tooth" value={tooth} options={TOOTHS} onChange={setTooth} hint="The grain that holds the pencil" />
        <Field label="Layers it takes" type="number" min={1} max={40} value={layers} onChange={setLayers} />
        <LabFields lab={lab} onChange={setLab} required />
        {paper && (
          <button
            type="button"
            className="button"
            disabled={read.isPending}
            onClick={() => read.mutate(paper.id, { onSuccess: (seen) => setLab(seen.lab.map((v) => v.toFixed(2))) })}
          >
            Read its colour
          </button>
        )}
        <Check label="Absorbent" value={absorbent} onChange={setAbsorbent} />
        <Check label="Stands solvent" value={solvent} onChange={setSolvent} />
        <div data-wide>
          <Field label="Notes" value={notes} onChange={setNotes} maxLength={2000} />
        </div>
        <div data-wide className="row">
          <button type="submit" className="button" data-strong disabled={save.isPending}>
            {paper === undefined ? "Add this paper" : "Save the paper"}
          </button>
          {paper && (
            <>
              <button type="button" className="button" onClick={() => copy.mutate(paper.id, { onSuccess: (made) => onDone(made.id) })}>
                Copy as a new batch
              </button>
              <button type="button" className="button" onClick={() => remove.mutate(paper.id, { onSuccess: () => onDone(null) })}>
                Remove
              </button>
            </>
          )}
        </div>
        <div data-wide>
          {save.error !== null && <TooLate error={save.error} onMine={send} onTheirs={() => onDone(paper?.id ?? null)} />}
          {[copy, remove, read].map((m, i) => m.error !== null && <Failed key={i} error={m.error} />)}
        </div>
      </form>
    </section>
  );
}
