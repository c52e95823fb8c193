import type { Shelf, ShelfColour } from "../../shared/queries/shelves";
import { counted, ratedForLight } from "../../shared/words";

/** In which order the colours stand. */
export const ORDERS = ["chart", "tin", "value", "hue", "temperature"] as const;
export type Order = (typeof ORDERS)[number];

/** What is shown: the quick ones, of which one holds. */
export const SHOWN = ["all", "owned", "not owned", "stubs", "lost", "in tray"] as const;
export type Shown = (typeof SHOWN)[number];

export interface Filter {
  shown: Shown;
  range: string;
  place: string;
  opacity: string;
  lightfastness: string;
  trust: string;
}

export const NO_FILTER: Filter = { shown: "all", range: "", place: "", opacity: "", lightfastness: "", trust: "" };

/** One shelf as it is shown: a heading and its colours in order. */
export interface Section {
  key: string;
  title: string;
  feel: string;
  count: string;
  colours: readonly ShelfColour[];
  shelf: Shelf | null;
}

const KEPT: Record<string, readonly string[]> = { stubs: ["stub"], lost: ["lost"], owned: ["owned", "spare", "stub", "lost"] };

/** Whether a colour passes the filter; with-me holds everywhere. */
function passes(colour: ShelfColour, shelf: Shelf, filter: Filter, withMe: boolean, tray: ReadonlySet<number>): boolean {
  const { shown } = filter;
  if (withMe && !colour.with_me) return false;
  if (shown === "in tray" && !tray.has(colour.id)) return false;
  if (shown === "not owned" && colour.owning !== "not owned") return false;
  if (shown in KEPT && !KEPT[shown]?.includes(colour.owning)) return false;
  const { mark, colour: charted } = colour.card;
  return (
    (filter.range === "" || String(shelf.range_id) === filter.range) &&
    (filter.place === "" || colour.places.some((p) => (p.tin || NO_PLACE) === filter.place)) &&
    (filter.opacity === "" || charted.opacity === filter.opacity) &&
    (filter.lightfastness === "" || ratedForLight(charted) === filter.lightfastness) &&
    (filter.trust === "" || mark.trust === filter.trust)
  );
}

export const NO_PLACE = "no place given";

/** The shelves as they are shown: by range, by tin, or by what the core says of value, hue and temperature. */
export function arrange(
  shelves: readonly Shelf[],
  order: Order,
  filter: Filter,
  withMe: boolean,
  tray: ReadonlySet<number>,
): readonly Section[] {
  const kept = shelves.map((shelf) => ({
    shelf,
    colours: shelf.colours.filter((c) => passes(c, shelf, filter, withMe, tray)),
  }));
  if (order === "chart") {
    const all = filter === NO_FILTER && !withMe;
    return kept
      .filter(({ colours }) => all || colours.length > 0)
      .map(({ shelf, colours }) => ({
        key: `range-${shelf.range_id}`,
        title: `${shelf.maker} ${shelf.name}`.trim(),
        feel: shelf.feel,
        count: `${shelf.owned} of ${shelf.colours.length} owned`,
        colours,
        shelf,
      }));
  }
  const colours = kept.flatMap((k) => k.colours);
  return order === "tin" ? byTin(colours) : byFigure(colours, order);
}

function byTin(colours: readonly ShelfColour[]): readonly Section[] {
  const tins = new Map<string, { colour: ShelfColour; slot: number }[]>();
  for (const colour of colours) {
    for (const { tin, slot } of colour.places) {
      const name = tin || NO_PLACE;
      tins.set(name, [...(tins.get(name) ?? []), { colour, slot: slot ?? Infinity }]);
    }
  }
  return [...tins.keys()].sort((a, b) => a.localeCompare(b, undefined, { numeric: true })).map((name) => {
    const standing = (tins.get(name) ?? []).sort((a, b) => a.slot - b.slot);
    // Two sticks of one colour in a tin stand there once.
    const here = [...new Map(standing.map((s) => [s.colour.id, s.colour])).values()];
    return section(`tin-${name}`, name, counted(standing.length, "pencil"), here);
  });
}

const HUES = ["yellows", "oranges and browns", "reds", "pinks and magentas", "violets", "blues", "greens", "greys"];

function byFigure(colours: readonly ShelfColour[], order: Order): readonly Section[] {
  const known = colours.filter((c) => c.card.order !== null);
  const figure = (c: ShelfColour, name: "value" | "hue" | "temperature") => c.card.order?.[name] ?? 0;
  const lightFirst = (a: ShelfColour, b: ShelfColour) => figure(b, "value") - figure(a, "value");
  const warmFirst = (a: ShelfColour, b: ShelfColour) => figure(b, "temperature") - figure(a, "temperature");
  const sections: Section[] = [];
  const add = (key: string, title: string, of: readonly ShelfColour[]) => {
    if (of.length > 0) sections.push(section(key, title, `${of.length}`, of));
  };
  if (order === "value") {
    for (let step = 9; step >= 0; step--) {
      const here = known.filter((c) => Math.min(9, Math.floor(figure(c, "value"))) === step);
      add(`value-${step}`, `Value ${step} to ${step + 1}`, here.sort(lightFirst));
    }
  } else if (order === "hue") {
    for (const family of HUES) {
      const here = known.filter((c) => c.card.order?.family === family);
      add(`hue-${family}`, capital(family), here.sort(family === "greys" ? lightFirst : (a, b) => figure(b, "hue") - figure(a, "hue")));
    }
  } else {
    const greys = known.filter((c) => c.card.order?.family === "greys");
    add("warm", "Warm greys, the warmest first", greys.filter((c) => figure(c, "temperature") >= 0).sort(warmFirst));
    add("cool", "Cool greys, the coolest last", greys.filter((c) => figure(c, "temperature") < 0).sort(warmFirst));
    add("hued", "All others, warm to cool", known.filter((c) => c.card.order?.family !== "greys").sort(warmFirst));
  }
  add("unknown", "No colour known", colours.filter((c) => c.card.order === null));
  return sections;
}

function section(key: string, title: string, count: string, colours: readonly ShelfColour[]): Section {
  return { key, title, feel: "", count, colours, shelf: null };
}

function capital(word: string): string {
  return word.charAt(0).toUpperCase() + word.slice(1);
}
