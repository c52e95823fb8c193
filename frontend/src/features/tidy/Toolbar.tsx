import { useState } from "react";
import { Segments } from "../../shared/ui/Segments";
import { NO_FILTER, NO_PLACE, ORDERS, SHOWN, type Filter, type Order } from "./arrange";
import classes from "./Toolbar.module.css";
import type { Shelf } from "../../shared/queries/shelves";
import { ratedForLight } from "../../shared/words";

/** In which order the shelves stand, what is shown of them, and the ways to the tidy's other pages. */
export function Toolbar({ shelves, order, filter, onOrder, onFilter }: {
  shelves: readonly Shelf[];
  order: Order;
  filter: Filter;
  onOrder: (order: Order) => void;
  onFilter: (filter: Filter) => void;
}) {
  const colours = shelves.flatMap((s) => s.colours);
  const count = (owning: string) => colours.filter((c) => c.owning === owning).length;
  const words = { stubs: `stubs ${count("stub")}`, lost: `lost ${count("lost")}` };
  const places = [...new Set(colours.flatMap((c) => c.places.map((p) => p.tin || NO_PLACE)))].sort();
  // The fine filters: whatever is set beside what is shown.
  const fine = Object.entries(filter).filter(([key, value]) => key !== "shown" && value !== "").length;
  const [open, setOpen] = useState(fine > 0);
  const lights = [...new Set(colours.map((c) => ratedForLight(c.card.colour)))].filter((l) => l !== "").sort();
  const set = (part: Partial<Filter>) => {
    const next = { ...filter, ...part };
    const empty = Object.entries(NO_FILTER).every(([key, value]) => next[key as keyof Filter] === value);
    onFilter(empty ? NO_FILTER : next);
  };
  return (
    <div className={classes.bar} data-open={open || undefined}>
      <Segments label="Order" options={ORDERS} value={order} onChange={onOrder} />
      <Segments label="Shown" options={SHOWN} words={words} value={filter.shown} onChange={(shown) => set({ shown })} />
      <button type="button" className="button" aria-expanded={open} onClick={() => setOpen(!open)}>
        {fine > 0 ? `Filters (${fine})` : "Filters"}
      </button>
      {open && <div className={classes.selects}>
        <Select label="Range" any="every range" value={filter.range} onChange={(range) => set({ range })} options={shelves.map((s) => [String(s.range_id), s.name])} />
        <Select label="Place" any="every place" value={filter.place} onChange={(place) => set({ place })} options={places.map((p) => [p, p])} />
        <Select label="Covers" any="any cover" value={filter.opacity} onChange={(opacity) => set({ opacity })} options={["transparent", "semi", "opaque"].map((o) => [o, o])} />
        <Select label="Lightfastness" any="any lightfastness" value={filter.lightfastness} onChange={(lightfastness) => set({ lightfastness })} options={lights.map((l) => [l, `lightfastness ${l}`])} />
        <Select label="Known" any="however known" value={filter.trust} onChange={(trust) => set({ trust })} options={[["measured", "measured here"], ["predicted", "predicted here"], ["chart", "by chart only"], ["none", "no colour known"]]} />
        {filter !== NO_FILTER && (
          <button type="button" className="button" onClick={() => onFilter(NO_FILTER)}>
            Show all
          </button>
        )}
      </div>}
    </div>
  );
}

function Select({ label, any, value, options, onChange }: {
  label: string;
  any: string;
  value: string;
  options: readonly (readonly [string, string])[];
  onChange: (value: string) => void;
}) {
  return (
    <select
      aria-label={label}
      className={`field ${classes.select ?? ""}`}
      data-on={value !== "" || undefined}
      value={value}
      onChange={(event) => onChange(event.currentTarget.value)}
    >
      <option value="">{any}</option>
      {options.map(([key, words]) => (
        <option key={key} value={key}>
          {words}
        </option>
      ))}
    </select>
  );
}
