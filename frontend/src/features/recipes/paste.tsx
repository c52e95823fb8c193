import { useDebouncedValue } from "@mantine/hooks";
import { Link, useNavigate, useSearchParams } from "react-router";
import { useDraft } from "../../shared/ui/draft";
import { Loading } from "../../shared/ui/Loading";
import { Failed } from "../../shared/ui/Problem";
import { counted } from "../../shared/words";
import { usePaletteText, useReading, useSaveRecipe, useTakeIn, type Reading, type ReadStep } from "./queries";
import { Words } from "./Words";
import classes from "./paste.module.css";

/** Write a recipe down: pasted as text, or begun with the colours of a picture. */
export function PastePage() {
  const [asked] = useSearchParams();
  const picture = asked.has("picture") ? Number(asked.get("picture")) : null;
  const begun = usePaletteText(picture, asked);
  if (begun.error !== null) return <Failed error={begun.error} />;
  if (picture !== null && begun.data === undefined) return <Loading what="the colours of the picture" />;
  return <Paste picture={picture} begun={begun.data?.text ?? ""} />;
}

/** A recipe as text; how it is read stands beside it while one types. begun: what it begins with. */
function Paste({ picture, begun }: { picture: number | null; begun: string }) {
  const [text, setText, forget] = useDraft(picture === null ? "tidy-tinder-recipe-draft" : `tidy-tinder-recipe-of-${picture}`, begun);
  const [settled] = useDebouncedValue(text, 150);
  const reading = useReading(settled);
  const save = useSaveRecipe(picture);
  const navigate = useNavigate();
  const keep = () =>
    save.mutate(text, {
      onSuccess: async (saved) => {
        forget();
        await navigate(`/recipes/${saved.recipe_id}`);
      },
    });
  return (
    <div className={classes.page}>
      <form
        className={classes.form}
        onSubmit={(event) => {
          event.preventDefault();
          keep();
        }}
      >
        <h1>
          <label htmlFor="recipe">{picture === null ? "Paste a recipe" : "A recipe of the picture's colours"}</label>
        </h1>
        {picture === null ? (
          <p>As it was written: one step a line, codes or names, the range once at the top if you like.</p>
        ) : (
          <p>
            Each area is a passage, begun with a light map. Change it as you like: name the areas, turn steps round, leave some out.{" "}
            {text !== begun && (
              <button type="button" className="button" onClick={() => setText(begun)}>
                As the palette has it now
              </button>
            )}
          </p>
        )}
        <textarea
          id="recipe"
          className={`field ${classes.text ?? ""}`}
          value={text}
          autoFocus
          spellCheck={false}
          onChange={(event) => setText(event.currentTarget.value)}
          onKeyDown={(event) => {
            if (event.key === "Enter" && (event.ctrlKey || event.metaKey) && text.trim() !== "") keep();
          }}
        />
        <div className={classes.actions}>
          <button type="submit" className="button" data-strong disabled={text.trim() === "" || save.isPending}>
            Keep this recipe <kbd>Ctrl Enter</kbd>
          </button>
          <Link className="button" to={picture === null ? "/recipes" : `/reference?picture=${picture}`}>
            Back
          </Link>
          {picture === null && <FromFile />}
        </div>
        {save.error !== null && <Failed error={save.error} />}
      </form>
      <section className={classes.reading} aria-label="How it is read" aria-live="polite">
        <h2>How it is read</h2>
        {text.trim() === "" || reading.data === undefined ? (
          <Sample />
        ) : (
          <ReadAs reading={reading.data} />
        )}
        {reading.error !== null && <Failed error={reading.error} />}
      </section>
    </div>
  );
}

/** A recipe that somebody shared as a file. */
function FromFile() {
  const takeIn = useTakeIn();
  const navigate = useNavigate();
  return (
    <>
      <label className={classes.file}>
        <span>Or take in a recipe’s file (JSON)</span>
        <input
          type="file"
          accept=".json,application/json"
          disabled={takeIn.isPending}
          onChange={(event) => {
            const file = event.currentTarget.files?.[0];
            event.currentTarget.value = "";
            if (file !== undefined) takeIn.mutate(file, { onSuccess: (saved) => void navigate(`/recipes/${saved.recipe_id}`) });
          }}
        />
      </label>
      {takeIn.error !== null && <Failed error={takeIn.error} />}
    </>
  );
}

function Sample() {
  return (
    <>
      <p>Such lines are understood:</p>
      <pre className={classes.sample}>{`Quillfen Heron
Cap:
1. Map with Oxlip 101, light
119, 107 then M12, two layers
Bracken (169) → Oxlip
Burnish with Oat`}</pre>
      <p>What cannot be read stays in its place, for you to settle.</p>
    </>
  );
}

function ReadAs({ reading }: { reading: Reading }) {
  const calls = reading.steps.flatMap((s) => s.calls);
  const open = calls.filter((c) => c.colour === null).length;
  const doubted = reading.steps.filter((s) => s.left.length > 0).length;
  return (
    <>
      <p>
        <strong>{reading.title}</strong>
        {reading.ranges.length > 0 && ` · ${reading.ranges.join(", ")}`}
      </p>
      <p>
        {counted(calls.length, "call")}, {open > 0 ? open : "none"} to settle.
        {doubted > 0 && ` ${counted(doubted, "line")} ${doubted === 1 ? "has" : "have"} words that may name one more: dotted, to be looked through when it is kept.`}
      </p>
      <ol className={classes.steps}>
        {reading.steps.map((step, i) => (
          <li key={i} data-kind={step.kind}>
            <div className={classes.line}>
              <span>
                <Words text={step.text} read={step.calls} left={step.left} />
              </span>
              {step.calls.length === 0 && <span className={classes.none}>{withoutColour(step)}</span>}
            </div>
            {step.calls.map((call, j) => (
              <div key={j} className={classes.call} data-open={call.colour === null || undefined}>
                {call.colour === null ? (
                  <>
                    <strong>to settle:</strong> {call.problem}
                  </>
                ) : (
                  <>
                    {call.colour.range} <code>{call.colour.code}</code> {call.colour.name}
                    {call.other !== null && ` or ${call.other.range} ${call.other.code} ${call.other.name}`}
                    {how(call.pressure, call.layers)}
                  </>
                )}
              </div>
            ))}
          </li>
        ))}
      </ol>
    </>
  );
}

/** What a line is that gave no colour. */
function withoutColour(step: ReadStep): string {
  if (step.ranges.length > 0) return "range";
  return step.kind === "heading" ? "heading" : "no colour";
}

function how(pressure: string, layers: number): string {
  return [pressure, layers > 1 ? `${layers} layers` : ""].filter((part) => part !== "").map((part) => `, ${part}`).join("");
}
