import type { Schemas } from "../../api/client";
import { PatchView } from "../../shared/ui/Comparison";
import classes from "./Looking.module.css";
import { counted } from "../../shared/words";

type Zone = Schemas["ZoneShareOut"];

/** How the picture is looked at; zones: 0 for none; borders: in L*, where they were dragged. */
export interface Look {
  squint: number | null;
  zones: number;
  fitted: boolean;
  borders: readonly number[] | null;
  warmCool: boolean;
  upsideDown: boolean;
  grid: Grid;
  sections: boolean;
}

/** No grid, one of sections of about 29 cm², a line every so many mm, or so many fields either way. */
export type Grid = "none" | "sections" | { every_mm: number } | { columns: number; rows: number };

export const START: Look = {
  squint: null, zones: 0, fitted: false, borders: null, warmCool: false, upsideDown: false, grid: "none", sections: false,
};

const SQUINTS = [null, 0.006, 0.015, 0.035] as const;
const ZONES = [0, 3, 5, 7, 9] as const;
// A border never passes its neighbour.
const APART = 1;

const GRIDS: readonly (readonly [Grid, string])[] = [
  ["none", "no grid"],
  ["sections", "of about 29 cm²"],
  [{ every_mm: 10 }, "every 1 cm"],
  [{ every_mm: 20 }, "every 2 cm"],
  [{ every_mm: 50 }, "every 5 cm"],
  [{ columns: 3, rows: 3 }, "3 × 3"],
  [{ columns: 4, rows: 4 }, "4 × 4"],
  [{ columns: 6, rows: 6 }, "6 × 6"],
];

/** The squint after this one, round and round. */
export function NEXT_SQUINT(now: number | null): number | null {
  return SQUINTS[(SQUINTS.findIndex((one) => one === now) + 1) % SQUINTS.length] ?? null;
}

/** The number of zones after this one. */
export function NEXT_ZONES(now: number): number {
  return ZONES[(ZONES.findIndex((one) => one === now) + 1) % ZONES.length] ?? 0;
}

/** The grid after this one. */
export function NEXT_GRID(now: Grid): Grid {
  return GRIDS[(GRIDS.findIndex(([grid]) => grid === now) + 1) % GRIDS.length]?.[0] ?? "none";
}

/** A grid as an address has it. */
export function gridQuery(grid: Grid): URLSearchParams {
  if (typeof grid === "string") return new URLSearchParams();
  return new URLSearchParams(Object.entries(grid).map(([name, value]) => [name, String(value)]));
}

function gridWords(now: Grid): string {
  return GRIDS.find(([grid]) => grid === now)?.[1] ?? "";
}

/** The views, one key each; they combine. */
export function Looking({ reference, look, onLook, zones, onHold }: {
  reference: number;
  look: Look;
  onLook: (look: Look) => void;
  zones: readonly Zone[];
  onHold: (zone: number) => void;
}) {
  const atSize = `/api/references/${reference}/at-size?${gridQuery(look.grid).toString()}`;
  const is = (part: Partial<Look>) => onLook({ ...look, ...part });
  return (
    <div className={classes.bar} role="group" aria-label="Ways to look at the picture">
      <button type="button" className="button" aria-pressed={look.squint !== null} onClick={() => is({ squint: NEXT_SQUINT(look.squint) })} title="As through half-closed eyes: three steps">
        Squint{look.squint === null ? "" : ` ${(100 * look.squint).toFixed(1)} %`} <kbd>q</kbd>
      </button>
      <button type="button" className="button" aria-pressed={look.zones > 0} onClick={() => is({ zones: NEXT_ZONES(look.zones), borders: null })} title="The picture in a few steps of lightness">
        {look.zones > 0 ? `${look.zones} zones` : "Zones"} <kbd>z</kbd>
      </button>
      <button type="button" className="button" aria-pressed={look.warmCool} onClick={() => is({ warmCool: !look.warmCool })}
        title="Rising lines: warmer than the picture's own middle; falling lines: cooler">
        Warm, cool <kbd>w</kbd>
      </button>
      <button type="button" className="button" aria-pressed={look.upsideDown} onClick={() => is({ upsideDown: !look.upsideDown })} title="Many draw better from a picture that they do not read">
        Upside down <kbd>R</kbd>
      </button>
      <button type="button" className="button" aria-pressed={look.grid !== "none"} onClick={() => is({ grid: NEXT_GRID(look.grid) })} title="A grid to transfer it by, measured on your paper">
        {look.grid === "none" ? "Grid" : `Grid ${gridWords(look.grid)}`} <kbd>r</kbd>
      </button>
      {look.grid !== "none" && (
        <a className="button" href={atSize} download title="At the drawing's size, over several pages, with this grid">
          Print it so
        </a>
      )}
      {look.zones > 0 && zones.length > 0 && <Borders look={look} zones={zones} onLook={is} onHold={onHold} />}
    </div>
  );
}

/** The borders between zones, each to be dragged or moved by arrows. */
function Borders({ look, zones, onLook, onHold }: {
  look: Look;
  zones: readonly Zone[];
  onLook: (part: Partial<Look>) => void;
  onHold: (zone: number) => void;
}) {
  const borders = zones.slice(0, -1).map((zone) => zone.high);
  const move = (at: number, to: number) => {
    const low = (borders[at - 1] ?? 0) + APART;
    const high = (borders[at + 1] ?? 100) - APART;
    onLook({ borders: borders.map((border, i) => (i === at ? Math.min(Math.max(to, low), high) : border)) });
  };
  return (
    <div className={classes.zones}>
      {zones.map((zone, i) => (
        <div key={i} className={classes.zone}>
          <span className={classes.figures}>
            <button type="button" className={classes.patch} onClick={() => onHold(i)} title="Hold this zone up over the whole window">
              <span className="visually-hidden">Hold up zone {i + 1}</span>
              <PatchView patch={zone.mean} />
            </button>
            <span title="Munsell value, from 0 for black to 10 for white">{zone.value.toFixed(1)}</span>
            <span className="soft">{Math.round(100 * zone.share)} %</span>
          </span>
          <span className={classes.reached} title={zone.nearest.length > 0 ? `Nearest: ${zone.nearest.join("; ")}` : "No mark of one pencil is so dark or so light on this paper; layers may be"}>
            {zone.reached_by === 0 ? <strong>no pencil</strong> : counted(zone.reached_by, "pencil")}
          </span>
          {i < zones.length - 1 && (
            <label className={classes.border}>
              <span className="visually-hidden">Border above zone {i + 1}, L*</span>
              <input type="range" min={0} max={100} step={0.5} value={zone.high} onChange={(event) => move(i, Number(event.currentTarget.value))} />
            </label>
          )}
        </div>
      ))}
      <button type="button" className="button" aria-pressed={look.fitted} onClick={() => onLook({ fitted: !look.fitted, borders: null })}
        title="Borders where the picture's own lights part, instead of even steps">
        Fitted to the picture
      </button>
      {look.borders !== null && (
        <button type="button" className="button" onClick={() => onLook({ borders: null })}>
          Borders as they were
        </button>
      )}
    </div>
  );
}
