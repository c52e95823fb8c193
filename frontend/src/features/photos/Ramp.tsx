import { useState } from "react";
import type { SheetCard } from "../../shared/queries/sheets";
import { inThree } from "../../shared/threeNumbers";
import { Failed } from "../../shared/ui/Problem";
import { useReader, useReadOnce } from "../reader/queries";
import { useMeasureRamp } from "./queries";
import classes from "./page.module.css";
import { counted } from "../../shared/words";

const STEPS = [15, 30, 50, 70, 85, 100] as const;

/** The grey ramp that is printed on the page, measured with a reader: by it the camera's tones are undone. */
export function Ramp({ sheet }: { sheet: SheetCard }) {
  const [open, setOpen] = useState(false);
  const [typed, setTyped] = useState<Readonly<Record<number, string>>>(() =>
    Object.fromEntries(sheet.ramp.map((step) => [step.black, step.lab.map((v) => v.toFixed(1)).join(" ")])),
  );
  const { data: reader } = useReader();
  const read = useReadOnce();
  const measure = useMeasureRamp(sheet.id);
  const steps = STEPS.flatMap((black) => {
    const lab = inThree(typed[black] ?? "");
    return lab === null ? [] : [{ black, lab: lab.map(Number) }];
  });
  const wrong = STEPS.filter((black) => (typed[black] ?? "").trim() !== "" && inThree(typed[black] ?? "") === null);
  const set = (black: number, text: string) => setTyped({ ...typed, [black]: text });
  return (
    <section className={classes.ramp} aria-label="The grey ramp">
      <button type="button" className="button" aria-expanded={open} onClick={() => setOpen(!open)}>
        {sheet.ramp.length > 0 ? `Its grey ramp: ${counted(sheet.ramp.length, "step")} measured` : "Measure its grey ramp"}
      </button>
      {open && (
        <form
          onSubmit={(event) => {
            event.preventDefault();
            measure.mutate(steps);
          }}
        >
          <p className="soft">
            With a colour reader, once for a print: the greys beside its code, from the palest on. Photos that are read after
            it, or again, are told better.
          </p>
          {STEPS.map((black) => (
            <div key={black} className={classes.step}>
              <label htmlFor={`ramp-${black}`}>{black} %</label>
              <input id={`ramp-${black}`} className="field mono" placeholder="L* a* b*" value={typed[black] ?? ""} aria-invalid={wrong.includes(black) || undefined} onChange={(event) => set(black, event.currentTarget.value)} />
              <button
                type="button"
                className="button"
                disabled={reader?.connected !== true || read.isPending}
                title={reader?.connected === true ? "Lay the reader on this grey" : "No colour reader is connected"}
                aria-label={`Read ${black} %`}
                onClick={() => read.mutate(undefined, { onSuccess: ({ colour }) => set(black, colour.lab.map((v) => v.toFixed(2)).join(" ")) })}
              >
                Read
              </button>
            </div>
          ))}
          {wrong.length > 0 && <p role="status">{wrong.join(" %, ")} %: write three numbers, L* a* b*.</p>}
          <button type="submit" className="button" data-strong={steps.length > 0 || undefined} disabled={wrong.length > 0 || measure.isPending || (steps.length === 0 && sheet.ramp.length === 0)}>
            {steps.length === 0 && sheet.ramp.length > 0 ? "Forget the ramp" : "Keep the ramp"}
          </button>
          {read.error !== null && <Failed error={read.error} />}
          {measure.error !== null && <Failed error={measure.error} />}
        </form>
      )}
    </section>
  );
}
