import { useState, type ReactNode } from "react";
import { Link, useNavigate } from "react-router";
import { useKeys } from "../../shared/keys";
import { PatchView } from "../../shared/ui/Comparison";
import { Failed } from "../../shared/ui/Problem";
import { sentence } from "../../shared/words";
import { Beside } from "./Beside";
import { handsIn, useOtherHands, type Hands } from "./hands";
import { changing, usePlan, usePutInto, useTakePlan, type PassagePlan, type Plan, type PlanOf, type PlanSoFar } from "./planQueries";
import type { Recipe } from "./queries";
import classes from "./PlanBar.module.css";

/** The plan of the whole recipe in one line, what it would change, and taking it; children: what else is asked of all of it. */
export function PlanBar({ recipe, of, onHands, children }: {
  recipe: Recipe;
  of: PlanOf;
  onHands: (hands: Hands) => void;
  children: ReactNode;
}) {
  const { found, error, again, stop } = usePlan(of);
  const take = useTakePlan(of);
  const putInto = usePutInto(of);
  const navigate = useNavigate();
  const [open, setOpen] = useState(false);
  const mine = of.hands === "mine";
  const plan = found?.plan ?? null;
  const takes = mine && plan !== null && plan.changes > 0 && !take.isPending;
  const write = () => putInto.mutate(undefined, { onSuccess: (saved) => void navigate(`/recipes/${saved.recipe_id}`) });
  useKeys({
    y: () => {
      if (plan !== null && takes) take.mutate(plan);
      else if (plan !== null && !mine && found?.ended === true && !putInto.isPending) write();
    },
    c: () => setOpen(!open),
  });
  return (
    <section className={classes.bar} aria-label="The plan" data-ended={found?.ended ?? false}>
      <div className={classes.line}>
        <p aria-live="polite">{plan === null ? <Waiting found={found} /> : <Standing plan={plan} unsettled={recipe.card.unsettled} />}</p>
        {found !== undefined && !found.ended && <Progress found={found} onStop={() => stop.mutate()} />}
        {found?.ended === true && (found.stopped || found.failed) && (
          <button type="button" className="button" disabled={again.isPending} onClick={() => again.mutate()}>
            Work on it again
          </button>
        )}
        {plan !== null && (
          <button type="button" className="button" aria-expanded={open} onClick={() => setOpen(!open)}>
            {plan.changes === 0 ? "What it comes to" : "What would change"} <kbd>c</kbd>
          </button>
        )}
        {plan !== null && !mine && (
          <button type="button" className="button" data-strong disabled={putInto.isPending || found?.ended !== true} onClick={write}>
            Write it as a recipe <kbd>y</kbd>
          </button>
        )}
        {mine && plan !== null && plan.changes > 0 && (
          <button type="button" className="button" data-strong disabled={take.isPending} onClick={() => take.mutate(plan)}>
            Take this plan <kbd>y</kbd>
          </button>
        )}
        <WithHands hands={of.hands} onHands={onHands} />
        {children}
      </div>
      {found?.problem !== undefined && found.problem !== "" && <p className="caution">{found.problem}</p>}
      {plan?.warnings.map((warning) => (
        <p key={warning} className="caution">
          {warning}
        </p>
      ))}
      {[error, take.error, stop.error, putInto.error].map((one, i) => one !== null && <Failed key={i} error={one} />)}
      {open && plan !== null && <Change recipe={recipe} plan={plan} of={of} ended={found?.ended === true} />}
    </section>
  );
}

/** With which pencils it is planned: her own, or somebody else's range or box. */
function WithHands({ hands, onHands }: { hands: Hands; onHands: (hands: Hands) => void }) {
  const { data: all } = useOtherHands();
  return (
    <select className="field" aria-label="Planned with" value={hands} onChange={(event) => onHands(handsIn(event.currentTarget.value))}>
      <option value="mine">with my pencils</option>
      {all?.ranges.map(({ id, name, colours }) => (
        <option key={id} value={`range ${id}`}>
          with only {name} ({colours})
        </option>
      ))}
      {all?.boxes.map(({ id, name, colours }) => (
        <option key={id} value={`box ${id}`}>
          with the box {name} ({colours})
        </option>
      ))}
    </select>
  );
}

/** What is known of the plan: how near, how much nearer than call by call, and how sure that is. */
function Standing({ plan, unsettled }: { plan: Plan; unsettled: number }) {
  const gained = plan.by_itself - plan.expected;
  return (
    <>
      <strong>{plan.changes === 0 ? "Planned" : `Plan for ${plan.changes} ${plan.changes === 1 ? "call" : "calls"}`}</strong>:{" "}
      <span title="The differences of all finished passages that are to be expected, summed, in ΔE00">
        {plan.expected.toFixed(1)} ΔE in all
      </span>
      {gained > 0.05 && (
        <span title="The same where each call is answered by itself, with what is nearest to it"> ({plan.by_itself.toFixed(1)} call by call)</span>
      )}
      {" · "}
      <span title={`${plan.tried} ways to lay whole passages were looked at`}>{standing(plan)}</span>
      {unsettled > 0 && ` · without the ${unsettled} to settle`}
    </>
  );
}

/** How sure it is, in words; nothing is called the best that was not looked at. */
function standing(plan: Plan): string {
  if (plan.gap !== null && plan.gap > 0.005) return `${plan.standing}, at most ${plan.gap.toFixed(1)} ΔE from the best`;
  return plan.standing;
}

function Waiting({ found }: { found: PlanSoFar | undefined }) {
  if (found?.ended === true) return <>No plan yet</>;
  return <>A plan for the whole recipe is being worked out</>;
}

function Progress({ found, onStop }: { found: PlanSoFar; onStop: () => void }) {
  return (
    <>
      {found.total > 0 && (
        <label className={classes.progress}>
          <span>
            {found.doing}: {found.done} of {found.total}
          </span>
          <progress value={found.done} max={found.total} aria-label={found.doing} />
        </label>
      )}
      <button type="button" className="button" onClick={onStop}>
        Stop
      </button>
    </>
  );
}

/** What taking the plan changes, call by call, and what becomes of the values. */
function Change({ recipe, plan, of, ended }: { recipe: Recipe; plan: Plan; of: PlanOf; ended: boolean }) {
  const names = new Map(recipe.steps.flatMap((step) => step.calls.map((call) => [call.id, call.colour?.code ?? call.as_written] as const)));
  const changes = changing(plan);
  return (
    <div className={classes.change}>
      <ValueLadder passages={plan.passages} />
      {ended && <Beside plan={plan} of={of} />}
      <div>
        {changes.length > 0 && (
          <ul className={classes.changes} aria-label="Calls that change">
            {changes.map((call) => (
              <li key={call.call_id}>
                <code>{names.get(call.call_id)}</code> {call.now === "" ? "open" : call.now} → <strong>{call.said}</strong>
              </li>
            ))}
          </ul>
        )}
        {changes.length === 0 && <p>Every call is laid as the plan has it.</p>}
        <ul className={classes.changes} aria-label="Left out of the plan">
          {plan.left_out.map(({ call_id, why }) => (
            <li key={call_id}>
              <code>{names.get(call_id)}</code> is left out: {why}.
            </li>
          ))}
        </ul>
        {plan.passages.map((passage) => passage.to_buy.length > 0 && <ToBuy key={passage.area} passage={passage} />)}
      </div>
    </div>
  );
}

function ToBuy({ passage }: { passage: PassagePlan }) {
  return (
    <p className="caution">
      Nothing at hand brings {passage.area === "" ? "this" : `“${passage.area}”`} nearer than ΔE {passage.difference.delta_e.toFixed(1)}. Any of these would:{" "}
      {passage.to_buy.map((colour, i) => (
        <span key={colour.id}>
          {i > 0 && ", "}
          <Link to={`/tidy/colours/${colour.id}`}>
            {colour.range} <code>{colour.code}</code> {colour.name}
          </Link>
        </span>
      ))}
      .
    </p>
  );
}

/** The finished passages from light to dark, as asked for over as planned. */
function ValueLadder({ passages }: { passages: readonly PassagePlan[] }) {
  const ladder = [...passages].sort((p, q) => q.asked_value - p.asked_value);
  return (
    <table className={classes.ladder}>
      <caption>Values of the finished passages, light to dark</caption>
      <thead>
        <tr>
          <th scope="col">passage</th>
          <th scope="col">asked</th>
          <th scope="col">planned</th>
          <th scope="col">ΔE expected</th>
        </tr>
      </thead>
      <tbody>
        {ladder.map((passage, i) => {
          const last = passage.calls.at(-1);
          return (
            <tr key={`${passage.area} ${i}`}>
              <th scope="row">{passage.area === "" ? "the rest" : sentence(passage.area)}</th>
              <td>
                {last !== undefined && <span className={`surround ${classes.value ?? ""}`}><PatchView patch={last.asked_after} /></span>}
                {passage.asked_value.toFixed(1)}
              </td>
              <td>
                {last !== undefined && <span className={`surround ${classes.value ?? ""}`}><PatchView patch={last.planned_after} /></span>}
                {passage.planned_value.toFixed(1)}
              </td>
              <td title="How far off the difference may be, nine times of ten">
                {passage.expected.toFixed(1)} ± {passage.plus_minus.toFixed(1)}
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}
