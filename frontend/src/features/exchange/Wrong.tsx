import type { ReactNode } from "react";
import classes from "./page.module.css";

/** What is wrong in a file, line by line; nothing was taken in. */
export function Wrong({ problems, field, children }: {
  problems: readonly { line: number; field: string; message: string }[];
  field: string;
  children?: ReactNode;
}) {
  return (
    <section className={classes.seen} role="alert">
      <h2>
        <span aria-hidden="true">⚠ </span>
        {problems.length === 1 ? "One thing" : `${problems.length} things`} to mend; nothing was taken in
      </h2>
      <table className={classes.problems}>
        <thead>
          <tr>
            <th scope="col">line</th>
            <th scope="col">{field}</th>
            <th scope="col">what is wrong</th>
          </tr>
        </thead>
        <tbody>
          {problems.map((problem, i) => (
            <tr key={i}>
              <td>{problem.line}</td>
              <td>{problem.field}</td>
              <td>{problem.message}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {children}
    </section>
  );
}
