import type { Context } from "../../shared/queries/collection";
import { useKeys } from "../../shared/keys";
import { Empty } from "../../shared/ui/Empty";
import { BeginDrawing, WithDrawing } from "../../shared/ui/WithDrawing";
import { Loading } from "../../shared/ui/Loading";
import { Failed } from "../../shared/ui/Problem";
import { ClockLine } from "./ClockLine";
import { LogPanel } from "./LogPanel";
import { Preparation } from "./Preparation";
import { SectionBoard } from "./SectionBoard";
import { StepView } from "./StepView";
import { Timers } from "./Timers";
import { problemOf, useAlive, useAtBench, useAwake, useBench, type AtBench, type Bench, type Clock } from "./queries";
import classes from "./page.module.css";

/** Station 5: at the drawing, one step at a time. */
export function BenchPage() {
  return <WithDrawing empty={(context) => <NoDrawing context={context} />}>{(drawing) => <AtDrawing key={drawing.id} drawing={drawing.id} />}</WithDrawing>;
}

function NoDrawing({ context }: { context: Context }) {
  return (
    <Empty title="At the drawing, one step at a time">
      <p>
        The bench shows which pencil comes next and where it stands, writes down what was really used, tells when a section is
        dry, and makes a recipe of what was done. It belongs to a drawing, and none is at hand now.
      </p>
      <BeginDrawing context={context} />
    </Empty>
  );
}

function AtDrawing({ drawing }: { drawing: number }) {
  const { data: bench, clock, error } = useBench(drawing);
  const acts = useAtBench(drawing);
  // A clock that she stopped herself stays so until something is done; one that stopped by itself runs with the next key.
  useAlive(drawing, clock !== null && (clock.running || clock.not_counted > 0));
  useAwake(clock !== null);
  if (error !== null) return <Failed error={error} />;
  if (bench === undefined) return <Loading what="the bench" />;
  const problem = problemOf(acts);
  return (
    <div className={classes.page} data-version={bench.version}>
      <header className={classes.head}>
        <h1>{bench.drawing}</h1>
        <Along bench={bench} acts={acts} />
        <ClockLine bench={bench} clock={clock} acts={acts} />
      </header>
      {problem !== null && <Failed error={problem} />}
      {clock === null ? <Preparation bench={bench} acts={acts} /> : <Sitting bench={bench} clock={clock} acts={acts} />}
    </div>
  );
}

/** Along which recipe, and in which of the two ways. */
function Along({ bench, acts }: { bench: Bench; acts: AtBench }) {
  return (
    <div className={classes.along}>
      <label>
        Along{" "}
        <select className="field" value={bench.recipe_id ?? 0} onChange={(event) => acts.place.mutate({ recipe_id: Number(event.currentTarget.value) })}>
          <option value={0}>no recipe: as you go</option>
          {bench.recipes.map((recipe) => (
            <option key={recipe.id} value={recipe.id}>
              {recipe.title}
            </option>
          ))}
        </select>
      </label>
      {bench.sections.length > 0 && bench.recipe_id !== null && (
        <label>
          <span className="visually-hidden">How it is worked </span>
          <select className="field" value={bench.by_sections ? "sections" : "steps"} onChange={(event) => acts.place.mutate({ by_sections: event.currentTarget.value === "sections" })}>
            <option value="steps">step by step: one step through all sections</option>
            <option value="sections">section by section: all steps in one</option>
          </select>
        </label>
      )}
    </div>
  );
}

function Sitting({ bench, clock, acts }: { bench: Bench; clock: Clock; acts: AtBench }) {
  const offered = bench.sections.find((one) => one.id === bench.turn);
  const here = bench.wet_here;
  const goThere = () => offered !== undefined && offered.id !== bench.section_id && acts.place.mutate({ section_id: offered.id });
  useKeys({
    a: goThere,
    y: () => here !== null && acts.dry.mutate({ id: here.id, state: "dry" }),
  });
  return (
    <div className={classes.bench}>
      <div className={classes.main}>
        {clock.rest && <p className="caution">You have drawn for long without a rest: let hand and eyes lie for a moment.</p>}
        {here !== null && (
          <p className={`caution ${classes.wet ?? ""}`} role="status">
            <strong>This {bench.sections.length > 0 ? "section" : "drawing"} is not said to be dry.</strong> A layer over what is wet
            tears the tooth and muddies.{" "}
            {offered !== undefined && offered.id !== bench.section_id && (
              <button type="button" className="button" onClick={goThere}>
                <kbd>a</kbd> Meanwhile: {offered.name}
              </button>
            )}
          </p>
        )}
        <StepView bench={bench} acts={acts} />
      </div>
      <aside className={classes.side} aria-label="Beside the step" tabIndex={0}>
        <Timers bench={bench} acts={acts} />
        <LogPanel bench={bench} acts={acts} />
        {bench.sections.length > 0 && <SectionBoard bench={bench} acts={acts} />}
      </aside>
    </div>
  );
}
