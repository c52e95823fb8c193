import { useEffect, useRef, useState } from "react";
import { useKeys } from "../../shared/keys";
import { PatchView } from "../../shared/ui/Comparison";
import { Failed } from "../../shared/ui/Problem";
import { usePracticeActs, type Item, type Question, type Round, type Told } from "./queries";
import classes from "./page.module.css";

/** The question at hand; once it is answered, what was right. */
export function Asking({ round, question }: { round: Round; question: Question }) {
  const [picked, setPicked] = useState<readonly number[]>([]);
  const [told, setTold] = useState<Told | null>(null);
  const { answer, end, next } = usePracticeActs();
  const heading = useRef<HTMLHeadingElement>(null);
  const wanted = question.drill === "order" ? question.choices.length : 1;
  useEffect(() => heading.current?.focus(), [question.number]);
  const pick = (place: number) => {
    if (told !== null || answer.isPending || place >= question.choices.length) return;
    const now = picked.includes(place) ? picked.filter((one) => one !== place) : [...picked, place];
    setPicked(now);
    if (now.length === wanted) answer.mutate({ number: question.number, choice: now }, { onSuccess: setTold, onError: () => setPicked([]) });
  };
  const go = () => {
    if (told === null) return;
    void next().then(() => {
      setTold(null);
      setPicked([]);
    });
  };
  useKeys({ ...Object.fromEntries([0, 1, 2, 3, 4, 5].map((place) => [String(place + 1), () => pick(place)])), " ": go }, true, true);
  const shown = told?.shown ?? question.shown;
  const choices = told?.choices ?? question.choices;
  return (
    <section aria-label="Question" className={classes.asking}>
      <p className="soft">
        {question.number} of {round.of}, on {round.paper}
      </p>
      <h2 ref={heading} tabIndex={-1}>
        {question.words}
      </h2>
      {shown.length > 0 && (
        <div className={classes.shown}>
          {shown.map((item, i) => (
            <Colour key={i} item={item} named={told !== null} large />
          ))}
        </div>
      )}
      <ol className={classes.choices} data-many={choices.length > 4 || undefined}>
        {choices.map((item, place) => (
          <li key={place} data-right={told?.right.includes(place) && wanted === 1 ? true : undefined}>
            <button type="button" className={classes.choice} aria-pressed={picked.includes(place)} disabled={told !== null} onClick={() => pick(place)}>
              <Colour item={item} named={false} />
              <span>
                <kbd>{place + 1}</kbd> {wanted > 1 && picked.includes(place) && nth(picked.indexOf(place))}
              </span>
            </button>
            {told !== null && <Truth item={item} place={told.right.indexOf(place)} ordered={wanted > 1} />}
          </li>
        ))}
      </ol>
      <div role="status" className={classes.told}>
        {told !== null && (
          <p>
            <strong>{told.was_right ? "Right." : "Not quite."}</strong> {told.words}
          </p>
        )}
      </div>
      {[answer.error, end.error].map((one, i) => one !== null && <Failed key={i} error={one} />)}
      <div className="row">
        <button type="button" className="button" data-strong data-main disabled={told === null} onClick={go}>
          Next <kbd>space</kbd>
        </button>
        <button type="button" className="button" onClick={() => end.mutate()}>
          Enough for today
        </button>
      </div>
    </section>
  );
}

function nth(place: number): string {
  return ["lightest", "second", "third", "fourth", "fifth", "darkest"][place] ?? "";
}

function Truth({ item, place, ordered }: { item: Item; place: number; ordered: boolean }) {
  const name = item.colour === null ? "" : `${item.colour.range} ${item.colour.code} ${item.colour.name}`;
  const known = item.patch === null ? "" : `L* ${item.patch.lab[0]?.toFixed(1) ?? ""}, ${item.trust}${item.band === null ? "" : ` ± ${item.band.toFixed(1)}`}`;
  const right = ordered ? nth(place) : place >= 0 ? "this one" : "";
  return (
    <p className="soft">
      {right !== "" && <strong>{right}</strong>} {[name, known].filter(Boolean).join(", ")}
    </p>
  );
}

function Colour({ item, named, large = false }: { item: Item; named: boolean; large?: boolean }) {
  return (
    <span className={large ? classes.large : classes.small}>
      {item.patch === null ? (
        <span className={classes.words}>{item.words}</span>
      ) : (
        <span className={classes.field}>
          <PatchView patch={item.patch} />
        </span>
      )}
      {large && (item.words !== "" || named) && <span>{item.words !== "" ? item.words : item.colour === null ? "" : `${item.colour.range} ${item.colour.code} ${item.colour.name}`}</span>}
    </span>
  );
}
