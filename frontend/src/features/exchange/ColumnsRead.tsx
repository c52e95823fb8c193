import type { Schemas } from "../../api/client";
import { counted } from "../../shared/words";
import classes from "./page.module.css";

/** What the artist says of the columns of a file: a field for a heading, empty where it is not to be read. */
export type SaidColumns = Readonly<Record<string, string>>;

/** Which column of the file is read as what, to be said otherwise; what is said is remembered once the file is taken in. */
export function ColumnsRead({ read, unread, fields, said, open, onSay }: {
  read: readonly Schemas["ReadAsOut"][];
  unread: readonly string[];
  fields: readonly Schemas["FieldOut"][];
  said: SaidColumns;
  open: boolean;
  onSay: (said: SaidColumns) => void;
}) {
  if (read.length + unread.length === 0) return null;
  const say = (heading: string, field: string) => onSay({ ...said, [heading]: field });
  return (
    <details className={classes.seen} open={open || undefined}>
      <summary>
        {counted(read.length, "column is", "columns are")} read{unread.length > 0 && `, ${unread.length} not`}
      </summary>
      <table className={`${classes.problems ?? ""} ${classes.fields ?? ""}`}>
        <thead>
          <tr>
            <th scope="col">in the file</th>
            <th scope="col">read as</th>
          </tr>
        </thead>
        <tbody>
          {read.map((one) => (
            <tr key={one.heading}>
              <td>{one.heading}</td>
              <td>
                {one.field === "" ? one.meaning : <FieldChoice heading={one.heading} field={one.field} fields={fields} onSay={say} />}
                {one.as_said && said[one.heading] === undefined && <span className="soft"> as you said before</span>}
              </td>
            </tr>
          ))}
          {unread.map((heading, at) => (
            <tr key={`${at} ${heading}`}>
              <td>{heading}</td>
              <td>
                <FieldChoice heading={heading} field="" fields={fields} onSay={say} />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </details>
  );
}

function FieldChoice({ heading, field, fields, onSay }: {
  heading: string;
  field: string;
  fields: readonly Schemas["FieldOut"][];
  onSay: (heading: string, field: string) => void;
}) {
  return (
    <select className="field" aria-label={`Read ${heading} as`} value={field} onChange={(event) => onSay(heading, event.currentTarget.value)}>
      <option value="">not read</option>
      {fields.map((one) => (
        <option key={one.field} value={one.field}>
          {one.meaning}
        </option>
      ))}
    </select>
  );
}
