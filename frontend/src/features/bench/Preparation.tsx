import { Link } from "react-router";
import { useDraft } from "../../shared/ui/draft";
import { useKeys } from "../../shared/keys";
import type { AtBench, Bench } from "./queries";
import classes from "./page.module.css";
import { counted } from "../../shared/words";

/** Before the first step: what to make ready, each with its reason. */
export function Preparation({ bench, acts }: { bench: Bench; acts: AtBench }) {
  const [words, setWords, forget] = useDraft("tidy-tinder-own-task");
  useKeys({ Enter: () => acts.begin.mutate() }, true);
  const left = bench.preparation.filter((task) => !task.ticked).length;
  const add = () =>
    acts.addTask.mutate(words, {
      onSuccess: () => {
        setWords("");
        forget();
      },
    });
  return (
    <div className={classes.preparation} tabIndex={0} role="region" aria-label="Preparation">
      <h2>Before the first step</h2>
      <p className="soft">
        {bench.recipe_id === null
          ? "There is no recipe: work as you go, write down what you use, and it becomes a recipe at the end."
          : `${counted(bench.steps.length, "step")} on ${bench.paper}.`}{" "}
        {left === 0 ? "All is ready." : `${left} of ${bench.preparation.length} to make ready.`}
      </p>
      {bench.missing.length > 0 && (
        <p className="caution">
          {bench.missing.length === 1 ? "One call has" : `${bench.missing.length} calls have`} no pencil yet: {bench.missing.join(", ")}. The bench works
          without; <Link to={`/recipes/${bench.recipe_id ?? ""}`}>choose stand-ins</Link> first where you want them.
        </p>
      )}
      <ul className={classes.tasks}>
        {bench.preparation.map((task) => (
          <li key={task.task}>
            <label>
              <input type="checkbox" checked={task.ticked} onChange={(event) => acts.tick.mutate({ task: task.task, done: event.currentTarget.checked })} />
              <span>
                <strong>{task.words}</strong>
                {task.reason !== "" && <span className="soft"> {task.reason}</span>}
              </span>
            </label>
            {task.own !== null && (
              <button type="button" className="button" aria-label={`Take out: ${task.words}`} onClick={() => task.own !== null && acts.removeTask.mutate(task.own)}>
                Take out
              </button>
            )}
          </li>
        ))}
      </ul>
      <form
        className="row"
        onSubmit={(event) => {
          event.preventDefault();
          if (words.trim() !== "") add();
        }}
      >
        <input className="field" aria-label="A line of your own" placeholder="A line of your own, for every drawing" size={38} value={words} maxLength={120} onChange={(event) => setWords(event.currentTarget.value)} />
        <button type="submit" className="button" disabled={words.trim() === ""}>
          Add
        </button>
      </form>
      <p>
        <button type="button" className="button" data-strong data-main onClick={() => acts.begin.mutate()}>
          Begin the sitting <kbd>Enter</kbd>
        </button>
      </p>
    </div>
  );
}
