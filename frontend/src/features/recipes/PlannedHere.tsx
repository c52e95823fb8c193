import { useKeys } from "../../shared/keys";
import { Failed } from "../../shared/ui/Problem";
import { sentence } from "../../shared/words";
import { useExclude, useLock, type CallPlan } from "./planQueries";
import type { Call } from "./queries";
import classes from "./PlannedHere.module.css";

/** What the plan lays for the call at the cursor, and what the artist says to that: not this pencil, or leave mine. */
export function PlannedHere({ call, plan, paper }: { call: Call; plan: CallPlan | undefined; paper: number }) {
  const lock = useLock(paper);
  const exclude = useExclude(paper);
  const first = plan?.settled === false ? plan.laid[0]?.colour : undefined;
  const leaveOut = (colour: number, excluded = true) => exclude.mutate({ call: call.id, colour, excluded });
  useKeys({
    x: () => first !== undefined && leaveOut(first.id),
    k: () => call.answer === "stand-in" && lock.mutate({ call: call.id, locked: !call.locked }),
  });
  if (call.answer === "owned") return null;
  return (
    <section className={classes.here} aria-label="In the plan">
      {plan?.settled === false && (
        <>
          <p>
            <strong>{plan.changes ? "The plan lays" : "As the plan has it"}:</strong> {sentence(plan.said)}
            {plan.instead !== null && ` for ${plan.instead.code} ${plan.instead.name}`}
          </p>
          <p className={classes.buttons}>
            {plan.laid.map(({ colour }, i) => (
              <button key={colour.id} type="button" className="button" disabled={exclude.isPending} onClick={() => leaveOut(colour.id)}>
                Not <code>{colour.code}</code> here {i === 0 && <kbd>x</kbd>}
              </button>
            ))}
          </p>
        </>
      )}
      {call.answer === "stand-in" && (
        <label className={classes.lock}>
          <input
            type="checkbox"
            checked={call.locked}
            disabled={lock.isPending}
            onChange={(event) => lock.mutate({ call: call.id, locked: event.currentTarget.checked })}
          />
          Locked: plans leave it as it is <kbd>k</kbd>
        </label>
      )}
      {call.excluded.length > 0 && (
        <p className={classes.buttons}>
          Left out here:
          {call.excluded.map((colour) => (
            <button key={colour.id} type="button" className="button" disabled={exclude.isPending} onClick={() => leaveOut(colour.id, false)}>
              Offer <code>{colour.code}</code> again
            </button>
          ))}
        </p>
      )}
      {[lock.error, exclude.error].map((error, i) => error !== null && <Failed key={i} error={error} />)}
    </section>
  );
}
