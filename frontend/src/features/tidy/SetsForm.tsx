import { useState } from "react";
import { Field } from "../../shared/ui/Field";
import { Failed } from "../../shared/ui/Problem";
import type { Shelf } from "../../shared/queries/shelves";
import { useAddSet, useRemoveSet } from "./queries";

/** The boxed sets of a range: those that are known, and a new one from its codes. */
export function SetsForm({ shelf }: { shelf: Shelf }) {
  const removeSet = useRemoveSet();
  return (
    <>
      {shelf.sets.map((set) => (
        <p key={set.id} className="row">
          <strong>{set.name}</strong> {set.colours} colours, {set.owned} owned
          <button type="button" className="button" aria-label={`Remove the set ${set.name}`} onClick={() => removeSet.mutate(set.id)}>
            Remove
          </button>
        </p>
      ))}
      {removeSet.error !== null && <Failed error={removeSet.error} />}
      <SetForm range={shelf.range_id} />
    </>
  );
}

function SetForm({ range }: { range: number }) {
  const [name, setName] = useState("");
  const [codes, setCodes] = useState("");
  const add = useAddSet();
  return (
    <form
      className="form"
      onSubmit={(event) => {
        event.preventDefault();
        add.mutate(
          { range, body: { name, codes } },
          {
            onSuccess: () => {
              setName("");
              setCodes("");
            },
          },
        );
      }}
    >
      <Field label="A new set's name" value={name} onChange={setName} required maxLength={120} />
      <Field label="Its codes, such as 101-112, 120" value={codes} onChange={setCodes} required maxLength={4000} />
      <button type="submit" className="button" disabled={add.isPending}>
        Add this set
      </button>
      <div data-wide>{add.error !== null && <Failed error={add.error} />}</div>
    </form>
  );
}
