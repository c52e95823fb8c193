import { ColourFinder } from "../../shared/ui/Finder";
import { Failed } from "../../shared/ui/Problem";
import { useSettle, type Call } from "./queries";
import classes from "../../shared/ui/answers.module.css";

/** A call that could not be read for certain: what it may mean, and the artist says which. */
export function SettlePanel({ call, onBack }: { call: Call; onBack: () => void }) {
  const settle = useSettle();
  const mean = (colour: number | null) => settle.mutate({ call, colour }, { onSuccess: onBack });
  return (
    <aside
      className={`side-panel ${classes.panel ?? ""}`}
      aria-label="The call to settle"
      onKeyDown={(event) => {
        if (event.key === "Escape") onBack();
      }}
    >
      <header>
        <p>{call.answer === "to settle" ? "To settle" : "Not a colour"}</p>
        <h2>“{call.as_written}”</h2>
        <p>{call.problem}</p>
      </header>
      {call.candidates.length > 0 && (
        <section>
          <h3>It may mean</h3>
          <ul className={classes.choices}>
            {call.candidates.map((colour, i) => (
              <li key={colour.id}>
                <button
                  id={i === 0 ? "answers" : undefined}
                  type="button"
                  className="button"
                  disabled={settle.isPending}
                  onClick={() => mean(colour.id)}
                >
                  {colour.range} <code>{colour.code}</code> {colour.name}
                </button>
              </li>
            ))}
          </ul>
        </section>
      )}
      <section>
        <h3>Another colour</h3>
        <ColourFinder
          // Enter leads here where nothing comes near, and a second Enter throws nothing away.
          id={call.candidates.length === 0 ? "answers" : undefined}
          label="Find the colour that is meant"
          placeholder="A code or a name"
          onPick={(colour) => mean(colour.id)}
        />
      </section>
      {call.answer === "to settle" && (
        <section>
          <button type="button" className="button" disabled={settle.isPending} onClick={() => mean(null)}>
            It is not a colour
          </button>
        </section>
      )}
      {settle.error !== null && <Failed error={settle.error} />}
    </aside>
  );
}
