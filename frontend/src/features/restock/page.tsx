import { useState } from "react";
import { Link } from "react-router";
import { useKeys } from "../../shared/keys";
import { PatchView } from "../../shared/ui/Comparison";
import { Check, Choice, Field } from "../../shared/ui/Field";
import { Loading } from "../../shared/ui/Loading";
import { Mark } from "../../shared/ui/Mark";
import { Failed } from "../../shared/ui/Problem";
import { money, Named, Part, Working } from "./Parts";
import { useBuys, usePrices, useRestockActs, type Buy, type Buys, type Near, type Wish } from "./queries";
import classes from "./page.module.css";
import { counted } from "../../shared/words";

const WORDS = ["", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten", "eleven", "twelve"];
const SHOWN = 6;

/** If you bought only three: the colours that together bring most of what is missing closer. */
export function RestockPage() {
  const [wish, setWish] = useState<Wish>({ most: 3, lasting: false, dry: false, budget: "", range: 0, putAway: false });
  const { data, error } = useBuys(wish);
  const acts = useRestockActs();
  const all = () => {
    const colours = data?.buys.filter((one) => !one.is_listed).map((one) => one.colour.id) ?? [];
    if (colours.length > 0) acts.list.mutate({ colours, why: "among the best to buy together" });
  };
  const most = (by: number) => setWish({ ...wish, most: Math.min(12, Math.max(1, wish.most + by)) });
  useKeys({ l: all, "+": () => most(1), "-": () => most(-1) });
  return (
    <Part title={`If you bought only ${WORDS[wish.most] ?? ""}`}>
      <Wishes wish={wish} onWish={setWish} />
      {error !== null && <Failed error={error} />}
      {acts.list.error !== null && <Failed error={acts.list.error} />}
      {data === undefined && error === null && <Loading what="what to buy" />}
      {data !== undefined && <Answer data={data} onList={all} acts={acts} />}
    </Part>
  );
}

function Wishes({ wish, onWish }: { wish: Wish; onWish: (wish: Wish) => void }) {
  const { data: prices } = usePrices();
  const ranges: (readonly [string, string])[] = [["0", "all ranges"], ...(prices?.ranges.map((one) => [String(one.id), one.name] as const) ?? [])];
  return (
    <form className={`form ${classes.wishes ?? ""}`} aria-label="What you would buy" onSubmit={(event) => event.preventDefault()}>
      <Choice label="How many" value={String(wish.most)} options={WORDS.slice(1).map((_, i) => [String(i + 1), String(i + 1)] as const)} onChange={(most) => onWish({ ...wish, most: Number(most) })} />
      <Choice label="Of" value={String(wish.range)} options={ranges} onChange={(range) => onWish({ ...wish, range: Number(range) })} />
      <Field label={`Budget in all${prices?.currency ? `, ${prices.currency}` : ""}`} hint="What they may cost together; colours without a price are left out then" value={wish.budget} onChange={(budget) => onWish({ ...wish, budget })} />
      <div className={classes.ticks}>
        <Check label="only what lasts (I, II)" value={wish.lasting} onChange={(lasting) => onWish({ ...wish, lasting })} />
        <Check label="nothing water-soluble" value={wish.dry} onChange={(dry) => onWish({ ...wish, dry })} />
        <Check label="drawings put away count as much" value={wish.putAway} onChange={(putAway) => onWish({ ...wish, putAway })} />
      </div>
    </form>
  );
}

function Answer({ data, onList, acts }: { data: Buys; onList: () => void; acts: ReturnType<typeof useRestockActs> }) {
  if (data.failed) return <p>What to buy could not be worked out, because of a mistake in the program. What you own is unharmed.</p>;
  return (
    <>
      {!data.ended && <Working doing={data.layered ? "" : data.doing || "A first answer by single pencils"} done={data.done} total={data.total} />}
      {data.missing === 0 && data.ended && <Nothing />}
      {data.missing > 0 && (
        <p>
          For <strong>{data.missing}</strong> {data.missing === 1 ? "colour" : "colours"} that recipes call for and you lack, or that you picked in pictures.{" "}
          {data.layered ? "Layers of what you own are counted in" : "Single pencils only so far"}
          {data.proven && (
            <span title="Each alone, and the ten to twenty that help most also over and under each of yours">; of the {data.looked_at} colours looked at no others do better together</span>
          )}
          .
          {data.left_out > 0 && ` ${counted(data.left_out, "call says", "calls say")} nothing that could be compared.`}
          {data.without_price > 0 && ` ${counted(data.without_price, "colour has no price and is", "colours have no price and are")} left out.`}
        </p>
      )}
      {data.buys.length > 0 && (
        <>
          <ol className={classes.buys}>
            {data.buys.map((buy) => (
              <BuyCard key={buy.colour.id} buy={buy} missing={data.missing} currency={data.currency} onList={() => acts.list.mutate({ colours: [buy.colour.id], why: reason(buy) })} />
            ))}
          </ol>
          <p>
            <button type="button" className="button" data-strong data-main disabled={data.buys.every((buy) => buy.is_listed)} onClick={onList}>
              All of them on the list <kbd>l</kbd>
            </button>
          </p>
        </>
      )}
      {data.missing > 0 && data.buys.length === 0 && data.ended && <p>Nothing on your charts brings any of them closer than what you own.</p>}
      <Boxes data={data} />
      <Holes data={data} />
    </>
  );
}

function Nothing() {
  return (
    <p>
      Nothing is missing for what your recipes and pictures ask for so far. <Link to="/recipes/new">Paste a recipe</Link>, or pick colours in a{" "}
      <Link to="/reference">picture</Link>, and it is worked out what they need.
    </p>
  );
}

function reason(buy: Buy): string {
  return `${buy.serves.length} closer, by ${buy.middle.toFixed(1)} ΔE in the middle`;
}

function BuyCard({ buy, missing, currency, onList }: { buy: Buy; missing: number; currency: string; onList: () => void }) {
  const more = buy.serves.length - SHOWN;
  return (
    <li className={classes.buy}>
      <div className={classes.head}>
        <div className={classes.mark}>
          <Mark mark={buy.mark} seed={buy.colour.id} height={44} />
        </div>
        <div>
          <h2>
            <Link to={`/tidy/${buy.colour.id}`}>
              <Named colour={buy.colour} />
            </Link>
          </h2>
          <p>
            brings <strong>{buy.serves.length}</strong> of {missing} closer, by <strong>{buy.middle.toFixed(1)}</strong> ΔE in the middle, {buy.gain.toFixed(1)} in all
            {buy.gain_alone - buy.gain > 0.05 && ` (${buy.gain_alone.toFixed(1)} if it were the only one)`}
            {buy.by_chart && <span className="soft"> (known by its chart value only: less sure)</span>}
            {buy.price !== null && ` · ${money(buy.price, currency)}`}
          </p>
        </div>
        <button type="button" className="button" disabled={buy.is_listed} onClick={onList} aria-label={`${buy.is_listed ? "On the list" : "Onto the list"}: ${buy.colour.range} ${buy.colour.code}`}>
          {buy.is_listed ? "On the list" : "Onto the list"}
        </button>
      </div>
      <ul className={classes.serves}>
        {buy.serves.slice(0, SHOWN).map((one, i) => (
          <li key={i}>
            {one.words} <span className="soft">in {one.title}:</span> {one.before.toFixed(1)} → <strong>{one.after.toFixed(1)}</strong>
            {one.layered_with !== null && (
              <span className="soft">
                {" "}
                layered with your <Named colour={one.layered_with} />
              </span>
            )}
          </li>
        ))}
        {more > 0 && <li className="soft">and {more} more</li>}
      </ul>
      {buy.nearest !== null && <Nearest near={buy.nearest} />}
    </li>
  );
}

function Nearest({ near }: { near: Near }) {
  return (
    <p className={near.twin ? "caution" : "soft"}>
      {near.twin ? "A twin of what you have: " : "Nearest that you have: "}
      <Named colour={near.colour} />, {near.difference.delta_e.toFixed(1)} ΔE off heavy; it is {near.difference.words.join(", ")}
    </p>
  );
}

function Boxes({ data }: { data: Buys }) {
  if (data.boxes.length === 0) return null;
  return (
    <section className="section" aria-label="Which box">
      <h2>Which box?</h2>
      <div className={classes.scroll} tabIndex={0} role="group" aria-label="Boxes, by what they would do">
        <table className="table">
          <thead>
            <tr>
              <th scope="col">box</th>
              <th scope="col">new to you</th>
              <th scope="col">twins of yours</th>
              <th scope="col">brings closer</th>
              <th scope="col">in all, ΔE</th>
              <th scope="col">price</th>
              <th scope="col">each new one</th>
            </tr>
          </thead>
          <tbody>
            {data.boxes.map((box) => (
              <tr key={box.set_id}>
                <th scope="row">
                  {box.name}
                </th>
                <td className="mono">
                  {box.new} of {box.colours}
                </td>
                <td className="mono">{box.twins}</td>
                <td className="mono">{box.answered}</td>
                <td className="mono">{box.gain.toFixed(1)}</td>
                <td className="mono">{box.price === null ? "–" : money(box.price, data.currency)}</td>
                <td className="mono">{box.each_new === null ? "–" : money(box.each_new, data.currency)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </section>
  );
}

function Holes({ data }: { data: Buys }) {
  if (data.holes.length === 0 || !data.layered) return null;
  return (
    <section className="section" aria-label="Holes">
      <h2>Holes</h2>
      <p className="soft">Nothing that you own, alone or layered, is expected to come within 6 ΔE of these.</p>
      <ul className={classes.holes}>
        {data.holes.map((hole, i) => (
          <li key={i}>
            <span className={classes.patch}>
              <PatchView patch={hole.colour} />
            </span>
            <span>
              {hole.words} <span className="soft">in {hole.title},</span> {hole.nearest.toFixed(1)} off
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
