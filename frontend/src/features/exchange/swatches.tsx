import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { useCollection } from "../../shared/queries/collection";
import { useShelves } from "../../shared/queries/shelves";
import { Choice } from "../../shared/ui/Field";
import { Failed } from "../../shared/ui/Problem";
import { MARK_PRESSURES } from "../../shared/vocabulary";
import { useBoard } from "../swatches/queries";
import { useTray } from "../tray/queries";
import { ColumnsRead } from "./ColumnsRead";
import { FileDrop } from "./FileDrop";
import { Found } from "./Found";
import { useSwatchPreview, useTakeInSwatches, type SaidOfFile, type SwatchesPreview } from "./queries";
import { Wrong } from "./Wrong";
import classes from "./page.module.css";

const FORMATS = [
  ["csv", "CSV", "a table, for spreadsheets"],
  ["cgats", "CGATS.17", "text, as colour instruments and printers exchange it"],
  ["cxf", "CxF3", "XML of ISO 17972, with spectra and the light they are for"],
] as const;
const WHITES = ["D65", "D50"] as const;
const NOTHING_SAID: SaidOfFile = { range: "", paper: "", pressure: "", white: "", columns: {} };

/** Swatches as files: out for others and other programs, and in from them. */
export function SwatchFilesPage() {
  const [file, setFile] = useState<File | null>(null);
  const [said, setSaid] = useState(NOTHING_SAID);
  const preview = useSwatchPreview();
  const take = useTakeInSwatches();
  const navigate = useNavigate();
  // What was seen last stays while an answer is worked in: whoever answers by keyboard keeps the place.
  const [seen, setSeen] = useState<SwatchesPreview | null>(null);
  const look = (chosen: File, answers: SaidOfFile) => {
    take.reset();
    if (chosen !== file) setSeen(null);
    setFile(chosen);
    setSaid(answers);
    preview.mutate({ file: chosen, said: answers }, { onSuccess: setSeen });
  };
  return (
    <div className={classes.page}>
      <div className={classes.main}>
        <p>
          <Link to="/swatches">Swatches</Link> /
        </p>
        <h1>Swatches as files</h1>
        <p>Bring in what you, or somebody else, measured elsewhere. Nothing is changed before you have seen what it would do.</p>
        <FileDrop file={file} accept=".csv,.txt,.cxf,.xml,.ti3,.tsv,text/csv,text/plain" onFile={(chosen) => look(chosen, NOTHING_SAID)} />
        {preview.isPending && <p role="status">Reading {file?.name} …</p>}
        {preview.error !== null && <Failed error={preview.error} />}
        {take.error !== null && <Failed error={take.error} />}
        {seen !== null && file !== null && preview.error === null && !take.isSuccess && (
          <>
            <Asked preview={seen} said={said} onSay={(answers) => look(file, answers)} />
            <Seen preview={seen} busy={take.isPending || preview.isPending} onTake={() => take.mutate({ file, said }, { onSuccess: () => navigate("/swatches") })} />
            <ColumnsRead
              key={`${file.name} ${file.lastModified}`}
              read={seen.read_as}
              unread={seen.ignored}
              fields={seen.fields}
              said={said.columns}
              open={seen.problems.some((problem) => problem.field === "LAB_L" || problem.field === "CODE")}
              onSay={(columns) => look(file, { ...said, columns })}
            />
          </>
        )}
      </div>
      <Out />
    </div>
  );
}

/** What the file does not say, or says by names that are not here. */
function Asked({ preview, said, onSay }: { preview: SwatchesPreview; said: SaidOfFile; onSay: (said: SaidOfFile) => void }) {
  const { data: context } = useCollection();
  const { data: tidy } = useShelves(context?.paper_id ?? 0);
  const unknown = (field: string) => preview.problems.some((problem) => problem.field === field);
  const asked = {
    range: said.range !== "" || preview.asks.includes("range") || unknown("RANGE"),
    paper: said.paper !== "" || preview.asks.includes("paper") || unknown("PAPER"),
    pressure: said.pressure !== "" || preview.asks.includes("pressure"),
    white: said.white !== "" || preview.asks.includes("white"),
  };
  if (!Object.values(asked).some(Boolean)) return null;
  const choices = (names: readonly string[]) => [["", "choose"], ...names.map((name) => [name, name] as const)] as const;
  return (
    <section className={classes.seen} aria-label="What the file does not say">
      <h2>What the file does not say</h2>
      <div className="form">
        {asked.range && <Choice label="Whose pencils" hint="The range, where the file names none of yours" value={said.range} options={choices(tidy?.shelves.map((shelf) => shelf.name) ?? [])} onChange={(range) => onSay({ ...said, range })} />}
        {asked.paper && <Choice label="On which paper" hint="Where the file names none of yours" value={said.paper} options={choices(context?.papers.map((paper) => paper.name) ?? [])} onChange={(paper) => onSay({ ...said, paper })} />}
        {asked.pressure && <Choice label="How hard pressed" value={said.pressure} options={[["", "choose"], ...MARK_PRESSURES.map((one) => [one, one] as const)]} onChange={(pressure) => onSay({ ...said, pressure })} />}
        {asked.white && <Choice label="Values are for light" hint="L*, a*, b* differ with the light they are worked out for; printers use D50, screens D65. What is for D50 is adapted." value={said.white} options={[["", "choose"], ...WHITES.map((one) => [one, one] as const)]} onChange={(white) => onSay({ ...said, white })} />}
      </div>
    </section>
  );
}

function Seen({ preview, busy, onTake }: { preview: SwatchesPreview; busy: boolean; onTake: () => void }) {
  if (preview.problems.length > 0) {
    return (
      <Wrong problems={preview.problems} field="field">
        <p>Say what is asked above, or mend the file and choose it again.</p>
      </Wrong>
    );
  }
  if (preview.asks.length > 0) return null;
  return (
    <Found
      title={`${preview.new} ${preview.new === 1 ? "swatch" : "swatches"} from ${preview.kind}`}
      here={preview.changes_nothing}
      back={["/swatches", "To the swatches"]}
      act={`Take ${preview.new === 1 ? "it" : "them"} in`}
      busy={busy}
      onTake={onTake}
    >
      {preview.papers.length > 0 && <li>on {preview.papers.map(({ name, marks }) => `${name} (${marks})`).join(", ")}</li>}
      {preview.ranges.length > 0 && <li>of {preview.ranges.map(({ name, marks }) => `${name} (${marks})`).join(", ")}</li>}
      {preview.with_spectrum > 0 && <li>{preview.with_spectrum} with a spectrum</li>}
      {preview.same > 0 && <li>{preview.same} here already; they stay as they are</li>}
      {preview.adapted > 0 && <li>{preview.adapted === 1 ? "1 value" : `${preview.adapted} values`} adapted from D50 to D65</li>}
      {preview.regridded > 0 && <li>{preview.regridded === 1 ? "1 spectrum" : `${preview.regridded} spectra`} put onto steps of 10 nm, 400 to 700</li>}
      {preview.ignored.length > 0 && <li>fields not read: {preview.ignored.join(", ")}</li>}
    </Found>
  );
}

function Out() {
  const { data: context } = useCollection();
  const here = context?.papers.find((paper) => paper.id === context.paper_id);
  const { data: tidy } = useShelves(context?.paper_id ?? 0);
  const { data: board } = useBoard();
  const { data: tray } = useTray(context?.paper_id ?? 0);
  return (
    <section className={classes.columns} aria-label="Swatches into a file">
      <h2>Into a file</h2>
      <p>Each has all that is known of a mark: pencil, paper, pressure, L* a* b* for daylight (D65), and its spectrum where there is one; CSV, CGATS.17 and CxF3 can be taken in again.</p>
      {board?.swatches === 0 && <p>Nothing is measured yet, so there is nothing to write.</p>}
      <dl>
        {FORMATS.map(([kind, name, what]) => (
          <div key={kind}>
            <dt>{name}</dt>
            <dd>{what}</dd>
            {(board?.swatches ?? 0) > 0 && <dd className={classes.files}>
              <a className="button" href={`/api/swatches/file?kind=${kind}`} download aria-label={`All swatches as ${name}`}>
                All swatches
              </a>
              {here !== undefined && (
                <a className="button" href={`/api/swatches/file?kind=${kind}&paper=${here.id}`} download aria-label={`Those on ${here.name} as ${name}`}>
                  Those on {here.name}
                </a>
              )}
            </dd>}
          </div>
        ))}
        {here !== undefined && (tidy?.shelves.length ?? 0) > 0 && (
          <div>
            <dt>GIMP palette</dt>
            <dd>for drawing programs: marks on {here.name} as a screen shows them, measured, predicted or by chart</dd>
            <dd className={classes.files}>
              {(tray?.pulled.length ?? 0) > 0 && (
                <a className="button" href={`/api/palette?paper=${here.id}`} download aria-label="The tray as a palette">
                  The tray
                </a>
              )}
              {tidy?.shelves.map((shelf) => (
                <a key={shelf.range_id} className="button" href={`/api/palette?paper=${here.id}&range=${shelf.range_id}`} download aria-label={`${shelf.name} as a palette`}>
                  {shelf.name}
                </a>
              ))}
            </dd>
          </div>
        )}
      </dl>
    </section>
  );
}
