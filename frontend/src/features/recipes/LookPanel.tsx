import { useEffect, useRef, useState } from "react";
import { Failed } from "../../shared/ui/Problem";
import { useKeys } from "../../shared/keys";
import { useCallForWords, useLookThrough, type Step } from "./queries";
import { Words } from "./Words";
import classes from "../../shared/ui/answers.module.css";
import own from "./words.module.css";

/** A line with words that were read as nothing: the artist says which of them are colours, or that none is. */
export function LookPanel({ step, onBack, onAnswered }: { step: Step; onBack: () => void; onAnswered: () => void }) {
  const look = useLookThrough(onAnswered);
  const call = useCallForWords();
  const [typed, setTyped] = useState("");
  const busy = look.isPending || call.isPending;
  const none = (asNote: boolean) => look.mutate({ step, asNote });
  const name = (words: string, start: number | null) =>
    call.mutate({ step: step.id, words, start }, { onSuccess: () => setTyped("") });
  const count = useRef(step.left.length);
  useEffect(() => {
    // The button that was pressed is gone: the next one is where the keyboard goes on.
    if (count.current !== step.left.length && document.activeElement === document.body) document.getElementById("answers")?.focus();
    count.current = step.left.length;
  }, [step.left.length]);
  // A key that is held answers one line, and not those after it, which she has not seen.
  useKeys({ "0": (event) => !event.repeat && !busy && none(false) });
  const error = look.error ?? call.error;
  return (
    <aside
      className={`side-panel ${classes.panel ?? ""}`}
      aria-label="The line to look through"
      onKeyDown={(event) => {
        if (event.key === "Escape") onBack();
      }}
    >
      <header>
        <p>To look through</p>
        <h2>Does this line name {step.calls.length > 0 ? "another" : "a"} colour?</h2>
        <p>
          <Words text={step.text} read={[]} left={step.left} />
        </p>
      </header>
      <section>
        <h3>It does</h3>
        <ul className={classes.choices}>
          {step.left.map(({ start, end }, i) => {
            const words = step.text.slice(start, end);
            return (
              <li key={start}>
                <button id={i === 0 ? "answers" : undefined} type="button" className={`button ${own.word ?? ""}`} disabled={busy} onClick={() => name(words, start)}>
                  “{words}” is a colour
                </button>
              </li>
            );
          })}
        </ul>
        <form
          className={own.form}
          onSubmit={(event) => {
            event.preventDefault();
            name(typed, null);
          }}
        >
          <label htmlFor={step.left.length === 0 ? "answers" : "other-words"}>Other words of the line</label>
          <input
            id={step.left.length === 0 ? "answers" : "other-words"}
            className="field"
            value={typed}
            onChange={(event) => setTyped(event.currentTarget.value)}
          />
          <button type="submit" className="button" disabled={busy || typed.trim() === ""}>
            These are a colour
          </button>
        </form>
      </section>
      <section>
        <h3>It does not</h3>
        <ul className={classes.choices}>
          <li>
            <button type="button" className="button" disabled={busy} onClick={() => none(false)}>
              No {step.calls.length > 0 ? "other " : ""}colour in it <kbd>0</kbd>
            </button>
          </li>
          {step.kind === "step" && step.calls.length === 0 && (
            <li>
              <button type="button" className="button" disabled={busy} onClick={() => none(true)}>
                It is a note, no step
              </button>
            </li>
          )}
        </ul>
      </section>
      {error !== null && <Failed error={error} />}
    </aside>
  );
}
