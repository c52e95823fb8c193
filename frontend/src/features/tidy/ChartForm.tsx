import { useState } from "react";
import { Choice, Field } from "../../shared/ui/Field";
import { LabFields } from "../../shared/ui/LabFields";
import { TooLate } from "../../shared/ui/Problem";
import { useSaveColour } from "./queries";
import type { ColourPage } from "../../shared/queries/shelves";

const OPACITIES = [
  ["", "not said"],
  ["transparent", "transparent"],
  ["semi", "semi"],
  ["opaque", "opaque"],
] as const;
const EFFECTS = [
  ["ordinary", "ordinary"],
  ["metallic", "metallic"],
  ["neon", "neon"],
  ["pearl", "pearl"],
] as const;

/** What a chart says of a colour: a new one of a range, or one corrected. */
export function ChartForm({ range, page, onDone }: { range: number; page?: ColourPage; onDone: () => void }) {
  const [code, setCode] = useState(page?.colour.code ?? "");
  const [name, setName] = useState(page?.colour.name ?? "");
  const [lab, setLab] = useState(page?.chart.lab?.map(String) ?? ["", "", ""]);
  const [opacity, setOpacity] = useState(OPACITIES.find(([o]) => o === page?.colour.opacity)?.[0] ?? "");
  const [light, setLight] = useState(page?.colour.lightfastness ?? "");
  const [effect, setEffect] = useState(EFFECTS.find(([e]) => e === page?.colour.effect)?.[0] ?? "ordinary");
  // What another window does meanwhile must not wipe what is typed here: saving then shows both.
  const [revision] = useState(page?.chart.revision ?? 1);
  const save = useSaveColour();
  const some = lab.some((v) => v.trim() !== "");
  const send = (against: number) =>
    save.mutate(
      {
        range,
        colour: page?.colour.id ?? null,
        body: { code, name, lab: some ? lab.map(Number) : null, opacity, lightfastness: light, effect, revision: against },
      },
      {
        onSuccess: () => {
          if (page === undefined) {
            setCode("");
            setName("");
            setLab(["", "", ""]);
          }
          onDone();
        },
      },
    );
  return (
    <form
      className="form"
      onSubmit={(event) => {
        event.preventDefault();
        send(revision);
      }}
    >
      <Field label="Code" value={code} onChange={setCode} required maxLength={120} />
      <Field label="Name" value={name} onChange={setName} required maxLength={120} />
      <LabFields lab={lab} onChange={setLab} required={some} />
      <Choice label="Covers" value={opacity} options={OPACITIES} onChange={setOpacity} />
      <Field label="Lightfastness" value={light} onChange={setLight} maxLength={120} />
      <Choice label="Effect" value={effect} options={EFFECTS} onChange={setEffect} />
      <button type="submit" className="button" data-strong disabled={save.isPending}>
        {page === undefined ? "Add this colour" : "Save the chart"}
      </button>
      <div data-wide>{save.error !== null && <TooLate error={save.error} onMine={send} onTheirs={onDone} />}</div>
    </form>
  );
}
