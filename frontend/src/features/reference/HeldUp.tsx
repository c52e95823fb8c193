import { type CSSProperties, type KeyboardEvent } from "react";
import { useView } from "../../shared/view";
import type { Context } from "../../shared/queries/collection";
import { useAnswers, type Pick } from "./queries";
import type { Wish } from "./wish";
import { Whole } from "./Whole";
import classes from "./HeldUp.module.css";

/** One colour over the whole window, to lay a swatch or a pencil on the glass; the candidates' codes round it. */
export function HeldUp({ picks, pick, context, wish, onChoose, onClose }: {
  picks: readonly Pick[];
  pick: Pick;
  context: Context;
  wish: Wish;
  onChoose: (id: number) => void;
  onClose: () => void;
}) {
  const { data } = useAnswers(pick, context, wish, false);
  const { grey } = useView();
  const offers = data?.offers ?? [];
  const at = picks.findIndex((one) => one.id === pick.id);
  const go = (by: number) => {
    const next = picks[at + by];
    if (next !== undefined) onChoose(next.id);
  };
  const onKey = (event: KeyboardEvent) => {
    if (event.key === "ArrowRight") go(1);
    else if (event.key === "ArrowLeft") go(-1);
    else return;
    event.preventDefault();
  };
  return (
    <Whole opened title={`Colour ${pick.number} over the whole window`} onClose={onClose}>
      <div className={`hued ${classes.ground ?? ""}`} data-hued="patch" style={{ "--hue": pick.colour.hex, "--hue-grey": pick.colour.grey } as CSSProperties} tabIndex={0} ref={(ground) => ground?.focus()} onKeyDown={onKey}>
        <div className={classes.head}>
          <span>
            <strong>
              {pick.number}. {pick.name || pick.described}
            </strong>
            , value {pick.value.toFixed(1)}
            {grey && ", seen in grey"}
            {!pick.colour.on_screen && "; more vivid than this screen shows"}
          </span>
        </div>
        <div className={classes.candidates}>
          {[offers.slice(0, 4), offers.slice(4, 8)].map((side, i) => (
            <ul key={i} className={classes.side} aria-label={i === 0 ? "What comes nearest" : "What comes near, too"}>
              {side.map((offer) => (
                <li key={offer.said} className={classes.candidate}>
                  {offer.laid.map(({ colour, pressure, layers }, j) => (
                    <span key={j}>
                      {j > 0 && "then "}
                      {colour.range} <code>{colour.code}</code> {pressure}
                      {layers > 1 && ` × ${layers}`}
                    </span>
                  ))}
                </li>
              ))}
            </ul>
          ))}
        </div>
        <div className={classes.foot}>
          <span>
            Lay the swatch flat on the glass and look from straight above. A screen is no paper: trust which is lighter or warmer, not that they are the same.
          </span>
          <span className="row">
            <button type="button" className="button" disabled={at <= 0} onClick={() => go(-1)}>
              <kbd>←</kbd> lighter
            </button>
            <button type="button" className="button" disabled={at >= picks.length - 1} onClick={() => go(1)}>
              darker <kbd>→</kbd>
            </button>
            <button type="button" className="button" onClick={onClose}>
              Back <kbd>Esc</kbd>
            </button>
          </span>
        </div>
      </div>
    </Whole>
  );
}
