import type { ReactNode } from "react";
import { NavLink } from "react-router";
import type { Schemas } from "../../api/client";
import classes from "./page.module.css";
import { amountWords } from "../../shared/dates";

const PARTS = [
  ["/restock", "What to buy"],
  ["/restock/list", "The list"],
  ["/restock/pack", "Pack, do without"],
  ["/restock/lasting", "Running out"],
  ["/restock/prices", "Prices"],
  ["/restock/fading", "Fade tests"],
  ["/restock/practice", "Eye practice"],
] as const;

/** A page of this station: its parts side by side, then what the page holds. */
export function Part({ title, children }: { title: string; children: ReactNode }) {
  return (
    <div className="station-page" tabIndex={-1}>
      <nav aria-label="Restock" className={classes.parts}>
        {PARTS.map(([to, name]) => (
          <NavLink key={to} to={to} end={to === "/restock"} className={classes.part ?? ""}>
            {name}
          </NavLink>
        ))}
      </nav>
      <h1>{title}</h1>
      {children}
    </div>
  );
}

/** A colour by range, code and name. */
export function Named({ colour }: { colour: Schemas["ColourOut"] }) {
  return (
    <>
      {colour.range} <code>{colour.code}</code> {colour.name}
    </>
  );
}

/** How far work is that takes a while. */
export function Working({ doing, done, total }: { doing: string; done: number; total: number }) {
  return (
    <p role="status" className="row">
      {doing === "" ? "Worked out" : doing} …
      {total > 0 && (
        <>
          <progress max={total} value={done} aria-label="How far it is" />
          <span className="mono">
            {done} of {total}
          </span>
        </>
      )}
    </p>
  );
}

/** An amount as it is written here. */
export function money(amount: number, currency: string): string {
  return `${amountWords(amount)} ${currency}`.trim();
}
