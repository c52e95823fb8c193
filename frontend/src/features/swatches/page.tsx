import { Link } from "react-router";
import { Empty } from "../../shared/ui/Empty";
import { Loading } from "../../shared/ui/Loading";
import { Failed } from "../../shared/ui/Problem";
import { Sheet } from "../../shared/ui/PaperPicker";
import { useCollection } from "../../shared/queries/collection";
import { useBoard, useSessions, type Board } from "./queries";
import classes from "./page.module.css";
import { MARK_PRESSURES } from "../../shared/vocabulary";
import { Progress } from "./Progress";

/** Station 2: what is swatched, what is missing, and the sessions that are under way. */
export function SwatchesPage() {
  const { data: board, error } = useBoard();
  const { data: context } = useCollection();
  if (error !== null) return <Failed error={error} />;
  if (board === undefined || context === undefined) return <Loading what="the board" />;
  if (board.ranges.length === 0 || context.owned === 0) {
    return (
      <Empty title="Nothing to swatch yet">
        <p>
          Here you measure what your pencils really look like on your papers: from a photo of a sheet, with a colour reader, or by
          typing values in.
          First say which pencils you own.
        </p>
        <div className="row">
          <Link className="button" data-strong to="/tidy">
            To the tidy
          </Link>
          <Link className="button" to="/swatches/papers">
            Your papers
          </Link>
        </div>
      </Empty>
    );
  }
  return (
    <div className="station-page">
      <header className="row">
        <h1>Swatches</h1>
        <span className="soft">{board.swatches} measured in all</span>
        <span className={classes.ways}>
          <Link className="button" data-strong to={`/swatches/begin?paper=${context.paper_id}`}>
            Begin a session
          </Link>
          <Link className="button" to="/swatches/sheets">
            Print a sheet
          </Link>
          <Link className="button" to="/swatches/beside">
            Lay marks side by side
          </Link>
          <Link className="button" to="/swatches/files">
            Files
          </Link>
          <Link className="button" to="/swatches/papers">
            Your papers
          </Link>
        </span>
      </header>
      <Sessions />
      <BoardTable board={board} here={context.paper_id} />
    </div>
  );
}

function Sessions() {
  const { data } = useSessions();
  const open = data?.sessions.filter((s) => !s.closed && s.read + s.skipped < s.marks) ?? [];
  if (open.length === 0) return null;
  return (
    <section>
      <h2>Under way</h2>
      <ul className={classes.sessions}>
        {open.map((session) => (
          <li key={session.id}>
            <Link className="button" to={`/swatches/${session.id}`}>
              Go on: {session.paper_name}
            </Link>
            <Progress session={session} /> begun {session.started_on}
          </li>
        ))}
      </ul>
    </section>
  );
}

function BoardTable({ board, here }: { board: Board; here: number }) {
  return (
    <section>
      <h2>The board</h2>
      <p className="soft">
        Of the pencils at hand, how well each paper is known: the three bars are light, medium and heavy; black is measured,
        grey is predicted within 3.5 ΔE, striped is predicted farther, empty is unknown. The figure counts the heavy marks
        that are measured. A cell leads to what is missing.
      </p>
      <div className={classes.scroll}>
        <table className={classes.board}>
          <thead>
            <tr>
              <th scope="col">paper</th>
              {board.ranges.map((range) => (
                <th key={range.id} scope="col">
                  {range.name}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {board.rows.map((row) => (
              <tr key={row.paper_id} data-here={row.paper_id === here || undefined}>
                <th scope="row">
                  <span className={classes.paper}>
                    <Sheet colour={row.colour} />
                    <span>{row.name}</span>
                  </span>
                </th>
                {row.cells.map((cell) => (
                  <td key={cell.range_id}>
                    <Cell cell={cell} paper={row} range={board.ranges.find((r) => r.id === cell.range_id)?.name ?? ""} />
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </section>
  );
}


function sum(counts: readonly number[]): number {
  return counts.reduce((all, count) => all + count, 0);
}

/** Three bars: how much of what is owned is measured, and predicted, light, medium and heavy. */
function Cell({ cell, paper, range }: { cell: Board["rows"][number]["cells"][number]; paper: Board["rows"][number]; range: string }) {
  if (cell.owned === 0) return <span className="soft">none at hand</span>;
  const words = MARK_PRESSURES.map((name, i) => `${cell.measured[i] ?? 0} ${name}`).join(", ");
  const told = sum(cell.well) + sum(cell.poorly);
  const guessed = told > 0 ? `; ${sum(cell.well)} marks predicted well, ${sum(cell.poorly)} poorly` : "";
  const more = cell.others_measured > 0 ? `, and ${cell.others_measured} that you do not own` : "";
  return (
    <Link
      to={`/swatches/begin?paper=${paper.paper_id}&range=${cell.range_id}`}
      className={classes.cell}
      title={`${words} of ${cell.owned} measured${more}${guessed}`}
    >
      <span className="visually-hidden">
        {range} on {paper.name}: {words} of {cell.owned} measured{more}{guessed}; {cell.missing} marks missing
      </span>
      <span className={classes.bars} aria-hidden="true">
        {MARK_PRESSURES.map((name, i) => (
          <span key={name} className={classes.bar}>
            {[cell.measured, cell.well, cell.poorly].map((of, part) => (
              <span key={part} data-known={part} style={{ width: `${(100 * (of[i] ?? 0)) / cell.owned}%` }} />
            ))}
          </span>
        ))}
      </span>
      <span className={classes.counts} aria-hidden="true">
        {cell.missing === 0 ? "all" : `${cell.measured[2] ?? 0}/${cell.owned}`}
      </span>
    </Link>
  );
}
