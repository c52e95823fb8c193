import { useEffect, type KeyboardEvent, type Ref } from "react";
import type { Paper } from "../../shared/queries/collection";
import { Barrel } from "../../shared/ui/Barrel";
import { inWords, PatchView, signed } from "../../shared/ui/Comparison";
import { Mark } from "../../shared/ui/Mark";
import { sentence } from "../../shared/words";
import type { Checked } from "./checkQueries";
import { callsOf, type CallPlan, type Plan } from "./planQueries";
import type { Call, Recipe, Step } from "./queries";
import { stopOf, stopsOf } from "./stops";
import classes from "./CallList.module.css";

interface Props {
  ref: Ref<HTMLDivElement>;
  recipe: Recipe;
  paper: Paper;
  plan: Plan | null;
  checked: Checked | undefined;
  cursor: number | null;
  onMove: (id: number) => void;
}

/** The build-up strip: the lines as they were written with their calls, and at the right the passage after each, as
 * asked and as planned, edge to edge all the way down. Arrows move from call to call. */
export function CallList({ ref, recipe, paper, plan, checked, cursor, onMove }: Props) {
  const stops = stopsOf(recipe);
  useEffect(() => {
    document.getElementById(`call-${cursor ?? ""}`)?.scrollIntoView({ block: "nearest" });
  }, [cursor]);
  const onKey = (event: KeyboardEvent) => {
    if (event.target !== event.currentTarget) return;
    const at = stops.findIndex((stop) => stop.id === cursor);
    const next = { ArrowDown: stops[at + 1], ArrowUp: stops[at - 1], Home: stops[0], End: stops.at(-1) }[event.key];
    if (event.key === "Enter") document.getElementById("answers")?.focus();
    else if (next !== undefined) onMove(next.id);
    else if (!["ArrowDown", "ArrowUp"].includes(event.key)) return;
    event.preventDefault();
  };
  const planned = callsOf(plan);
  return (
    <>
      {plan !== null && (
        <div className={classes.heads} aria-hidden="true">
          <span>the passage after each step, predicted</span>
          <span className={classes.headPair}>
            <span>asked</span>
            <span>planned</span>
          </span>
        </div>
      )}
      <div
        ref={ref}
        className={classes.list}
        role="listbox"
        data-main
        tabIndex={0}
        aria-label={`Calls of ${recipe.title}`}
        aria-activedescendant={cursor === null ? undefined : `call-${cursor}`}
        onKeyDown={onKey}
      >
        {recipe.steps.map((step, i) => (
          <StepView
            key={step.id}
            step={step}
            planned={planned}
            checked={checked}
            after={plan === null ? null : stateAfter(recipe.steps, i, planned, paper)}
            cursor={cursor}
            onMove={onMove}
          />
        ))}
      </div>
    </>
  );
}

/** How a passage stands after a step: as asked, as planned, and how these differ where something was laid. */
interface State {
  asked: CallPlan["asked_after"];
  planned: CallPlan["planned_after"];
  difference: CallPlan["difference"] | null;
}

/** The passage of a step after it: what the last call before it in the same area left, or the bare paper. */
function stateAfter(steps: readonly Step[], at: number, planned: ReadonlyMap<number, CallPlan>, paper: Paper): State {
  const area = steps[at]?.area;
  const laid = steps
    .slice(0, at + 1)
    .filter((step) => step.area === area)
    .flatMap((step) => step.calls.flatMap((call) => planned.get(call.id) ?? []))
    .at(-1);
  const here = steps[at]?.calls.some((call) => planned.has(call.id)) === true;
  if (laid === undefined) return { asked: paper.colour, planned: paper.colour, difference: null };
  return { asked: laid.asked_after, planned: laid.planned_after, difference: here ? laid.difference : null };
}

function StepView({ step, planned, checked, after, cursor, onMove }: {
  step: Step;
  checked: Checked | undefined;
  planned: ReadonlyMap<number, CallPlan>;
  after: State | null;
  cursor: number | null;
  onMove: (id: number) => void;
}) {
  return (
    <div className={classes.step} data-kind={step.kind} data-planned={after !== null || undefined} role="group" aria-label={step.text}>
      <span className={classes.number}>{step.number}</span>
      <div className={classes.body}>
        <p className={classes.text}>{step.text}</p>
        <Minded step={step} checked={checked} />
        {step.calls.map((call) => (
          <CallView key={call.id} call={call} plan={planned.get(call.id)} current={call.id === cursor} onMove={onMove} />
        ))}
        {step.to_look_through && <ToLookThrough step={step} current={stopOf(step) === cursor} onMove={onMove} />}
      </div>
      {after !== null && <StripCell after={after} />}
    </div>
  );
}

/** What the step is for where the artist says so, what may not work in it, and what is to be minded. */
function Minded({ step, checked }: { step: Step; checked: Checked | undefined }) {
  const rules = new Set(checked?.findings.filter((finding) => finding.step === step.id).map(({ rule }) => rule));
  const cautions = checked?.cautions.find((one) => one.step === step.id)?.cautions ?? [];
  const said = [step.said_purpose, step.said_waits ? "left to dry" : ""].filter((part) => part !== "");
  return (
    <>
      {said.length > 0 && <p className={classes.said}>{said.join(", ")}</p>}
      {rules.size > 0 && (
        <p className={classes.warned}>
          <span aria-hidden="true">⚠ </span>
          {[...rules].join(", ")}
        </p>
      )}
      {cautions.map(({ material, words }) => (
        <p key={material} className="caution">
          <strong>{sentence(material)}:</strong> {words} {checked?.first}
        </p>
      ))}
    </>
  );
}

/** One stretch of the strip: how far the passages are apart, and both of them. */
function StripCell({ after }: { after: State }) {
  const { difference } = after;
  return (
    <>
      <span className={classes.figures}>
        {difference !== null && (
          <>
            <span title={`ΔE00 of the passage so far: ${inWords(difference)}`}>{difference.delta_e.toFixed(1)}</span>
            <span className={classes.value} title="Steps of Munsell value by which the planned passage is lighter (+) or darker (−)">
              {signed(difference.delta_value)} V
            </span>
          </>
        )}
      </span>
      <div className={`surround ${classes.strip ?? ""}`} data-hued="surround" aria-hidden="true">
        <PatchView patch={after.asked} />
        <PatchView patch={after.planned} />
      </div>
    </>
  );
}

/** A line that is still to be looked through, as a stop of the cursor. */
function ToLookThrough({ step, current, onMove }: { step: Step; current: boolean; onMove: (id: number) => void }) {
  const stop = stopOf(step);
  const words = step.left.map(({ start, end }) => `“${step.text.slice(start, end)}”`).join(", ");
  return (
    <div
      id={`call-${stop}`}
      role="option"
      aria-selected={current}
      className={classes.call}
      data-current={current || undefined}
      onClick={() => onMove(stop)}
    >
      <span className={classes.look}>
        <strong>to look through:</strong> {words === "" ? "the line" : words} may name {step.calls.length > 0 ? "one more" : "a colour"}
      </span>
    </div>
  );
}

function CallView({ call, plan, current, onMove }: { call: Call; plan: CallPlan | undefined; current: boolean; onMove: (id: number) => void }) {
  const or = call.other === null ? "" : ` or ${call.other.code} ${call.other.name}`;
  const proposed = plan?.changes === true ? `plan: ${short(plan)}` : "";
  return (
    <div
      id={`call-${call.id}`}
      role="option"
      aria-selected={current}
      className={classes.call}
      data-current={current || undefined}
      data-answer={call.answer}
      onClick={() => onMove(call.id)}
    >
      {call.mark ? (
        <>
          <Barrel owning={call.owning} />
          <span className={classes.mark}>
            <Mark mark={call.mark} seed={call.colour?.id ?? 0} height={24} />
          </span>
        </>
      ) : (
        <span className={classes.unread}>{call.as_written}</span>
      )}{" "}
      <span className={classes.name}>
        {call.colour && (
          <>
            <span className="visually-hidden">{call.colour.range} </span>
            <code>{call.colour.code}</code> {call.colour.name + or}
          </>
        )}{" "}
        <span className={classes.how}>
          {how(call)}
          {how(call) !== "" && " · "}
          <span className={classes.answer}>{answerWords(call)}</span>
        </span>
        {proposed !== "" && <span className={classes.proposed}> {proposed}</span>}
      </span>
    </div>
  );
}

/** What a plan lays for a call, as short as it can be said. */
function short(plan: CallPlan): string {
  const of = plan.instead === null ? "" : `for ${plan.instead.code}, `;
  return of + plan.laid.map(({ colour, pressure, layers }) => `${colour.code} ${pressure}${layers > 1 ? ` × ${layers}` : ""}`).join(", then ");
}

/** How a call is laid down: "light, two layers, burnisher". */
function how(call: Call): string {
  const layers = call.layers > 1 ? `${call.layers} layers` : "";
  return [call.pressure, layers, call.role].filter((part) => part !== "").join(", ");
}

/** How a call stands, in words; a stand-in with its pencil and how far off it is. */
function answerWords(call: Call): string {
  if (call.answer === "stand-in") {
    const { chosen: offer, layered } = call;
    const kept = call.locked ? ", locked" : "";
    if (layered !== null) {
      const pencils = layered.laid.map(({ colour }) => colour.code).join(" + ");
      return `⇄ ${pencils}, ΔE ${layered.difference.delta_e.toFixed(1)} in the passage${kept}`;
    }
    if (offer === null && call.working) return "⇄ its layers are being worked out";
    return offer === null
      ? "stand-in is not at hand any more"
      : `⇄ ${offer.colour.code} ${offer.colour.name}, ΔE ${offer.difference.delta_e.toFixed(1)}${kept}`;
  }
  if (call.answer === "open" && call.elsewhere) return "open: yours is not with you";
  if (call.answer === "open" && call.owning === "lost") return "open: yours is lost";
  return call.answer;
}
