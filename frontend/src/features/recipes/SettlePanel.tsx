import { useFind, type Hit } from "../../shared/queries/collection";
import { Barrel } from "../../shared/ui/Barrel";
import { ColourName } from "../../shared/ui/ColourName";
import { ColourFinder } from "../../shared/ui/Finder";
import { Mark } from "../../shared/ui/Mark";
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
      {call.answer === "to settle" && <AsItsWordsSay words={call.as_written} disabled={settle.isPending} onMean={mean} />}
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

const MOST_ALIKE = 6;

/** Colours that look as the words of a call say (“dark brown”), those at hand first; nothing for words of no look. */
function AsItsWordsSay({ words, disabled, onMean }: { words: string; disabled: boolean; onMean: (colour: number) => void }) {
  const { data: found, isPlaceholderData } = useFind(words);
  if (found === undefined || isPlaceholderData || found.by_look.length === 0) return null;
  const alike = [...found.by_look].sort((a, b) => Number(isThere(b)) - Number(isThere(a))).slice(0, MOST_ALIKE);
  return (
    <section>
      <h3 title="By value, chroma and hue on the paper at hand">As its words say: {found.look.join(" ")}</h3>
      <ul className={classes.choices}>
        {alike.map(({ card, owning }) => (
          <li key={card.colour.id}>
            <button type="button" className={`button ${classes.alike ?? ""}`} disabled={disabled} onClick={() => onMean(card.colour.id)}>
              <Barrel owning={owning} />
              <span className={classes.swatch}>
                <Mark mark={card.mark} seed={card.colour.id} height={22} />
              </span>
              <span>
                <ColourName colour={card.colour} range />
                <span className="visually-hidden">, {owning}</span>
              </span>
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}

function isThere({ owning }: Hit): boolean {
  return owning !== "not owned" && owning !== "lost";
}
