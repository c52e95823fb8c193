import { useState } from "react";
import { useFromHex } from "../queries/lab";
import { inThree } from "../threeNumbers";
import { Failed } from "./Problem";

/** A minus as it is printed is meant as one, and a decimal comma as a point. */
const asTyped = (text: string) => text.replaceAll("−", "-").replace(",", ".");

const PARTS = [
  ["L*", "Lightness: 0 is black, 100 is white"],
  ["a*", "Green (−) to red (+); 0 is neither"],
  ["b*", "Blue (−) to yellow (+); 0 is neither"],
] as const;

/** Three fields for L*, a*, b*; a value pasted as three numbers fills them all, and so does a colour as a screen has it. */
export function LabFields({ lab, onChange, required = false, takesFocus = false }: {
  lab: readonly string[];
  onChange: (lab: string[]) => void;
  required?: boolean;
  /** Where the form has just been opened: the first field is typed into at once, and in sight. */
  takesFocus?: boolean;
}) {
  const [hex, setHex] = useState("");
  const fromHex = useFromHex();
  const set = (i: number, text: string) => {
    setHex("");
    onChange(lab.map((v, j) => (j === i ? asTyped(text) : v)));
  };
  const setFromHex = (text: string) => {
    setHex(text);
    if (!/^\s*#?[0-9a-f]{6}\s*$/i.test(text)) return;
    fromHex.mutate(text, { onSuccess: (found) => onChange(found.lab.map((v) => v.toFixed(2))) });
  };
  return (
    <div className="lab">
      {PARTS.map(([name, hint], i) => (
        <label key={name} title={`${hint}. CIE Lab, D65, 2°`}>
          {name}
          <input
            className="field mono"
            inputMode="decimal"
            pattern="\s*[\-+]?[0-9]+([.][0-9]+)?\s*"
            required={required}
            autoFocus={takesFocus && i === 0}
            value={lab[i] ?? ""}
            onChange={(event) => set(i, event.currentTarget.value)}
            onPaste={(event) => {
              const three = inThree(event.clipboardData.getData("text"));
              if (three === null) return;
              event.preventDefault();
              onChange(three);
            }}
          />
        </label>
      ))}
      <label title="A colour as a screen has it, such as #b2402f (sRGB); less sure than a reader's value">
        or hex
        <input className="field mono" value={hex} placeholder="#" maxLength={9} onChange={(event) => setFromHex(event.currentTarget.value)} />
      </label>
      {fromHex.error !== null && <Failed error={fromHex.error} />}
    </div>
  );
}
