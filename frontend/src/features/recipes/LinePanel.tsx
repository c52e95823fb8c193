import { Link } from "react-router";
import { Barrel } from "../../shared/ui/Barrel";
import { Mark } from "../../shared/ui/Mark";
import { Failed } from "../../shared/ui/Problem";
import { isMarkPressure, MARK_PRESSURES, MOST_LAYERS, oneOf, PURPOSES, STEP_KINDS } from "../../shared/vocabulary";
import { useLayCall } from "./editQueries";
import type { Acts, EditLine } from "./editing";
import type { Call, Recipe } from "./queries";
import classes from "./edit.module.css";

interface Props {
  recipe: Recipe;
  line: EditLine | undefined;
  first: boolean;
  last: boolean;
  act: Acts;
  undo: (() => void) | null;
}

/** The line at hand: what it is, what it is for, how its colours are laid, and what can be done with it. */
export function LinePanel({ recipe, line, first, last, act, undo }: Props) {
  const step = recipe.steps.find(({ id }) => id === line?.id);
  const calls = step?.calls ?? [];
  return (
    <aside className={`side-panel ${classes.panel ?? ""}`} aria-label="The line at hand">
      {line === undefined ? (
        <p>This recipe has no line yet.</p>
      ) : (
        <>
          <section>
            <h2>{line.kind === "step" ? "This step" : line.kind === "heading" ? "This heading" : "This note"}</h2>
            <div className={classes.form}>
              <label>
                It is a{" "}
                <select className="field" value={line.kind} onChange={(event) => act.set({ kind: oneOf(STEP_KINDS, event.currentTarget.value) ?? "step" })}>
                  {STEP_KINDS.map((kind) => (
                    <option key={kind}>{kind}</option>
                  ))}
                </select>
              </label>
              {line.kind !== "heading" && (
                <>
                  <label>
                    Its purpose{" "}
                    <select className="field" value={line.purpose} onChange={(event) => act.set({ purpose: oneOf(PURPOSES, event.currentTarget.value) ?? "" })}>
                      <option value="">{step !== undefined && step.purpose !== "" && step.said_purpose === "" ? `${step.purpose}, by its words` : "as its words say"}</option>
                      {PURPOSES.map((purpose) => (
                        <option key={purpose}>{purpose}</option>
                      ))}
                    </select>
                  </label>
                  <label>
                    <input type="checkbox" checked={line.waits} onChange={(event) => act.set({ waits: event.currentTarget.checked })} /> then it is left to dry
                  </label>
                </>
              )}
            </div>
          </section>
          <section className={classes.buttons}>
            <button type="button" className="button" disabled={first} onClick={act.up}>
              Move up
            </button>
            <button type="button" className="button" disabled={last} onClick={act.down}>
              Move down
            </button>
            <button type="button" className="button" onClick={act.double}>
              Double
            </button>
            <button type="button" className="button" disabled={first} onClick={act.join}>
              Join to the one above
            </button>
            <button type="button" className="button" onClick={act.remove}>
              Remove the line
            </button>
          </section>
        </>
      )}
      <section className={classes.buttons}>
        <button type="button" className="button" onClick={() => act.add("step")}>
          Add a step
        </button>
        <button type="button" className="button" onClick={() => act.add("heading")}>
          Add a heading
        </button>
        {undo !== null && (
          <button type="button" className="button" onClick={undo}>
            Take back
          </button>
        )}
      </section>
      {calls.length > 0 && (
        <section>
          <h3>It calls for</h3>
          <ul className={classes.calls}>
            {calls.map((call) => (
              <LaidCall key={call.id} call={call} recipe={recipe.id} />
            ))}
          </ul>
        </section>
      )}
      <details>
        <summary>The text as it was taken in</summary>
        <pre className={classes.source}>{recipe.source_text}</pre>
      </details>
    </aside>
  );
}

/** One call of the line, and how the recipe asks for it. */
function LaidCall({ call, recipe }: { call: Call; recipe: number }) {
  const lay = useLayCall();
  const set = (pressure: string, layers: number) => {
    if (isMarkPressure(pressure)) lay.mutate({ call: call.id, pressure, layers });
  };
  const name = call.colour === null ? `“${call.as_written}”` : `${call.colour.code} ${call.colour.name}`;
  return (
    <li>
      <span className={classes.name}>
        <Barrel owning={call.owning} /> {name}
      </span>
      {call.mark !== null && <Mark mark={call.mark} seed={call.colour?.id ?? 0} height={22} />}
      {call.colour === null ? (
        <Link to={`/recipes/${recipe}?call=${call.id}`}>{call.answer}</Link>
      ) : (
        call.role !== "burnisher" && (
          <span className="row">
            <select className="field" aria-label={`Pressure of ${name}`} value={call.pressure} disabled={lay.isPending} onChange={(event) => set(event.currentTarget.value, call.layers)}>
              {call.pressure === "" && <option value="">no pressure said</option>}
              {MARK_PRESSURES.map((pressure) => (
                <option key={pressure}>{pressure}</option>
              ))}
            </select>
            <select
              className="field"
              aria-label={`Layers of ${name}`}
              value={call.layers}
              disabled={lay.isPending}
              onChange={(event) => set(call.pressure === "" ? call.compared_at : call.pressure, Number(event.currentTarget.value))}
            >
              {Array.from({ length: MOST_LAYERS }, (_, i) => (
                <option key={i} value={i + 1}>
                  {i === 0 ? "one layer" : `${i + 1} layers`}
                </option>
              ))}
            </select>
          </span>
        )
      )}
      {lay.error !== null && <Failed error={lay.error} />}
    </li>
  );
}
