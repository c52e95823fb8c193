import type { Schemas } from "../../api/client";
import type { Paper } from "../../shared/queries/collection";
import { Barrel } from "../../shared/ui/Barrel";
import { behind } from "../../shared/ui/surround";
import type { WrittenColour, WrittenLine } from "./queries";
import classes from "./WrittenLines.module.css";

type Read = Schemas["ChartReadOut"];

/** A pasted list as it is read: each colour with its place for a mark, each line that is not read in its place. */
export function WrittenLines({ read, paper, own, onLine }: { read: Read; paper: Paper; own: boolean; onLine: (line: number) => void }) {
  const lines = read.lines.filter((line) => line.text.trim() !== "");
  const unread = lines.filter((line) => needsALook(line)).length;
  return (
    <>
      <p className={classes.sum} role="status">
        <strong>
          {read.colours} {read.colours === 1 ? "colour" : "colours"}
        </strong>
        {read.range_here && read.colours > 0 && `, ${read.new} of them new to this range`}
        {unread > 0 && `; ${unread === 1 ? "1 line" : `${unread} lines`} to look at`}
        {read.numbered && read.colours > 0 && ". The list has no codes, so they are numbered as they stand; write a code before each where the pencils bear one."}
      </p>
      <ol className={classes.lines}>
        {lines.map((line) => (
          <li key={line.number} data-open={needsALook(line) || undefined}>
            <Line line={line} paper={paper} own={own} onLine={onLine} />
          </li>
        ))}
      </ol>
    </>
  );
}

function needsALook(line: WrittenLine): boolean {
  return line.problem !== "" || line.colours.some((colour) => colour.standing === "left out");
}

function Line({ line, paper, own, onLine }: { line: WrittenLine; paper: Paper; own: boolean; onLine: (line: number) => void }) {
  const problems = [line.problem, ...line.colours.map((colour) => colour.problem)].filter((said) => said !== "");
  return (
    <>
      {line.colours
        .filter((colour) => colour.standing !== "left out")
        .map((colour, i) => (
          <Colour key={i} colour={colour} paper={paper} own={own} />
        ))}
      {problems.map((said, i) => (
        <div key={i} className={classes.unread}>
          <span>
            <code>{line.text}</code>
            <br />
            <strong>{said}</strong>
          </span>
          <button type="button" className="button" aria-label={`Mend line ${line.number}`} onClick={() => onLine(line.number)}>
            Mend it
          </button>
        </div>
      ))}
      {line.left_out.length > 0 && <p className={classes.aside}>left out: {line.left_out.join(", ")}</p>}
    </>
  );
}

function Colour({ colour, paper, own }: { colour: WrittenColour; paper: Paper; own: boolean }) {
  const owning = own ? (colour.count > 1 ? "spare" : "owned") : "not owned";
  const said = [
    colour.opacity,
    colour.lightfastness && `lightfastness ${colour.lightfastness}`,
    colour.effect !== "ordinary" && colour.effect,
    colour.count > 1 && `${colour.count} of it`,
    colour.standing === "here already" && "here already",
  ].filter(Boolean);
  return (
    <div className={classes.colour}>
      <Barrel owning={owning} />
      <span className={classes.gap} data-hued="mark" style={behind(paper.colour)}>
        {colour.patch && <span className={classes.printed} style={behind(colour.patch)} title={`Printed colour ${colour.patch.hex}`} />}
      </span>
      <code>{colour.code}</code>
      <span className={classes.name}>{colour.name}</span>
      <span className={classes.said}>{said.join(", ")}</span>
    </div>
  );
}
