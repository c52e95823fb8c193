import { Link } from "react-router";
import { useKeys } from "../../shared/keys";
import { Loading } from "../../shared/ui/Loading";
import { Failed } from "../../shared/ui/Problem";
import { money, Named, Part } from "./Parts";
import { useRestockActs, useShoppingList, type Listed } from "./queries";
import classes from "./page.module.css";

/** What is to be bought: ticked in the shop, then into the tidy. */
export function ListPage() {
  const { data, error } = useShoppingList();
  const acts = useRestockActs();
  const ticked = data?.lines.filter((line) => line.ticked).length ?? 0;
  const buy = () => ticked > 0 && acts.bought.mutate();
  useKeys({ b: buy });
  return (
    <Part title="To buy">
      {error !== null && <Failed error={error} />}
      {data === undefined && error === null && <Loading what="the list" />}
      {data?.lines.length === 0 && (
        <p>
          Nothing is on the list. <Link to="/restock">What would help most?</Link>
        </p>
      )}
      {data !== undefined && data.lines.length > 0 && (
        <>
          <ul className={classes.list}>
            {data.lines.map((line) => (
              <Line key={line.id} line={line} currency={data.currency} acts={acts} />
            ))}
          </ul>
          <p>
            {data.lines.reduce((sum, line) => sum + line.pieces, 0)} in all
            {data.cost > 0 && `, ${money(data.cost, data.currency)}`}
            {data.cost > 0 && data.without_price > 0 && `; ${data.without_price} without a price`}
          </p>
          <div className="row">
            <button type="button" className="button" data-strong data-main disabled={ticked === 0 || acts.bought.isPending} onClick={buy}>
              {ticked === 0 ? "Tick what you bought" : `Bought: ${ticked} into the tidy`} <kbd>b</kbd>
            </button>
            <a className="button" href="/api/restock/list.pdf" download>
              PDF, A4
            </a>
            <a className="button" href="/api/restock/list.pdf?size=Letter" download>
              PDF, Letter
            </a>
            <a className="button" href="/api/restock/list.csv" download>
              CSV
            </a>
            <span className="soft">or on a paired phone, for the shop</span>
          </div>
        </>
      )}
      {[acts.say.error, acts.strike.error, acts.bought.error].map((one, i) => one !== null && <Failed key={i} error={one} />)}
    </Part>
  );
}

function Line({ line, currency, acts }: { line: Listed; currency: string; acts: ReturnType<typeof useRestockActs> }) {
  const name = `${line.colour.range} ${line.colour.code} ${line.colour.name}`;
  return (
    <li data-ticked={line.ticked || undefined}>
      <label className={classes.tick}>
        <input type="checkbox" checked={line.ticked} onChange={(event) => acts.say.mutate({ id: line.id, ticked: event.currentTarget.checked })} />
        <span>
          <strong>
            <Named colour={line.colour} />
          </strong>
          <br />
          <span className="soft">{[line.why, line.nearest === null ? "" : nearWords(line)].filter(Boolean).join(" · ")}</span>
        </span>
      </label>
      <span className="row">
        <button type="button" className="button" aria-label={`One less of ${name}`} disabled={line.pieces <= 1} onClick={() => acts.say.mutate({ id: line.id, pieces: line.pieces - 1 })}>
          −
        </button>
        <span className="mono">{line.pieces}</span>
        <button type="button" className="button" aria-label={`One more of ${name}`} onClick={() => acts.say.mutate({ id: line.id, pieces: line.pieces + 1 })}>
          +
        </button>
        {line.price !== null && <span className="mono">{money(line.pieces * line.price, currency)}</span>}
        <button type="button" className="button" aria-label={`Strike ${name}`} onClick={() => acts.strike.mutate(line.id)}>
          Strike
        </button>
      </span>
    </li>
  );
}

function nearWords({ nearest }: Listed): string {
  if (nearest === null) return "";
  const owned = `${nearest.colour.range} ${nearest.colour.code}`;
  return nearest.twin ? `a twin of your ${owned}` : `nearest you have: ${owned}, ${nearest.difference.delta_e.toFixed(1)} off`;
}
