import classes from "./Segments.module.css";

/** A few words of which one holds. */
export function Segments<T extends string>(props: {
  label: string;
  options: readonly T[];
  words?: Partial<Record<T, string>>;
  value: T;
  onChange: (value: T) => void;
}) {
  return (
    <div className={classes.segments} role="radiogroup" aria-label={props.label}>
      {props.options.map((option) => (
        <label key={option} className={classes.segment} data-on={option === props.value || undefined}>
          <input
            type="radio"
            className="visually-hidden"
            name={props.label}
            checked={option === props.value}
            onChange={() => props.onChange(option)}
          />
          {props.words?.[option] ?? option}
        </label>
      ))}
    </div>
  );
}
