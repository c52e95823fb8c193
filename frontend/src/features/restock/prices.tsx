import { useState } from "react";
import type { Schemas } from "../../api/client";
import { Loading } from "../../shared/ui/Loading";
import { Failed } from "../../shared/ui/Problem";
import { Part } from "./Parts";
import { usePrices, useRestockActs } from "./queries";
import classes from "./page.module.css";

/** What pencils and boxes cost: one's own, none needed. */
export function PricesPage() {
  const { data, error } = usePrices();
  return (
    <Part title="Prices">
      {error !== null && <Failed error={error} />}
      {data === undefined && error === null && <Loading what="the prices" />}
      {data !== undefined && (
        <>
          <p>Your own, as you pay them; none is needed. Leave empty what you do not know.</p>
          <Currency key={data.currency} currency={data.currency} />
          <div className={classes.prices}>
            <Priced title="One pencil of a range" rows={data.ranges} of={(id) => ({ range_id: id })} />
            <Priced title="A box" rows={data.sets} of={(id) => ({ set_id: id })} />
          </div>
        </>
      )}
    </Part>
  );
}

function Currency({ currency }: { currency: string }) {
  const [text, write] = useState(currency);
  const { currency: set } = useRestockActs();
  const keep = () => text.trim() !== currency && set.mutate(text);
  return (
    <form className="row" onSubmit={(event) => {
        event.preventDefault();
        keep();
      }}>
      <label htmlFor="currency">Written in</label>
      <input id="currency" className={`field ${classes.length ?? ""}`} maxLength={8} value={text} onChange={(event) => write(event.currentTarget.value)} onBlur={keep} />
      {set.error !== null && <Failed error={set.error} />}
    </form>
  );
}

function Priced({ title, rows, of }: { title: string; rows: readonly Schemas["PricedOut"][]; of: (id: number) => Schemas["PriceIn"] }) {
  return (
    <section aria-label={title}>
      <h2>{title}</h2>
      <table className="table">
        <tbody>
          {rows.map((row) => (
            <tr key={row.id}>
              <th scope="row">{row.name}</th>
              <td>
                <Amount key={String(row.price)} row={row} of={of} />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

function Amount({ row, of }: { row: Schemas["PricedOut"]; of: (id: number) => Schemas["PriceIn"] }) {
  const was = row.price === null ? "" : String(row.price);
  const [text, write] = useState(was);
  const { price } = useRestockActs();
  const keep = () => {
    if (text.trim() === was) return;
    const amount = text.trim() === "" ? null : Number(text.replace(",", "."));
    price.mutate({ ...of(row.id), amount });
  };
  return (
    <form onSubmit={(event) => {
        event.preventDefault();
        keep();
      }}>
      <input className={`field ${classes.length ?? ""}`} inputMode="decimal" aria-label={`Price of ${row.name}`} value={text} onChange={(event) => write(event.currentTarget.value)} onBlur={keep} />
      {price.error !== null && <Failed error={price.error} />}
    </form>
  );
}
