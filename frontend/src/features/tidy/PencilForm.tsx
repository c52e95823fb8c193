import { useState } from "react";
import { Check, Choice, Field } from "../../shared/ui/Field";
import { Failed, TooLate } from "../../shared/ui/Problem";
import { useEditPencil, useRemovePencil, useTins, type Pencil } from "./queries";
import classes from "./PencilForm.module.css";

const STATES = [
  ["in_use", "in use"],
  ["spare", "spare"],
  ["lost", "lost"],
  ["used_up", "used up"],
] as const;
type State = (typeof STATES)[number][0];

/** One stick: said in one line, and changed in a form that opens under it. */
export function PencilLine({ pencil }: { pencil: Pencil }) {
  const [open, setOpen] = useState(false);
  return (
    <div className={classes.pencil}>
      <div className={classes.line}>
        <span>{inWords(pencil)}</span>
        <button type="button" className={classes.change} aria-expanded={open} onClick={() => setOpen(!open)}>
          {open ? "close" : "change"}
        </button>
      </div>
      {open && <PencilForm pencil={pencil} onDone={() => setOpen(false)} />}
    </div>
  );
}

function PencilForm({ pencil, onDone }: { pencil: Pencil; onDone: () => void }) {
  const [tin, setTin] = useState(pencil.tin);
  const [slot, setSlot] = useState(pencil.slot?.toString() ?? "");
  const [length, setLength] = useState(pencil.length_mm?.toString() ?? "");
  const [state, setState] = useState<State>(STATES.find(([s]) => s === pencil.state)?.[0] ?? "in_use");
  const [readable, setReadable] = useState(pencil.stamp_readable);
  const [notes, setNotes] = useState(pencil.notes);
  // What another window does meanwhile must not wipe what is typed here: saving then shows both.
  const [revision] = useState(pencil.revision);
  const { data: tins } = useTins();
  const edit = useEditPencil();
  const remove = useRemovePencil();
  const send = (against: number) =>
    edit.mutate(
      {
        id: pencil.id,
        body: {
          revision: against, tin, state, notes,
          slot: slot === "" ? null : Number(slot),
          length_mm: length === "" ? null : Number(length),
          stamp_readable: readable,
        },
      },
      { onSuccess: onDone },
    );
  return (
    <form
      className={`form ${classes.form ?? ""}`}
      onSubmit={(event) => {
        event.preventDefault();
        send(revision);
      }}
    >
      <Field label="Tin" value={tin} onChange={setTin} list={`tins-${pencil.id}`} maxLength={60} />
      <datalist id={`tins-${pencil.id}`}>{tins?.tins.map((t) => <option key={t.name} value={t.name} />)}</datalist>
      <Field label="Slot" type="number" min={0} max={9999} value={slot} onChange={setSlot} />
      <Field label="Length, mm" type="number" min={0} max={400} value={length} onChange={setLength} />
      <Choice label="State" value={state} options={STATES} onChange={setState} />
      <Check label="Stamp readable" value={readable} onChange={setReadable} />
      <div data-wide>
        <Field label="Notes" value={notes} onChange={setNotes} maxLength={2000} />
      </div>
      <div className="row" data-wide>
        <button type="submit" className="button" data-strong disabled={edit.isPending}>
          Save
        </button>
        <button type="button" className="button" onClick={() => remove.mutate(pencil.id)}>
          Remove this pencil
        </button>
      </div>
      <div data-wide>
        {edit.error !== null && <TooLate error={edit.error} onMine={send} onTheirs={onDone} />}
        {remove.error !== null && <Failed error={remove.error} />}
      </div>
    </form>
  );
}

/** A stick in one line: where it stands, how long it is, and what is unusual about it. */
function inWords(pencil: Pencil): string {
  const parts = [
    pencil.tin === "" ? "no place given" : `${pencil.tin}${pencil.slot == null ? "" : `, slot ${pencil.slot}`}`,
    pencil.length_mm == null ? "" : `${pencil.length_mm} mm`,
    pencil.state === "in_use" ? "" : pencil.state.replace("_", " "),
    pencil.stamp_readable ? "" : "stamp worn",
    pencil.set_name ? `from ${pencil.set_name}` : "bought singly",
    pencil.notes,
  ];
  return parts.filter((part) => part !== "").join(" · ");
}
