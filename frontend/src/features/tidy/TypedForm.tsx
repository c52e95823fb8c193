import { useState } from "react";
import { Choice, Field } from "../../shared/ui/Field";
import { Failed } from "../../shared/ui/Problem";
import type { Paper } from "../../shared/queries/collection";
import { useTypeSwatch } from "./queries";
import { LabFields } from "../../shared/ui/LabFields";

export const PRESSURES = [
  ["light", "light"],
  ["medium", "medium"],
  ["heavy", "heavy"],
] as const;
const FINISHES = [
  ["dry", "dry"],
  ["solvent", "solvent"],
  ["wet", "wet"],
] as const;
const GROUNDS = [
  ["paper", "bare paper"],
  ["black", "a black bar"],
] as const;

/** A mark whose Lab was measured elsewhere and is typed in, on the paper at hand. */
export function TypedForm({ colour, paper, onDone }: { colour: number; paper: Paper; onDone: () => void }) {
  const [lab, setLab] = useState(["", "", ""]);
  const [pressure, setPressure] = useState<"light" | "medium" | "heavy">("heavy");
  const [layers, setLayers] = useState("1");
  const [finish, setFinish] = useState<"dry" | "solvent" | "wet">("dry");
  const [over, setOver] = useState<"paper" | "black">("paper");
  const [instrument, setInstrument] = useState("");
  const [note, setNote] = useState("");
  const type = useTypeSwatch();
  return (
    <form
      className="form"
      onSubmit={(event) => {
        event.preventDefault();
        type.mutate(
          {
            colour_id: colour, paper_id: paper.id, pressure, lab: lab.map(Number), layers: Number(layers), finish, over,
            instrument, note,
          },
          { onSuccess: onDone },
        );
      }}
    >
      <p data-wide>
        On <strong>{paper.name}</strong>, as CIE Lab, D65, 2°. A reader's value always goes before a typed one.
      </p>
      <LabFields lab={lab} onChange={setLab} required takesFocus />
      <Choice label="Pressure" value={pressure} options={PRESSURES} onChange={setPressure} />
      <Field label="Layers" type="number" min={1} max={12} value={layers} onChange={setLayers} />
      <Choice label="Finish" value={finish} options={FINISHES} onChange={setFinish} />
      <Choice label="Over" value={over} options={GROUNDS} onChange={setOver} />
      <Field label="Measured with" value={instrument} onChange={setInstrument} maxLength={120} />
      <Field label="Note" value={note} onChange={setNote} maxLength={2000} />
      <button type="submit" className="button" data-strong disabled={type.isPending}>
        Keep this swatch
      </button>
      <div data-wide>{type.error !== null && <Failed error={type.error} />}</div>
    </form>
  );
}
