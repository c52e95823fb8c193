import type { CSSProperties, KeyboardEvent, ReactNode } from "react";
import type { Schemas } from "../../api/client";
import { useView } from "../../shared/view";
import type { Context } from "../../shared/queries/collection";
import { useAnswers, type Pick } from "./queries";
import type { Wish } from "./wish";
import { Whole } from "./Whole";
import classes from "./HeldUp.module.css";

/** A pick over the whole window, with its answers round it. */
export function HeldPick({ picks, pick, context, wish, onChoose, onClose }: {
  picks: readonly Pick[];
  pick: Pick;
  context: Context;
  wish: Wish;
  onChoose: (id: number) => void;
  onClose: () => void;
}) {
  const { data } = useAnswers(pick, context, wish, false);
  const at = picks.findIndex((one) => one.id === pick.id);
  const to = (next: Pick | undefined) => next && (() => onChoose(next.id));
  const candidates = data?.offers.map((offer) => ({
    key: offer.said,
    lines: offer.laid.map(({ colour, pressure, layers }, i) => (
      <span key={i}>
        {i > 0 && "then "}
        {colour.range} <code>{colour.code}</code> {pressure}
        {layers > 1 && ` × ${layers}`}
      </span>
    )),
  }));
  return (
    <HeldUp title={`${pick.number}. ${pick.name || pick.described}`} patch={pick.colour} value={pick.value} candidates={candidates ?? []}
      lighter={to(picks[at - 1])} darker={to(picks[at + 1])} onClose={onClose} />
  );
}

/** A value zone over the whole window, with the marks that are nearest to it in lightness. */
export function HeldZone({ zones, at, onGo, onClose }: {
  zones: readonly Schemas["ZoneShareOut"][];
  at: number;
  onGo: (at: number) => void;
  onClose: () => void;
}) {
  const zone = zones[at];
  if (zone === undefined) return null;
  const candidates = zone.nearest.map((mark) => ({ key: mark, lines: [<span key={mark}>{mark}</span>] }));
  return (
    <HeldUp title={`Zone ${at + 1} of ${zones.length}`} patch={zone.mean} value={zone.value} candidates={candidates}
      lighter={at < zones.length - 1 ? () => onGo(at + 1) : undefined} darker={at > 0 ? () => onGo(at - 1) : undefined} onClose={onClose} />
  );
}

/** One colour over the whole window, to lay a swatch or a pencil on the glass; the candidates' codes round it. */
function HeldUp({ title, patch, value, candidates, lighter, darker, onClose }: {
  title: string;
  patch: Schemas["PatchOut"];
  value: number;
  candidates: readonly { key: string; lines: readonly ReactNode[] }[];
  lighter: (() => void) | undefined;
  darker: (() => void) | undefined;
  onClose: () => void;
}) {
  const { grey } = useView();
  const onKey = (event: KeyboardEvent) => {
    if (event.key === "ArrowRight") darker?.();
    else if (event.key === "ArrowLeft") lighter?.();
    else return;
    event.preventDefault();
  };
  return (
    <Whole opened title={`${title} over the whole window`} onClose={onClose}>
      <div className={`hued ${classes.ground ?? ""}`} data-hued="patch" style={{ "--hue": patch.hex, "--hue-grey": patch.grey } as CSSProperties} tabIndex={0} ref={(ground) => ground?.focus()} onKeyDown={onKey}>
        <div className={classes.head}>
          <span>
            <strong>{title}</strong>, value {value.toFixed(1)}
            {grey && ", seen in grey"}
            {!patch.on_screen && "; more vivid than this screen shows"}
          </span>
        </div>
        <div className={classes.candidates}>
          {[candidates.slice(0, 4), candidates.slice(4, 8)].map((side, i) => (
            <ul key={i} className={classes.side} aria-label={i === 0 ? "What comes nearest" : "What comes near, too"}>
              {side.map(({ key, lines }) => (
                <li key={key} className={classes.candidate}>
                  {lines}
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
            <button type="button" className="button" disabled={lighter === undefined} onClick={lighter}>
              <kbd>←</kbd> lighter
            </button>
            <button type="button" className="button" disabled={darker === undefined} onClick={darker}>
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
