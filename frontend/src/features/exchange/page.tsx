import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { Failed } from "../../shared/ui/Problem";
import { ColumnsRead, type SaidColumns } from "./ColumnsRead";
import { FileDrop } from "./FileDrop";
import { Found } from "./Found";
import { Wrong } from "./Wrong";
import { usePreview, useTakeIn, type Preview } from "./queries";
import classes from "./page.module.css";

const COLUMNS: readonly [string, string][] = [
  ["range, code, name", "needed; range and code together are the key"],
  ["maker", "who makes the range"],
  ["L, a, b", "the chart's colour as CIE Lab"],
  ["hex", "or as six hexadecimal digits, sRGB"],
  ["white", "D65 (also if left out) or D50, which is adapted"],
  ["opacity", "transparent, semi or opaque"],
  ["lightfastness", "as the chart prints it"],
  ["effect", "ordinary, metallic, neon or pearl"],
  ["owned", "how many pencils of it you own"],
];

/** Bring a catalogue in from a CSV file: looked at first, then taken in whole or not at all. */
export function CataloguePage() {
  const [file, setFile] = useState<File | null>(null);
  const preview = usePreview();
  const take = useTakeIn();
  const navigate = useNavigate();
  const [columns, setColumns] = useState<SaidColumns>({});
  // What was seen last stays while an answer is worked in: whoever answers by keyboard keeps the place.
  const [seen, setSeen] = useState<Preview | null>(null);
  const look = (chosen: File, said: SaidColumns) => {
    take.reset();
    if (chosen !== file) setSeen(null);
    setFile(chosen);
    setColumns(said);
    preview.mutate({ file: chosen, columns: said }, { onSuccess: setSeen });
  };
  return (
    <div className={classes.page}>
      <div className={classes.main}>
        <p>
          <Link to="/tidy">Tidy</Link> /
        </p>
        <h1>Bring in a catalogue</h1>
        <p>A table of colours, one a line, saved as CSV with the encoding UTF-8. Nothing is changed before you have seen what it would do.</p>
        <FileDrop file={file} accept=".csv,text/csv" onFile={(chosen) => look(chosen, {})} />
        {preview.isPending && <p role="status">Reading {file?.name} …</p>}
        {preview.error !== null && <Failed error={preview.error} />}
        {take.error !== null && <Failed error={take.error} />}
        {seen !== null && file !== null && preview.error === null && !take.isSuccess && (
          <>
            <Seen
              preview={seen}
              busy={take.isPending || preview.isPending}
              onTake={() => take.mutate({ file, columns }, { onSuccess: () => navigate("/tidy") })}
            />
            <ColumnsRead
              key={`${file.name} ${file.lastModified}`}
              read={seen.read_as}
              unread={seen.ignored_columns}
              fields={seen.fields}
              said={columns}
              open={seen.problems.some((problem) => problem.line === 1)}
              onSay={(said) => look(file, said)}
            />
          </>
        )}
      </div>
      <section className={classes.columns} aria-label="The columns">
        <h2>The columns</h2>
        <p>
          The first line names them, in any order. Commas or semicolons. Other words for them are understood, or you say which is
          which.
        </p>
        <dl>
          {COLUMNS.map(([name, what]) => (
            <div key={name}>
              <dt>
                <code>{name}</code>
              </dt>
              <dd>{what}</dd>
            </div>
          ))}
        </dl>
        <pre className={classes.sample}>{`range,code,name,L,a,b,owned
Mine,101,Oxlip,87,-4,50,1
Mine,102,Lemon,88,-9,70,0`}</pre>
      </section>
    </div>
  );
}

function Seen({ preview, busy, onTake }: { preview: Preview; busy: boolean; onTake: () => void }) {
  if (preview.problems.length > 0) {
    return (
      <Wrong problems={preview.problems.map((problem) => ({ ...problem, field: problem.column }))} field="column">
        <p>Say below which column is which, or mend the file, save it, and choose it again.</p>
      </Wrong>
    );
  }
  return (
    <Found title={preview.ranges.join(", ")} here={preview.changes_nothing} back={["/tidy", "To the tidy"]} act="Take it in" busy={busy} onTake={onTake}>
      <li>{preview.new_colours === 1 ? "1 new colour" : `${preview.new_colours} new colours`}</li>
      <li>{preview.changed_colours} corrected, {preview.same_colours} unchanged</li>
      <li>{preview.new_pencils === 1 ? "1 pencil" : `${preview.new_pencils} pencils`} to own</li>
      {preview.without_colour > 0 && <li>{preview.without_colour} without a colour value: they can be owned, but not compared</li>}
      {preview.adapted_from_d50 > 0 && <li>{preview.adapted_from_d50 === 1 ? "1 value" : `${preview.adapted_from_d50} values`} adapted from D50 to D65</li>}
      {preview.more_pencils_here > 0 && <li>of {preview.more_pencils_here === 1 ? "1 colour" : `${preview.more_pencils_here} colours`} you own more here; they are kept</li>}
      {preview.ignored_columns.length > 0 && <li>columns not read: {preview.ignored_columns.join(", ")}</li>}
    </Found>
  );
}
