import { useState } from "react";
import { Choice, Field } from "../../shared/ui/Field";
import { TooLate } from "../../shared/ui/Problem";
import type { Shelf } from "../../shared/queries/shelves";
import { useSaveRange } from "./queries";

type Said = "unsaid" | "yes" | "no";
const SAID: Record<Said, boolean | null> = { unsaid: null, yes: true, no: false };

/** Yes, no, or not said. */
function saidOf(value: boolean | null | undefined): Said {
  if (value == null) return "unsaid";
  return value ? "yes" : "no";
}

/** What is said of a range as a whole: a new one, or one that is here. */
export function RangeForm({ shelf, onDone }: { shelf?: Shelf; onDone: (id: number) => void }) {
  const [maker, setMaker] = useState(shelf?.maker ?? "");
  const [name, setName] = useState(shelf?.name ?? "");
  const [feel, setFeel] = useState(shelf?.feel ?? "");
  const [point, setPoint] = useState(saidOf(shelf?.holds_point));
  const [water, setWater] = useState(saidOf(shelf?.water_soluble));
  const [length, setLength] = useState(String(shelf?.new_length_mm ?? 175));
  const [revision] = useState(shelf?.revision ?? 1);
  const save = useSaveRange();
  const send = (against: number) =>
    save.mutate(
      { id: shelf?.range_id ?? null, body: {
          maker, name, feel, new_length_mm: Number(length), holds_point: SAID[point], water_soluble: SAID[water], revision: against,
        },
      },
      { onSuccess: (id) => onDone(id) },
    );
  return (
    <form
      className="form"
      onSubmit={(event) => {
        event.preventDefault();
        send(revision);
      }}
    >
      <Field label="Maker" value={maker} onChange={setMaker} maxLength={120} />
      <Field label="Range" value={name} onChange={setName} required maxLength={120} />
      <Field label="How it feels" value={feel} onChange={setFeel} maxLength={300} />
      <Choice label="Its point" value={point} options={[["unsaid", "not said"], ["yes", "holds"], ["no", "goes blunt soon"]]} onChange={setPoint} hint="Fine detail needs a core that holds its point" />
      <Choice label="Water" value={water} options={[["unsaid", "not said"], ["yes", "dissolves it"], ["no", "does not dissolve it"]]} onChange={setWater} hint="Nothing water-soluble may lie under a wet wash" />
      <Field label="A new pencil is, mm" type="number" min={20} max={400} value={length} onChange={setLength} />
      <button type="submit" className="button" data-strong={shelf === undefined || undefined} disabled={save.isPending}>
        {shelf === undefined ? "Add this range" : "Save the range"}
      </button>
      <div data-wide>
        {save.error !== null && <TooLate error={save.error} onMine={send} onTheirs={() => onDone(shelf?.range_id ?? 0)} />}
      </div>
    </form>
  );
}
