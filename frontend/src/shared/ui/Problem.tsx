import { useRouteError } from "react-router";
import { asProblem, type Problem } from "../../api/errors";
import classes from "./Problem.module.css";

/** What went wrong, with a heavy rule at the left edge; never a colour. Where two windows differ, both versions. */
export function ProblemBox({ problem }: { problem: Problem }) {
  const versions = problem.versions ?? [];
  return (
    <div className={classes.problem} role="alert">
      <strong>
        <span aria-hidden="true">⚠ </span>
        {problem.title}
      </strong>
      <p>{problem.detail}</p>
      {versions.length > 0 && (
        <table className="table">
          <thead>
            <tr>
              <th scope="col">what</th>
              <th scope="col">here</th>
              <th scope="col">there</th>
            </tr>
          </thead>
          <tbody>
            {versions.map((v) => (
              <tr key={v.field}>
                <th scope="row">{v.field.replaceAll("_", " ")}</th>
                <td>{v.yours || "nothing"}</td>
                <td>{v.theirs || "nothing"}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </div>
  );
}

/** An error that was thrown, as a box. */
export function Failed({ error }: { error: unknown }) {
  return <ProblemBox problem={asProblem(error)} />;
}

/** What a change that came too late is answered with: both versions, and which of them shall hold. */
export function TooLate({ error, onMine, onTheirs }: {
  error: unknown;
  onMine: (revision: number) => void;
  onTheirs: () => void;
}) {
  const problem = asProblem(error);
  const { revision } = problem;
  return (
    <div>
      <ProblemBox problem={problem} />
      {typeof revision === "number" && (
        <div className="row">
          <button type="button" className="button" onClick={() => onMine(revision)}>
            Keep what is written here
          </button>
          <button type="button" className="button" onClick={onTheirs}>
            Take what is there
          </button>
        </div>
      )}
    </div>
  );
}

/** The page itself could not be shown. */
export function PageFailed() {
  const error = useRouteError();
  // A part of the program that is not loaded yet cannot be, once the server is gone.
  if (error instanceof Error && /import|preload/.test(error.message)) return <Failed error={error} />;
  const detail = error instanceof Error ? error.message : "An unknown mistake.";
  return (
    <ProblemBox problem={{ title: "This page could not be shown", detail: `${detail} Reload it; nothing was lost.`, status: 0 }} />
  );
}
