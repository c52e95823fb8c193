import { useState } from "react";
import { Check } from "../../shared/ui/Field";
import { Loading } from "../../shared/ui/Loading";
import { Failed } from "../../shared/ui/Problem";
import { Part } from "../restock/Parts";
import { Going } from "./Going";
import { Asking } from "./Asking";
import { usePracticeActs, useRound, type Drill, type Round } from "./queries";
import { DRILLS } from "./words";
import classes from "./page.module.css";

/** Practise the eye on one's own colours. */
export function PracticePage() {
  const { data, error } = useRound();
  return (
    <Part title="Eye practice">
      {error !== null && <Failed error={error} />}
      {data === undefined && error === null && <Loading what="the questions" />}
      {data !== undefined && (data.question === null ? <Begin round={data} /> : <Asking round={data} question={data.question} />)}
      {data?.question === null && <Going />}
    </Part>
  );
}

function Begin({ round }: { round: Round }) {
  const [left, setLeft] = useState<readonly Drill[]>([]);
  // Another card each time that one comes here.
  const [card] = useState(() => 1 + (Math.floor(Date.now() / 1000) % 9999));
  const { begin } = usePracticeActs();
  const possible = DRILLS.filter(([drill]) => round.can_ask.includes(drill));
  const chosen = possible.map(([drill]) => drill).filter((drill) => !left.includes(drill));
  if (possible.length === 0) {
    return (
      <p>
        There is nothing to practise on yet: it takes pencils of your own whose marks on {round.paper} were measured, or are surely predicted. Swatch some first.
      </p>
    );
  }
  return (
    <section aria-label="A round" className={classes.begin}>
      <p>
        About ten minutes: {round.of} questions on your own pencils on {round.paper}, as hard as you find them. No hurry, nothing is counted but what you see.
      </p>
      <fieldset className={classes.kinds}>
        <legend>Ask me</legend>
        {possible.map(([drill, words]) => (
          <Check key={drill} label={words} value={!left.includes(drill)} onChange={(on) => setLeft(on ? left.filter((one) => one !== drill) : [...left, drill])} />
        ))}
      </fieldset>
      {begin.error !== null && <Failed error={begin.error} />}
      <div className="row">
        <button type="button" className="button" data-strong data-main disabled={chosen.length === 0 || begin.isPending} onClick={() => begin.mutate(chosen)}>
          Begin
        </button>
        <a className="button" href={`/api/practice/card.pdf?card=${card}`} download title="A card to swatch and answer on paper, its answers on the last page">
          On paper: card, A4
        </a>
        <a className="button" href={`/api/practice/card.pdf?size=Letter&card=${card}`} download>
          On paper: card, Letter
        </a>
      </div>
    </section>
  );
}
