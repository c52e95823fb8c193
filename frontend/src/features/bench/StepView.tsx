import { useSessionStorage } from "@mantine/hooks";
import { useState } from "react";
import { Link } from "react-router";
import { useKeys } from "../../shared/keys";
import { inWords, PatchView } from "../../shared/ui/Comparison";
import { Mark } from "../../shared/ui/Mark";
import { seenWords, sentence } from "../../shared/words";
import { Steps } from "./Steps";
import { useLookAtStep, type AtBench, type Bench, type Step, type ToLay } from "./queries";
import classes from "./StepView.module.css";

/** The step at hand, to be read from a metre away. */
export function StepView({ bench, acts }: { bench: Bench; acts: AtBench }) {
  const [listed, setListed] = useState(false);
  const [looked, look] = useState<number | null>(null);
  const { data: other } = useLookAtStep(bench.drawing_id, looked);
  const { step } = bench;
  const shown = looked === null ? step : (other?.step ?? step);
  const next = (state: "done" | "skipped") => {
    if (looked !== null) look(null);
    else if (step !== null && !acts.on.isPending) acts.on.mutate({ step_id: step.id, state });
  };
  const open = step?.pencils.find((one) => one.ticked < one.layer.layers);
  const ticked = step?.pencils.findLast((one) => one.ticked > 0);
  const tick = (one: ToLay | undefined) =>
    one !== undefined && !acts.log.isPending &&
    acts.log.mutate({
      colour_id: one.colour.id, call_id: one.call_id, pressure: one.layer.pressure, layers: 1, instead_of_id: one.stands_in_for?.id ?? null,
    });
  const untick = (one: ToLay | undefined) => one !== undefined && acts.untick.mutate({ call_id: one.call_id, section_id: bench.section_id });
  const wetting = shown?.wetting ?? "solvent";
  const wet = () => bench.wet_here === null && acts.wet.mutate({ section_id: bench.section_id, wetting });
  useKeys({
    " ": () => next("done"),
    b: () => acts.back.mutate(),
    x: () => next("skipped"),
    t: () => tick(open),
    T: () => untick(ticked),
    w: wet,
    n: () => setListed(!listed),
  }, true);
  if (bench.recipe_id === null) return <AsYouGo bench={bench} onWet={wet} />;
  if (shown === null) return <p>This recipe has no steps yet: write them, or choose another one above.</p>;
  if (bench.finished && looked === null) return <Finished bench={bench} onBack={() => acts.back.mutate()} />;
  return (
    <section className={classes.step} aria-label="The step">
      <StepHead bench={bench} step={shown} away={looked !== null} />
      <div className={classes.body}>
        <div className={classes.pencils} data-many={shown.pencils.length > 3 || undefined}>
          {shown.pencils.map((one, i) => (
            <PencilRow key={`${one.call_id} ${one.colour.id} ${i}`} one={one} many={shown.pencils.length > 3} still={looked !== null} onTick={() => tick(one)} onUntick={() => untick(one)} />
          ))}
          {shown.missing.length > 0 && (
            <p className={`caution ${classes.missing ?? ""}`}>
              No pencil yet for {shown.missing.join(", ")}. Write down what you take instead: <kbd>l</kbd>
            </p>
          )}
          {shown.pencils.length === 0 && shown.missing.length === 0 && <p className={classes.noPencils}>No pencil in this step.</p>}
          <Cautions bench={bench} step={shown} />
        </div>
        <Passage step={shown} paper={bench.paper} />
      </div>
      <div className={classes.foot}>
        <button type="button" className="button" onClick={() => acts.back.mutate()}>
          <kbd>b</kbd> Before
        </button>
        <button type="button" className="button" data-strong onClick={() => next("done")} disabled={acts.on.isPending}>
          <kbd>space</kbd> {looked === null ? "Done, and on" : "Back to the step at hand"}
        </button>
        <button type="button" className="button" onClick={() => next("skipped")}>
          <kbd>x</kbd> Skip
        </button>
        {bench.wet_here === null && (
          <button type="button" className="button" onClick={wet} data-strong={shown.wetting !== null || undefined}>
            <kbd>w</kbd> {sentence(wetting)} is on: time it
          </button>
        )}
        <button type="button" className="button" aria-expanded={listed} onClick={() => setListed(!listed)}>
          <kbd>n</kbd> All steps
        </button>
      </div>
      {listed && <Steps bench={bench} looked={looked} onLook={look} onGo={(id) => acts.place.mutate({ step_id: id }, { onSuccess: () => look(null) })} />}
    </section>
  );
}

function StepHead({ bench, step, away }: { bench: Bench; step: Step; away: boolean }) {
  const section = bench.sections.find((one) => one.id === bench.section_id);
  const state = { "to do": "", done: "done here", skipped: "skipped here" }[step.state];
  return (
    <header className={classes.head}>
      <p className={classes.count}>
        Step <strong>{step.number}</strong> of {step.of}
        {step.area !== "" && ` · ${step.area}`}
        {section !== undefined && ` · section ${section.name}`}
        {step.purpose !== "" && ` · ${step.purpose}`}
        {step.waits && " · then let it dry"}
        {state !== "" && <strong> · {state}</strong>}
        {away && <strong> · only looked at</strong>}
      </p>
      {step.notes.map((note) => (
        <p key={note} className={classes.note}>
          {note}
        </p>
      ))}
      <p className={classes.text}>{step.text}</p>
    </header>
  );
}

function PencilRow({ one, many, still, onTick, onUntick }: { one: ToLay; many: boolean; still: boolean; onTick: () => void; onUntick: () => void }) {
  const { colour, layer } = one;
  const how = layer.pressure === "burnish" ? "burnish" : `${layer.layers === 1 ? "one" : layer.layers} ${layer.pressure} ${layer.layers === 1 ? "layer" : "layers"}`;
  const done = one.ticked >= layer.layers;
  return (
    <div className={classes.pencil} data-done={done || undefined}>
      <div className={classes.mark}>
        <Mark mark={one.mark} seed={colour.id} height={many ? 44 : 62} />
      </div>
      <code className={classes.code}>{colour.code}</code>
      <div className={classes.names}>
        <span className={classes.name}>
          {colour.range} {colour.name}
        </span>
        <span className={classes.place}>{one.place === "" ? one.owning : one.place}</span>
        {one.stands_in_for !== null && (
          <span className={classes.standIn}>
            <span aria-hidden="true">↪ </span>for {one.stands_in_for.range} {one.stands_in_for.code} {one.stands_in_for.name}
            {one.apart !== null && `: ${inWords(one.apart, 1)}`}
          </span>
        )}
      </div>
      <div className={classes.strokes} role="group" aria-label={`${colour.range} ${colour.code}: ${how}`}>
        <span className={classes.how}>{how}</span>
        <span className={classes.ticks}>
          {Array.from({ length: layer.layers }, (_, i) => (
            <button key={i} type="button" className={classes.tick} disabled={still} aria-pressed={i < one.ticked} aria-label={`Layer ${i + 1} of ${colour.range} ${colour.code}`}
              onClick={() => (i < one.ticked ? onUntick() : onTick())}>
              {i < one.ticked ? "✓" : ""}
            </button>
          ))}
        </span>
      </div>
    </div>
  );
}

/** The passage as it should be now and after this step, edge to edge. */
function Passage({ step, paper }: { step: Step; paper: string }) {
  if (step.pencils.length === 0 && step.missing.length > 0) {
    return <p className={`soft ${classes.passage ?? ""}`}>What this step will look like is not known before a pencil is chosen for it.</p>;
  }
  if (step.now === null || step.after === null) {
    return <p className={`soft ${classes.passage ?? ""}`}>What this step will look like is not known: a pencil of it, or below it, is not swatched.</p>;
  }
  return (
    <figure className={classes.passage}>
      <div className={classes.pair}>
        <PatchView patch={step.now.patch} />
        <PatchView patch={step.after.patch} />
      </div>
      <figcaption>
        <span className={classes.sides}>
          <span>now</span>
          <span>after this step</span>
        </span>
        {step.changes !== null && <strong className={classes.look}>Look for: {inWords(step.changes, 1)}</strong>}
        <span className="soft">
          {sentence(seenWords(step.after))} on {paper}
          {step.missing.length > 0 && `, without ${step.missing.join(", ")}`}. Screens differ; the paper decides.
        </span>
      </figcaption>
    </figure>
  );
}

/** What is to be minded, once a sitting; closed by a key, open again from the step. */
function Cautions({ bench, step }: { bench: Bench; step: Step }) {
  const [read, setRead] = useSessionStorage<string[]>({ key: `tidy-tinder-cautions-${bench.clock?.sitting_id ?? 0}`, defaultValue: [], getInitialValueInEffect: false });
  const fresh = step.cautions.filter((one) => !read.includes(one.material));
  const close = () => setRead([...read, ...fresh.map((one) => one.material)]);
  const again = () => setRead(read.filter((one) => !step.cautions.some((caution) => caution.material === one)));
  useKeys({ c: () => (fresh.length > 0 ? close() : again()) });
  if (step.cautions.length === 0) return null;
  if (fresh.length === 0) {
    return (
      <button type="button" className="button" onClick={again}>
        <kbd>c</kbd> What to mind with {step.cautions.map((one) => one.material).join(" and ")}
      </button>
    );
  }
  return (
    <div className="caution" role="note">
      {fresh.map((one) => (
        <p key={one.material}>
          <strong>{sentence(one.material)}:</strong> {one.words}
        </p>
      ))}
      <p>
        {bench.first}{" "}
        <button type="button" className="button" onClick={close}>
          <kbd>c</kbd> Read
        </button>
      </p>
    </div>
  );
}

function AsYouGo({ bench, onWet }: { bench: Bench; onWet: () => void }) {
  return (
    <section className={classes.step} aria-label="As you go">
      <p className={classes.text}>As you go</p>
      <p>
        Press <kbd>l</kbd> and write the code, the name, or # and the number in the tray of each pencil that you take. At the end the log is a recipe.
      </p>
      {bench.log.slice(0, 4).map((entry) => (
        <p key={entry.id} className={classes.past}>
          <code className={classes.code}>{entry.colour?.code ?? "·"}</code> {entry.colour === null ? entry.note || entry.kind : `${entry.colour.range} ${entry.colour.name}`}
        </p>
      ))}
      {bench.wet_here === null && (
        <p>
          <button type="button" className="button" onClick={onWet}>
            <kbd>w</kbd> Solvent is on: time it
          </button>
        </p>
      )}
    </section>
  );
}

function Finished({ bench, onBack }: { bench: Bench; onBack: () => void }) {
  return (
    <section className={classes.step} aria-label="The end">
      <p className={classes.text}>All {bench.steps.length} steps are done.</p>
      <p>
        Add to the log what is missing, end the sitting, and look at <Link to="/bench/done">what was done</Link>: it can be kept as a recipe.
      </p>
      <p>
        <button type="button" className="button" onClick={onBack}>
          <kbd>b</kbd> Back to the last step
        </button>
      </p>
    </section>
  );
}
