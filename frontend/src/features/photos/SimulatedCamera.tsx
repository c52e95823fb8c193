import { useState } from "react";
import type { SheetCard } from "../../shared/queries/sheets";
import { Choice } from "../../shared/ui/Field";
import { Failed } from "../../shared/ui/Problem";
import { useSimulatedPhoto, type Condition } from "./queries";
import classes from "./page.module.css";

const CONDITIONS: readonly (readonly [Condition, string])[] = [
  ["window", "by a window"],
  ["lamp", "under a warm lamp at one side"],
  ["tilted", "tilted"],
  ["curled", "the paper curls"],
  ["scan", "with a scanner"],
  ["shadow", "a hand's shadow on it"],
  ["reflection", "a lamp mirrored in it"],
  ["corner_cut", "a corner cut off"],
  ["dark", "too dark"],
  ["blurred", "out of focus"],
  ["mirrored", "with the front camera"],
];
const FILLED = [["100", "all of it"], ["50", "half of it"], ["10", "its first cells"]] as const;

/** The demo's camera: it colours a page in with the hidden pencils and photographs it, so that all can be tried. */
export function SimulatedCamera({ sheet, onAdded }: { sheet: SheetCard; onAdded: (id: number) => void }) {
  const [page, setPage] = useState("1");
  const [condition, setCondition] = useState<Condition>("window");
  const [filled, setFilled] = useState<"100" | "50" | "10">("100");
  const shoot = useSimulatedPhoto(sheet.id);
  return (
    <form
      className={`form ${classes.camera ?? ""}`}
      aria-label="Simulated camera"
      onSubmit={(event) => {
        event.preventDefault();
        shoot.mutate({ page: Number(page), condition, filled: Number(filled) }, { onSuccess: ({ id }) => onAdded(id) });
      }}
    >
      <div data-wide>
        <h2>Simulated camera</h2>
        <p className="soft">Only in the demo: it colours the page in and photographs it.</p>
      </div>
      {sheet.pages > 1 && (
        <Choice label="Page" value={page} options={Array.from({ length: sheet.pages }, (_, i) => [String(i + 1), String(i + 1)] as const)} onChange={setPage} />
      )}
      <Choice label="How" value={condition} options={CONDITIONS} onChange={setCondition} />
      <Choice label="Coloured in" value={filled} options={FILLED} onChange={setFilled} />
      <button type="submit" className="button" disabled={shoot.isPending}>
        {shoot.isPending ? "Photographing…" : "Photograph it"}
      </button>
      <div data-wide>{shoot.error !== null && <Failed error={shoot.error} />}</div>
    </form>
  );
}
