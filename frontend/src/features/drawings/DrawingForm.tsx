import { useState } from "react";
import type { Context } from "../../shared/queries/collection";
import { CLOSEST } from "../../shared/vocabulary";
import { Check, Choice, Field } from "../../shared/ui/Field";
import { TooLate } from "../../shared/ui/Problem";
import { useSaveDrawing, type DrawingCard, type DrawingSaid } from "./queries";

const SIZES = [
  ["", "another size"],
  ["148 210", "A5, 148 × 210 mm"],
  ["210 297", "A4, 210 × 297 mm"],
  ["297 420", "A3, 297 × 420 mm"],
  ["420 594", "A2, 420 × 594 mm"],
] as const;
const BLACKS = [
  ["allowed", "allowed"],
  ["sparingly", "sparingly"],
  ["none", "none: darks from layers"],
] as const;
const ORDERS = [
  ["light to dark", "light to dark"],
  ["dark first", "dark first"],
  ["middle out", "middle out"],
] as const;

/** All that can be said of a drawing; a new one is at hand from then on. */
export function DrawingForm({ drawing, context, onDone, onTheirs }: {
  drawing: DrawingCard | undefined;
  context: Context;
  onDone: (id: number) => void;
  onTheirs: () => void;
}) {
  const [said, setSaid] = useState<DrawingSaid>(drawing?.said ?? newDrawing(context));
  const [sides, setSides] = useState([String(said.width_mm), String(said.height_mm)] as const);
  const [revision] = useState(drawing?.revision ?? 1);
  const save = useSaveDrawing();
  const is = (part: Partial<DrawingSaid>) => setSaid({ ...said, ...part });
  const send = (against: number) =>
    save.mutate(
      { id: drawing?.id ?? null, revision: against, said: { ...said, width_mm: Number(sides[0]), height_mm: Number(sides[1]) } },
      { onSuccess: onDone },
    );
  const size = SIZES.find(([value]) => value === sides.join(" ") || value === [...sides].reverse().join(" "))?.[0] ?? "";
  return (
    <section className="section">
      <h2>{drawing === undefined ? "A new drawing" : `About ${drawing.said.name}`}</h2>
      <form
        className="form"
        onSubmit={(event) => {
          event.preventDefault();
          send(revision);
        }}
      >
        <Field label="Name" value={said.name} onChange={(name) => is({ name })} required maxLength={80} data-main={drawing === undefined || undefined} />
        <Choice label="Paper" value={String(said.paper_id)} options={context.papers.map((p) => [String(p.id), p.name] as const)} onChange={(id) => is({ paper_id: Number(id) })} />
        <Choice label="Size" value={size} options={SIZES} onChange={(value) => value !== "" && setSides(twoOf(value))} />
        <Field label="Wide, mm" type="number" min={40} max={1500} step="any" value={sides[0]} onChange={(wide) => setSides([wide, sides[1]])} />
        <Field label="High, mm" type="number" min={40} max={1500} step="any" value={sides[1]} onChange={(high) => setSides([sides[0], high])} />
        <Choice label="Closest by" value={said.closest ?? "overall"} options={CLOSEST.map((c) => [c, c] as const)} onChange={(closest) => is({ closest })}
          hint="What the nearest colour means here: all of it, value first, or hue first" />
        <Choice label="Black pencils" value={said.black ?? "allowed"} options={BLACKS} onChange={(black) => is({ black })} />
        <Choice label="Worked" value={said.work_order ?? "light to dark"} options={ORDERS} onChange={(work_order) => is({ work_order })} />
        <Check label="for sale, so colours must last" value={said.for_sale ?? false} onChange={(for_sale) => is({ for_sale })} />
        <Check label="with solvent" value={said.solvent ?? false} onChange={(solvent) => is({ solvent })} />
        <label data-wide>
          Notes
          <textarea className="field" rows={2} value={said.notes} onChange={(event) => is({ notes: event.currentTarget.value })} maxLength={4000} />
        </label>
        <button type="submit" className="button" data-strong disabled={save.isPending}>
          {drawing === undefined ? "Begin it" : "Save"}
        </button>
      </form>
      {save.error !== null && <TooLate error={save.error} onMine={send} onTheirs={onTheirs} />}
    </section>
  );
}

function newDrawing(context: Context): DrawingSaid {
  return {
    name: "", paper_id: context.paper_id, width_mm: 210, height_mm: 297, closest: context.closest, for_sale: false,
    black: "allowed", solvent: false, work_order: "light to dark", notes: "",
  };
}

function twoOf(size: string): readonly [string, string] {
  const [wide = "", high = ""] = size.split(" ");
  return [wide, high];
}
