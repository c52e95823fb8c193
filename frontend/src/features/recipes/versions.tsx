import { useState } from "react";
import { Link, useParams } from "react-router";
import { Loading } from "../../shared/ui/Loading";
import { Failed } from "../../shared/ui/Problem";
import { useCompared, useGoBack, useKeepVersion, useVersions, type ComparedLine, type LineSeen, type Version } from "./editQueries";
import { momentWords } from "../../shared/dates";
import classes from "./versions.module.css";
import { counted } from "../../shared/words";

/** The versions of a recipe: kept, compared line by line, gone back to. */
export function VersionsPage() {
  const recipe = Number(useParams()["id"]);
  const { data, error } = useVersions(recipe);
  if (error !== null && data === undefined) return <Failed error={error} />;
  if (data === undefined) return <Loading what="the versions" />;
  return <Versions recipe={recipe} versions={data.versions} />;
}

function Versions({ recipe, versions }: { recipe: number; versions: readonly Version[] }) {
  const keep = useKeepVersion(recipe);
  const back = useGoBack(recipe);
  const [name, setName] = useState("");
  const [picked, setPicked] = useState<number | undefined>(undefined);
  const [beside, setBeside] = useState<number | null>(null);
  const before = versions.find((one) => one.id === picked) ?? versions[0];
  const compared = useCompared(recipe, before?.id, beside === before?.id ? null : beside);
  return (
    <div className={classes.page}>
      <header>
        <Link to={`/recipes/${recipe}`}>To the recipe</Link>
        <h1>Versions</h1>
      </header>
      <form
        className="row"
        onSubmit={(event) => {
          event.preventDefault();
          keep.mutate(name, { onSuccess: () => setName("") });
        }}
      >
        <label>
          What is it called?{" "}
          <input className="field" value={name} maxLength={80} placeholder="before the glazes" onChange={(event) => setName(event.currentTarget.value)} />
        </label>
        <button type="submit" className="button" data-strong disabled={keep.isPending}>
          Keep the recipe as it is now
        </button>
      </form>
      {[keep.error, back.error].map((one, i) => one !== null && <Failed key={i} error={one} />)}
      {before === undefined ? (
        <p>No version is kept yet. The first one is kept by itself when you edit the recipe: the lines as they were taken in.</p>
      ) : (
        <>
          <div className="row">
            <label>
              Before{" "}
              <select className="field" value={before.id} onChange={(event) => setPicked(Number(event.currentTarget.value))}>
                {versions.map((version) => (
                  <option key={version.id} value={version.id}>
                    {called(version)}
                  </option>
                ))}
              </select>
            </label>
            <label>
              after{" "}
              <select className="field" value={beside ?? ""} onChange={(event) => setBeside(event.currentTarget.value === "" ? null : Number(event.currentTarget.value))}>
                <option value="">the recipe as it is now</option>
                {versions
                  .filter((version) => version.id !== before.id)
                  .map((version) => (
                    <option key={version.id} value={version.id}>
                      {called(version)}
                    </option>
                  ))}
              </select>
            </label>
            <button type="button" className="button" disabled={back.isPending} onClick={() => back.mutate(before.id)}>
              Go back to “{before.name === "" ? "the first of both" : before.name}”
            </button>
          </div>
          {compared.error !== null && <Failed error={compared.error} />}
          {compared.data === undefined ? <Loading what="both" /> : <Compared lines={compared.data.lines} />}
        </>
      )}
    </div>
  );
}

function called({ name, kept_at: at, steps, calls }: Version): string {
  const when = momentWords(at);
  return `${name === "" ? "Kept" : name}, ${when}: ${counted(steps, "step")}, ${counted(calls, "call")}`;
}

/** Two versions line by line; what differs is told in words and by a heavy rule, not by a colour. */
function Compared({ lines }: { lines: readonly ComparedLine[] }) {
  const differing = lines.filter((line) => !line.same).length;
  return (
    <>
      <p role="status">{differing === 0 ? "Nothing differs." : `${differing} of ${counted(lines.length, "line")} ${differing === 1 ? "differs" : "differ"}.`}</p>
      <table className={classes.table}>
        <thead>
          <tr>
            <th scope="col">before</th>
            <th scope="col">after</th>
            <th scope="col">what changed</th>
          </tr>
        </thead>
        <tbody>
          {lines.map((line, i) => (
            <tr key={i} data-differs={!line.same || undefined}>
              <td>
                <Seen line={line.before} differs={!line.same} />
              </td>
              <td>
                <Seen line={line.after} differs={!line.same} />
              </td>
              <td>{what(line)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}

function Seen({ line, differs }: { line: LineSeen | null; differs: boolean }) {
  if (line === null) return <>–</>;
  return (
    <>
      {line.kind === "heading" ? <strong>{line.text}</strong> : line.text}
      {differs && line.calls.length > 0 && <span className={classes.calls}>{line.calls.join("; ")}</span>}
    </>
  );
}

function what({ before, after, same }: ComparedLine): string {
  if (same) return "";
  if (before === null) return "added";
  if (after === null) return "removed";
  return before.text === after.text ? "laid otherwise" : "in other words";
}
