import { useKeys } from "../../shared/keys";
import { Failed } from "../../shared/ui/Problem";
import { sentence } from "../../shared/words";
import { useChecks, useFollowAdvice, useSwitchCheck, type Checked, type Finding, type Rule } from "./checkQueries";
import type { Recipe } from "./queries";
import classes from "./Checks.module.css";

/** Opens what the checks find, and says how much that is. */
export function ChecksButton({ checked, open, onOpen }: { checked: Checked | undefined; open: boolean; onOpen: (open: boolean) => void }) {
  useKeys({ w: () => onOpen(!open) });
  if (checked === undefined) return null;
  const found = checked.findings.length > 0;
  return (
    <button type="button" className={`button ${classes.summary ?? ""}`} data-found={found || undefined} aria-expanded={open} onClick={() => onOpen(!open)}>
      {found && <span aria-hidden="true">⚠ </span>}
      {summary(checked)} <kbd>w</kbd>
    </button>
  );
}

interface Props {
  recipe: Recipe;
  paper: number;
  open: boolean;
  onLook: (call: number) => void;
}

/** What will not work in a recipe, each with its reason and what to do about it; which checks are switched off. */
export function Checks({ recipe, paper, open, onLook }: Props) {
  const { data: checked, error } = useChecks(recipe.id, paper);
  const follow = useFollowAdvice(recipe.id, paper);
  const turn = useSwitchCheck(recipe.id);
  if (error !== null) return <Failed error={error} />;
  const failed = [follow.error, turn.error].some((one) => one !== null);
  if (checked === undefined || (!open && !failed)) return null;
  const numbers = new Map(recipe.steps.map((step) => [step.id, step.number] as const));
  return (
    <section className={classes.checks} aria-label="Checks">
      {[follow.error, turn.error].map((one, i) => one !== null && <Failed key={i} error={one} />)}
      {open && (
        <div className={classes.open}>
          <ul aria-label="What was found">
            {checked.findings.map((finding) => (
              <li key={`${finding.rule} ${finding.step} ${finding.call ?? ""}`} className="caution">
                <Found finding={finding} number={numbers.get(finding.step) ?? null} />
                <div className="row">
                  {finding.remedy !== null && (
                    <button type="button" className="button" disabled={follow.isPending} onClick={() => follow.mutate(finding)}>
                      {finding.remedy.words}
                    </button>
                  )}
                  {finding.call !== null && (
                    <button type="button" className="button" onClick={() => finding.call !== null && onLook(finding.call)}>
                      Go to the call
                    </button>
                  )}
                  <button type="button" className="button" onClick={() => turn.mutate({ rule: finding.rule, off: true, everywhere: false })}>
                    Not in this recipe
                  </button>
                  <button type="button" className="button" onClick={() => turn.mutate({ rule: finding.rule, off: true, everywhere: true })}>
                    Not in any recipe
                  </button>
                </div>
              </li>
            ))}
          </ul>
          <Off checked={checked} onSwitch={(rule, everywhere) => turn.mutate({ rule, off: false, everywhere })} />
        </div>
      )}
    </section>
  );
}

function summary({ findings, working, rules, off_here: here, off_everywhere: everywhere }: Checked): string {
  if (working) return "Checks wait until your marks are worked out";
  if (findings.length > 0) return `${findings.length} ${findings.length === 1 ? "thing" : "things"} that may not work`;
  return `${rules.length - new Set([...here, ...everywhere]).size} checks find nothing`;
}

function Found({ finding, number }: { finding: Finding; number: number | null }) {
  return (
    <p>
      <strong>
        {sentence(finding.rule)}
        {number !== null && `, step ${number}`}:
      </strong>{" "}
      {finding.saw} <span className={classes.why}>{finding.why}</span> <strong>{finding.advice}</strong>
    </p>
  );
}

/** The checks that are switched off, each to be switched on again. */
function Off({ checked, onSwitch }: { checked: Checked; onSwitch: (rule: Rule, everywhere: boolean) => void }) {
  const off = [
    ...checked.off_here.map((rule) => ({ rule, everywhere: false })),
    ...checked.off_everywhere.map((rule) => ({ rule, everywhere: true })),
  ];
  if (off.length === 0) return null;
  return (
    <ul aria-label="Checks that are switched off" className={classes.off}>
      {off.map(({ rule, everywhere }) => (
        <li key={`${rule} ${everywhere ? "everywhere" : "here"}`}>
          “{rule}” is off {everywhere ? "in every recipe" : "in this recipe"}{" "}
          <button type="button" className="button" onClick={() => onSwitch(rule, everywhere)}>
            Check it again
          </button>
        </li>
      ))}
    </ul>
  );
}
