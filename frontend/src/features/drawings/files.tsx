import { useState } from "react";
import type { Context } from "../../shared/queries/collection";
import { Choice } from "../../shared/ui/Field";
import { Failed } from "../../shared/ui/Problem";
import { counted } from "../../shared/words";
import { useTakeInDrawing, type DrawingCard } from "./queries";
import classes from "./page.module.css";

/** A drawing as files for others. */
export function DrawingFiles({ drawing }: { drawing: DrawingCard }) {
  return (
    <section className="section" aria-label="As files">
      <h2>As a file</h2>
      <p className="soft">
        Its recipes, sections, sittings and log, for another collection or another program. Its pictures are not in it.
      </p>
      <p className="row">
        <a className="button" href={`/api/drawings/${drawing.id}/file`} download>
          The drawing (JSON)
        </a>
        <a className="button" href={`/api/drawings/${drawing.id}/log/file`} download>
          Its log alone (CSV)
        </a>
      </p>
    </section>
  );
}

/** A drawing that somebody shared as a file, or that was kept as one. */
export function FromFile({ context, onTakenIn }: { context: Context; onTakenIn: (id: number) => void }) {
  const [file, setFile] = useState<File>();
  const [paper, setPaper] = useState("");
  const takeIn = useTakeInDrawing();
  const papers = [["", "the one its file names"] as const, ...context.papers.map((p) => [String(p.id), p.name] as const)];
  const taken = takeIn.data;
  return (
    <details className={classes.fromFile}>
      <summary>Take a drawing in from its file</summary>
      <form
        className="form"
        onSubmit={(event) => {
          event.preventDefault();
          if (file !== undefined) takeIn.mutate({ file, paper_id: paper }, { onSuccess: (made) => onTakenIn(made.id) });
        }}
      >
        <label data-wide>
          Its file (JSON)
          <input type="file" accept=".json,application/json" onChange={(event) => setFile(event.currentTarget.files?.[0])} />
        </label>
        <Choice label="Drawn on" value={paper} options={papers} onChange={setPaper} />
        <button type="submit" className="button" data-strong disabled={file === undefined || takeIn.isPending}>
          Take it in
        </button>
      </form>
      {takeIn.error !== null && <Failed error={takeIn.error} />}
      {taken !== undefined && (
        <p role="status">
          “{taken.name}” is taken in, with {counted(taken.recipes, "recipe", "recipes")} and{" "}
          {counted(taken.lines, "line", "lines")} of its log.
          {taken.unknown > 0 &&
            ` ${counted(taken.unknown, "line names a colour", "lines name colours")} of no chart here: kept as ${taken.unknown === 1 ? "a note" : "notes"}.`}
        </p>
      )}
    </details>
  );
}
