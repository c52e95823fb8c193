import { useDebouncedValue } from "@mantine/hooks";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { ColourName } from "../../shared/ui/ColourName";
import { useDraft } from "../../shared/ui/draft";
import { Failed } from "../../shared/ui/Problem";
import { useOwned, usePasted, type PastedLine } from "./queries";
import classes from "./paste.module.css";

/** A list of codes or names, pasted as owned; what it means stands beside it before anything is changed. */
export function PasteListPage() {
  const [text, setText, forget] = useDraft("tidy-tinder-list-draft");
  const [chosen, setChosen] = useState<Readonly<Record<string, number>>>({});
  const [asked] = useDebouncedValue(text, 150);
  const { data: read, error } = usePasted(asked);
  const owned = useOwned();
  const navigate = useNavigate();
  const lines = text.trim() === "" ? [] : (read?.lines ?? []);
  const wanted = counts(lines, chosen);
  const open = lines.filter((line) => line.problem !== "" && chosen[line.text] === undefined).length;
  return (
    <div className={classes.page}>
      <form
        className={classes.form}
        onSubmit={(event) => {
          event.preventDefault();
          owned.mutate(
            { colour_ids: [...wanted].flatMap(([id, count]) => Array<number>(count).fill(id)), owned: true },
            {
              onSuccess: async () => {
                forget();
                await navigate("/tidy");
              },
            },
          );
        }}
      >
        <p>
          <Link to="/tidy">Tidy</Link> /
        </p>
        <h1>
          <label htmlFor="list">Paste a list of what you own</label>
        </h1>
        <p>
          Codes, names and spans such as 101-118, one a line or with commas between; 2x for two of one pencil. A range on a line
          of its own, or before a colon, holds for what follows.
        </p>
        <textarea
          id="list"
          className={`field ${classes.text ?? ""}`}
          value={text}
          autoFocus
          spellCheck={false}
          placeholder={"Heron\n101-104, Bracken\n2x 119\nTallow: M12"}
          onChange={(event) => setText(event.currentTarget.value)}
        />
        <div className="row">
          <button type="submit" className="button" data-strong disabled={wanted.size === 0 || owned.isPending}>
            Own {wanted.size === 1 ? "this 1" : `these ${wanted.size}`}
          </button>
          {open > 0 && <strong>{open === 1 ? "1 line is not settled and is left out." : `${open} lines are not settled and are left out.`}</strong>}
        </div>
        {owned.error !== null && <Failed error={owned.error} />}
      </form>
      <section className={classes.read} aria-label="What it means" aria-live="polite">
        {error !== null && <Failed error={error} />}
        {lines.length === 0 && <p>What each line means is shown here; nothing is changed before you say so.</p>}
        {lines.map((line, i) => (
          <div key={i} className={classes.line} data-open={line.problem !== "" || undefined}>
            <code>{line.text}</code>
            {line.problem === "" ? (
              <div className="row">
                {line.colours.map((c) => (
                  <ColourName key={c.id} colour={c} range />
                ))}
                {line.count > 1 && <strong>{line.count} of it</strong>}
              </div>
            ) : (
              <div>
                <p>
                  <strong>{line.problem}</strong>
                </p>
                <div className="row">
                  {line.colours.map((c) => (
                    <button
                      key={c.id}
                      type="button"
                      className="button"
                      aria-pressed={chosen[line.text] === c.id}
                      onClick={() => setChosen({ ...chosen, [line.text]: c.id })}
                    >
                      {chosen[line.text] === c.id && "✓ "}
                      <ColourName colour={c} range />
                    </button>
                  ))}
                </div>
              </div>
            )}
          </div>
        ))}
      </section>
    </div>
  );
}

/** How many pencils of each colour the lines ask for; a colour on two lines is still one pencil. */
function counts(lines: readonly PastedLine[], chosen: Readonly<Record<string, number>>) {
  const wanted = new Map<number, number>();
  for (const line of lines) {
    const picked = chosen[line.text];
    const ids = line.problem === "" ? line.colours.map((c) => c.id) : picked === undefined ? [] : [picked];
    for (const id of ids) wanted.set(id, Math.max(line.count, wanted.get(id) ?? 0));
  }
  return wanted;
}
