import type { ReactNode } from "react";

/** A line of text or a number with its label. */
export function Field({ label, value, onChange, type = "text", hint, ...rest }: {
  label: string;
  value: string;
  onChange: (value: string) => void;
  type?: "text" | "number";
  hint?: string;
  list?: string;
  required?: boolean;
  min?: number;
  max?: number;
  step?: number | "any";
  maxLength?: number;
  "data-main"?: boolean | undefined;
}) {
  return (
    <label title={hint}>
      {label}
      <input className="field" type={type} value={value} onChange={(event) => onChange(event.currentTarget.value)} {...rest} />
    </label>
  );
}

/** One of a few words. */
export function Choice<T extends string>({ label, value, options, onChange, hint }: {
  label: string;
  value: T;
  options: readonly (readonly [T, string])[];
  onChange: (value: T) => void;
  hint?: string;
}) {
  return (
    <label title={hint}>
      {label}
      <select className="field" value={value} onChange={(event) => {
          const chosen = options[event.currentTarget.selectedIndex]?.[0];
          if (chosen !== undefined) onChange(chosen);
        }}>
        {options.map(([key, words]) => (
          <option key={key} value={key}>
            {words}
          </option>
        ))}
      </select>
    </label>
  );
}

/** Yes or no. */
export function Check({ label, value, onChange }: { label: ReactNode; value: boolean; onChange: (value: boolean) => void }) {
  return (
    <label data-check>
      <input type="checkbox" checked={value} onChange={(event) => onChange(event.currentTarget.checked)} />
      {label}
    </label>
  );
}
