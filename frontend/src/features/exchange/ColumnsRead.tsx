import { useState } from "react";
import type { Schemas } from "../../api/client";
import { counted } from "../../shared/words";
import classes from "./page.module.css";

/** What the artist says of the columns of a file: a field for a heading, empty where it is not to be read. */
export type SaidColumns = Readonly<Record<string, string>>;

/** Which column of the file is read as what, to be said otherwise; what is said is remembered once the file is taken in.
 * To be keyed by the file: its columns stay in the order in which they were first seen, whatever is said of them, so that whoever
 * answers by keyboard keeps the place.
 */
export function ColumnsRead({ read, unread, fields, said, open, onSay }: {
  read: readonly Schemas["ReadAsOut"][];
  unread: readonly string[];
  fields: readonly Schemas["FieldOut"][];
  said: SaidColumns;
  open: boolean;
  onSay: (said: SaidColumns) => void;
}) {
  const [headings] = useState(() => [...new Set([...read.map((one) => one.heading), ...unread])]);
  const [wasOpen] = useState(open);
  if (headings.length === 0) return null;
  return (
    <details className={classes.seen} open={wasOpen || undefined}>
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
          {headings.map((heading) => {
            const one = read.find((each) => each.heading === heading);
            return (
              <tr key={heading}>
                <td>{heading}</td>
                <td>
                  {one?.field === "" ? (
                    one.meaning
                  ) : (
                    <FieldChoice
                      heading={heading}
                      field={one?.field ?? ""}
                      fields={fields}
                      onSay={(field) => onSay({ ...said, [heading]: field })}
                    />
                  )}
                  {one?.as_said === true && said[heading] === undefined && <span className="soft"> as you said before</span>}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </details>
  );
}

function FieldChoice({ heading, field, fields, onSay }: {
  heading: string;
  field: string;
  fields: readonly Schemas["FieldOut"][];
  onSay: (field: string) => void;
}) {
  return (
    <select className="field" aria-label={`Read ${heading} as`} value={field} onChange={(event) => onSay(event.currentTarget.value)}>
      <option value="">not read</option>
      {fields.map((one) => (
        <option key={one.field} value={one.field}>
          {one.meaning}
        </option>
      ))}
    </select>
  );
}
