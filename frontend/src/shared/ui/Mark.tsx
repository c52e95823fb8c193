import type { CSSProperties, ReactNode } from "react";
import type { Schemas } from "../../api/client";
import starts from "./grain_starts.json";
import "./grain.css";
import { behind } from "./surround";
import classes from "./Mark.module.css";

export type MarkData = Schemas["MarkOut"];
type Zone = Schemas["ZoneOut"];

const PRESSURES = ["heavy", "medium", "light"] as const;

/** The mark that a pencil leaves: heavy, medium and light thirds with the tooth showing through; ring is its surround. */
export function Mark({ mark, seed, height = 26, ring = 0 }: { mark: MarkData; seed: number; height?: number; ring?: number }) {
  const ground = behind({ hex: mark.ground, grey: mark.ground_grey });
  // Only what is known has its surround behind it.
  const ringed = ring === 0 || mark.zones.length === 0 ? undefined : mark.zones.length === PRESSURES.length ? "whole" : "part";
  const box = { height: height + 2 * ring, "--ring": `${ring}px`, ...ground } as CSSProperties;
  const behindPart = ringed === "part" ? <span className={`surround ${classes.ring ?? ""}`} data-hued="surround" style={ground} /> : null;
  return (
    <div className={`${classes.mark ?? ""} ${ringed === "whole" ? "surround" : ""}`} data-trust={mark.trust} data-ring={ringed} data-hued={ringed === "whole" ? "surround" : undefined} style={box}>
      <div className={classes.band} data-hued="mark">
        {PRESSURES.map((pressure, place) => (
          <Third key={pressure} zone={mark.zones.find((z) => z.pressure === pressure)} place={place} seed={seed} ground={ground}>
            {behindPart}
          </Third>
        ))}
      </div>
      <span className={classes.edge}>{mark.trust !== "chart" && behindPart}</span>
    </div>
  );
}

function Third({ zone, place, seed, ground, children }: {
  zone: Zone | undefined;
  place: number;
  seed: number;
  ground: CSSProperties;
  children: ReactNode;
}) {
  if (zone === undefined) return <span className={classes.zone} />;
  return (
    <span className={classes.zone} data-zone={zone.pressure} data-trust={zone.trust} style={ground}>
      {children}
      <span className={classes.film} data-grain={zone.mask} data-grain-grey={zone.grey_mask} style={film(zone, place, seed)} />
      {!zone.on_screen && <span className={classes.notch} />}
    </span>
  );
}

/**
 * The grain's offset is fixed by the pencil, so that a mark always looks the same, and is one of those from which even
 * a small zone shows its Lab (tools/derive_grain.py). The style sheet chooses grey.
 */
function film(zone: Zone, place: number, seed: number): CSSProperties {
  const places: Readonly<Record<string, readonly (readonly number[])[]>> = starts;
  const fair = places[zone.mask] ?? [[0, 0]];
  const [x = 0, y = 0] = fair[(seed * 7 + place * 5) % fair.length] ?? [];
  return {
    "--film": zone.film,
    "--film-grey": zone.grey_film,
    maskPosition: `${-x}px ${-y}px`,
  } as CSSProperties;
}

/** How far a mark's colour can be trusted, in words. */
export function trustWords(mark: MarkData, paper: string): string {
  if (mark.trust === "none") return "no colour known";
  if (mark.trust === "chart") return "chart value, on white";
  const measured = mark.zones.filter((z) => z.trust === "measured");
  const told = mark.zones.filter((z) => z.trust === "predicted");
  const all = measured.length === PRESSURES.length;
  const said: string[] = [];
  if (measured.length > 0) {
    const photo = measured.some((z) => z.band != null) ? ` by photo, ${plusMinus(measured)},` : "";
    said.push(all ? `measured${photo} on ${paper}` : `${pressures(measured)} measured${photo} on ${paper}`);
  }
  if (told.length > 0) {
    const where = measured.length > 0 ? `${pressures(told)} predicted` : `predicted on ${paper}`;
    said.push(`${where} ${plusMinus(told)}${mark.rests_on === "its chart value" ? ", from its chart value" : ""}`);
  }
  return said.join("; ");
}

function pressures(zones: readonly Zone[]): string {
  return zones.map((z) => z.pressure).join(", ");
}

/** The widest band of the zones: nine of ten such marks lie within it. */
function plusMinus(zones: readonly Zone[]): string {
  return `± ${Math.max(...zones.map((z) => z.band ?? 0)).toFixed(1)} ΔE`;
}

/** A note where the screen cannot show what was measured. */
export function beyondScreen(mark: MarkData): string {
  return mark.zones.some((zone) => !zone.on_screen) ? "partly beyond what this screen can show" : "";
}
