import type { KeyboardEvent } from "react";
import { PatchView } from "../../shared/ui/Comparison";
import type { Pick } from "./queries";
import classes from "./Ladder.module.css";

/** The picks from light to dark; arrows go among them, space marks several. */
export function Ladder({ picks, chosen, selected, onChoose, onSelect }: {
  picks: readonly Pick[];
  chosen: Pick | undefined;
  selected: readonly number[];
  onChoose: (id: number) => void;
  onSelect: (id: number) => void;
}) {
  if (picks.length === 0) return null;
  const onKey = (event: KeyboardEvent<HTMLElement>) => {
    const at = picks.findIndex((pick) => pick === chosen);
    const next = { ArrowRight: picks[at + 1], ArrowLeft: picks[at - 1], Home: picks[0], End: picks.at(-1) }[event.key];
    if (event.key === " " && chosen !== undefined) onSelect(chosen.id);
    else if (next !== undefined) {
      onChoose(next.id);
      event.currentTarget.querySelector<HTMLElement>(`[data-pick="${next.id}"]`)?.focus();
    } else return;
    event.preventDefault();
  };
  return (
    <div className={classes.ladder} role="listbox" aria-label="Colours of the picture, from light to dark" aria-orientation="horizontal" aria-multiselectable="true" onKeyDown={onKey}>
      {picks.map((pick) => (
        <div
          key={pick.id}
          role="option"
          data-pick={pick.id}
          data-main={pick === chosen || undefined}
          tabIndex={pick === chosen ? 0 : -1}
          aria-selected={selected.includes(pick.id)}
          aria-current={pick === chosen || undefined}
          className={classes.step}
          title={pick.described}
          onClick={(event) => (event.shiftKey || event.ctrlKey ? onSelect(pick.id) : onChoose(pick.id))}
        >
          <span className={classes.patch}>
            <PatchView patch={pick.colour} />
          </span>
          <span className={classes.figures}>
            <strong>{pick.number}</strong>
            <span className="visually-hidden">, {pick.name || pick.described}, value </span>
            <span title="Munsell value">{pick.value.toFixed(1)}</span>
          </span>
          {pick.area !== "" && <span className={classes.area}>{pick.area}</span>}
          {selected.includes(pick.id) && <span className={classes.tick}>✓</span>}
        </div>
      ))}
    </div>
  );
}
