import { useEffect, type KeyboardEvent, type Ref } from "react";
import { Barrel } from "../../shared/ui/Barrel";
import { Mark } from "../../shared/ui/Mark";
import type { Call, Recipe, Step } from "./queries";
import classes from "./CallList.module.css";

interface Props {
  ref: Ref<HTMLDivElement>;
  recipe: Recipe;
  cursor: number | null;
  onMove: (id: number) => void;
}

/** The lines of a recipe as they were written, and under each its calls; arrows move from call to call. */
export function CallList({ ref, recipe, cursor, onMove }: Props) {
  const calls = recipe.steps.flatMap((step) => step.calls);
  useEffect(() => {
    document.getElementById(`call-${cursor ?? ""}`)?.scrollIntoView({ block: "nearest" });
  }, [cursor]);
  const onKey = (event: KeyboardEvent) => {
    if (event.target !== event.currentTarget) return;
    const at = calls.findIndex((c) => c.id === cursor);
    const next = { ArrowDown: calls[at + 1], ArrowUp: calls[at - 1], Home: calls[0], End: calls.at(-1) }[event.key];
    if (event.key === "Enter") document.getElementById("answers")?.focus();
    else if (next !== undefined) onMove(next.id);
    else if (!["ArrowDown", "ArrowUp"].includes(event.key)) return;
    event.preventDefault();
  };
  return (
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
      {recipe.steps.map((step) => (
        <StepView key={step.id} step={step} cursor={cursor} onMove={onMove} />
      ))}
    </div>
  );
}

function StepView({ step, cursor, onMove }: { step: Step; cursor: number | null; onMove: (id: number) => void }) {
  return (
    <div className={classes.step} data-kind={step.kind} role="group" aria-label={step.text}>
      <span className={classes.number}>{step.number}</span>
      <div className={classes.body}>
        <p className={classes.text}>{step.text}</p>
        {step.calls.map((call) => (
          <CallView key={call.id} call={call} current={call.id === cursor} onMove={onMove} />
        ))}
      </div>
    </div>
  );
}

function CallView({ call, current, onMove }: { call: Call; current: boolean; onMove: (id: number) => void }) {
  const name = call.colour ? `${call.colour.range} ${call.colour.code} ${call.colour.name}` : `“${call.as_written}”`;
  return (
    <div
      id={`call-${call.id}`}
      role="option"
      aria-selected={current}
      aria-label={[name, how(call), answerWords(call)].filter((part) => part !== "").join(", ")}
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
            <code>{call.colour.code}</code> {call.colour.name}
          </>
        )}{" "}
        <span className={classes.how}>{how(call)}</span>
      </span>{" "}
      <span className={classes.answer}>{answerWords(call)}</span>
    </div>
  );
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
    if (layered !== null) {
      const pencils = layered.laid.map(({ colour }) => colour.code).join(" + ");
      return `⇄ ${pencils}, ΔE ${layered.difference.delta_e.toFixed(1)} in the passage`;
    }
    if (offer === null && call.working) return "⇄ its layers are being worked out";
    return offer === null
      ? "stand-in is not at hand any more"
      : `⇄ ${offer.colour.code} ${offer.colour.name}, ΔE ${offer.difference.delta_e.toFixed(1)}`;
  }
  if (call.answer === "open" && call.elsewhere) return "open: yours is not with you";
  if (call.answer === "open" && call.owning === "lost") return "open: yours is lost";
  return call.answer;
}
