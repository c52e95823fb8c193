import { useState } from "react";
import { LabFields } from "../../shared/ui/LabFields";
import { Failed } from "../../shared/ui/Problem";
import { useReadStrip } from "./queries";
import classes from "./page.module.css";

/** A Lab that was measured elsewhere, typed in for one order of a strip. */
export function TypedLab({ scrap, turned, onDone }: { scrap: number; turned: boolean; onDone: () => void }) {
  const [lab, setLab] = useState(["", "", ""]);
  const keep = useReadStrip(scrap);
  const doubt = keep.data?.doubt ?? "";
  const send = (sure: boolean) =>
    keep.mutate({ turned, lab: lab.map(Number), keep: sure }, { onSuccess: (read) => read.doubt === "" && onDone() });
  return (
    <form
      className={classes.typed}
      onSubmit={(event) => {
        event.preventDefault();
        send(false);
      }}
    >
      <LabFields lab={lab} onChange={setLab} required takesFocus />
      <button type="submit" className="button" disabled={keep.isPending}>
        Keep it
      </button>
      {doubt !== "" && (
        <div role="alert">
          <strong>⚠ {doubt}</strong>{" "}
          <button type="button" className="button" onClick={() => send(true)}>
            Keep it all the same
          </button>
        </div>
      )}
      {keep.error !== null && <Failed error={keep.error} />}
    </form>
  );
}
