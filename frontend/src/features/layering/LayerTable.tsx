import type { KeyboardEvent } from "react";
import { ColourName } from "../../shared/ui/ColourName";
import { PatchView } from "../../shared/ui/Comparison";
import { Mark } from "../../shared/ui/Mark";
import { Segments } from "../../shared/ui/Segments";
import { SolventCaution } from "../../shared/ui/Cautions";
import { Choice } from "../../shared/ui/Field";
import { ColourFinder } from "../../shared/ui/Finder";
import type { Paper } from "../../shared/queries/collection";
import type { TrayData } from "../tray/queries";
import type { Layer } from "../../shared/layers";
import { TABLE_FINISHES, type TableFinish } from "./finishes";
import type { LaidOut } from "./queries";
import classes from "./LayerTable.module.css";
import { MOST_PENCILS } from "../../shared/vocabulary";
import { seenWords } from "../../shared/words";

interface Acts {
  go: (i: number) => void;
  press: (i: number, by: number) => void;
  count: (i: number, by: number) => void;
  move: (i: number, by: number) => void;
  add: (colour: number) => void;
  remove: (i: number) => void;
  choose: (i: number, part: Partial<Layer>) => void;
  finish: (finish: TableFinish) => void;
}

/** What is laid, the lowest first: each pencil, how hard and how often; what finishes it; what else lies in the tray. */
export function LayerTable({ paper, layers, out, at, finish, tray, on }: {
  paper: Paper;
  layers: readonly Layer[];
  out: LaidOut | undefined;
  at: number;
  finish: TableFinish;
  tray: TrayData | undefined;
  on: Acts;
}) {
  const full = layers.filter((one) => one.pressure !== "burnish").length >= MOST_PENCILS;
  const others = tray?.pulled.filter(({ card }) => !layers.some((one) => one.colour_id === card.colour.id)) ?? [];
  const onKey = (event: KeyboardEvent) => {
    const act = {
      ArrowDown: () => (event.shiftKey ? on.move(at, 1) : on.go(Math.min(at + 1, layers.length - 1))),
      ArrowUp: () => (event.shiftKey ? on.move(at, -1) : on.go(Math.max(at - 1, 0))),
      ArrowLeft: () => on.press(at, -1),
      ArrowRight: () => on.press(at, 1),
      "+": () => on.count(at, 1),
      "-": () => on.count(at, -1),
      Delete: () => on.remove(at),
    }[event.key];
    if (act === undefined) return;
    event.preventDefault();
    act();
  };
  return (
    <aside className={classes.table} aria-label="Layers">
      <h2>Layers, the lowest first</h2>
      <div
        className={classes.list}
        role="listbox"
        tabIndex={0}
        aria-label="Layers, the lowest first"
        aria-activedescendant={layers.length > 0 ? `layer-${at}` : undefined}
        onKeyDown={onKey}
      >
        {layers.length === 0 && (
          <div role="option" aria-selected={false} aria-disabled="true" className="soft">
            None yet.
          </div>
        )}
        {layers.map((one, i) => (
          <Line key={i} id={`layer-${i}`} layer={one} alone={out?.alone[i]} current={i === at} onGo={() => on.go(i)} />
        ))}
      </div>
      {layers[at] !== undefined && <How layer={layers[at]} i={at} on={on} />}
      {layers.length > 0 && (
        <p className="soft">
          <kbd>↑</kbd> <kbd>↓</kbd> which · <kbd>←</kbd> <kbd>→</kbd> how hard · <kbd>+</kbd> <kbd>−</kbd> layers · <kbd>Shift ↑ ↓</kbd> in
          the order · <kbd>Del</kbd> out
        </p>
      )}
      <section className={classes.finish} hidden={layers.length === 0}>
        <h3>
          Finish <kbd>f</kbd>
        </h3>
        <Segments label="Finish" options={TABLE_FINISHES} value={finish} onChange={on.finish} />
        {finish === "solvent" && <SolventCaution />}
        {finish === "burnished" && <Burnisher layers={layers} out={out} tray={tray} onChoose={on.choose} />}
      </section>
      <section className={classes.more}>
        <h3>{full ? "Three pencils lie here; take one out for another" : layers.length === 0 ? "Lay the first one" : "Lay one more"}</h3>
        {!full && (
          <>
            <ColourFinder label="Lay any colour" placeholder="Find any colour" onPick={(colour) => on.add(colour.id)} />
            {others.length === 0 && <p className="soft">No other pencil lies in the tray on {paper.name}; p puts one in.</p>}
            <ul className={classes.tray}>
              {others.map(({ card }) => (
                <li key={card.colour.id}>
                  <button type="button" className={classes.pencil} onClick={() => on.add(card.colour.id)}>
                    <span className={classes.mark}>
                      <Mark mark={card.mark} seed={card.colour.id} height={22} />
                    </span>
                    <ColourName colour={card.colour} />
                  </button>
                </li>
              ))}
            </ul>
          </>
        )}
      </section>
    </aside>
  );
}

/** One pencil: its own mark as it is laid here, its name, how it is laid. */
function Line({ id, layer, alone, current, onGo }: {
  id: string;
  layer: Layer;
  alone: LaidOut["alone"][number] | undefined;
  current: boolean;
  onGo: () => void;
}) {
  const known = alone?.laid.colour.id === layer.colour_id ? alone : undefined;
  const patch = known?.seen?.patch;
  return (
    <div id={id} role="option" aria-selected={current} className={classes.line} data-current={current || undefined} onClick={onGo}>
      <span className={classes.patch}>{patch !== undefined && <PatchView patch={patch} />}</span>
      <span className={classes.words}>
        {known === undefined ? "…" : <ColourName colour={known.laid.colour} range />}
        <span>
          {layer.pressure === "burnish" ? "burnishes it" : `${layer.pressure}${layer.layers > 1 ? ` × ${layer.layers}` : ""}`}
          {known !== undefined && known.laid.owning !== "owned" && ` · ${known.laid.owning}`}
        </span>
        {known?.seen != null && <span className="soft">alone: {seenWords(known.seen)}</span>}
      </span>
    </div>
  );
}

/** Which pencil rubs it smooth: one of the tray, the palest first, or one that lies here anyway. */
function Burnisher({ layers, out, tray, onChoose }: {
  layers: readonly Layer[];
  out: LaidOut | undefined;
  tray: TrayData | undefined;
  onChoose: Acts["choose"];
}) {
  const at = layers.findIndex((one) => one.pressure === "burnish");
  const all = [...(tray?.pulled ?? []).map(({ card }) => card.colour), ...(out?.alone ?? []).map(({ laid }) => laid.colour)];
  const pulled = all.filter((colour, i) => all.findIndex(({ id }) => id === colour.id) === i);
  if (at < 0) return <p className="soft">Put a pale pencil into the tray to burnish with.</p>;
  return (
    <div className="form">
      <Choice
        label="Burnished with"
        value={String(layers[at]?.colour_id)}
        options={pulled.map((c) => [String(c.id), `${c.range} ${c.code} ${c.name}`])}
        onChange={(id) => onChoose(at, { colour_id: Number(id) })}
      />
    </div>
  );
}

/** The same for the pointer: how hard, how often, out. */
function How({ layer, i, on }: { layer: Layer; i: number; on: Acts }) {
  if (layer.pressure === "burnish") {
    return (
      <button type="button" className="button" onClick={() => on.finish("dry")}>
        Do not burnish
      </button>
    );
  }
  return (
    <div className="row">
      <Segments
        label="How hard"
        options={["light", "medium", "heavy"]}
        value={layer.pressure}
        onChange={(pressure) => on.choose(i, { pressure })}
      />
      <span className={classes.count}>
        <button type="button" className="button" aria-label="One layer less" disabled={layer.layers <= 1} onClick={() => on.count(i, -1)}>
          −
        </button>
        <span className="mono" aria-live="polite">
          {layer.layers}
          <span className="visually-hidden"> {layer.layers === 1 ? "layer" : "layers"}</span>
        </span>
        <button type="button" className="button" aria-label="One layer more" onClick={() => on.count(i, 1)}>
          +
        </button>
      </span>
      <button type="button" className="button" onClick={() => on.remove(i)}>
        Take out
      </button>
    </div>
  );
}
