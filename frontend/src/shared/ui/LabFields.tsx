/** A minus as it is printed is meant as one. */
const asTyped = (text: string) => text.replaceAll("−", "-");

/** Three fields for L*, a*, b*; a value pasted as three numbers fills them all. */
export function LabFields({ lab, onChange, required = false }: {
  lab: readonly string[];
  onChange: (lab: string[]) => void;
  required?: boolean;
}) {
  const set = (i: number, text: string) => {
    onChange(lab.map((v, j) => (j === i ? asTyped(text) : v)));
  };
  return (
    <div className="lab">
      {["L*", "a*", "b*"].map((name, i) => (
        <label key={name} title="CIE Lab, D65, 2°">
          {name}
          <input
            className="field mono"
            inputMode="decimal"
            pattern="\s*[\-+]?[0-9]+([.][0-9]+)?\s*"
            required={required}
            value={lab[i] ?? ""}
            onChange={(event) => set(i, event.currentTarget.value)}
            onPaste={(event) => {
              const three = asTyped(event.clipboardData.getData("text")).trim().split(/[\s,;]+/);
              if (three.length !== 3) return;
              event.preventDefault();
              onChange(three);
            }}
          />
        </label>
      ))}
    </div>
  );
}
