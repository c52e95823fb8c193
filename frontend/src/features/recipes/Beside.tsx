import { useState } from "react";
import { useCollection } from "../../shared/queries/collection";
import { Failed } from "../../shared/ui/Problem";
import { sentence } from "../../shared/words";
import { CLOSEST } from "../../shared/vocabulary";
import { called, useOtherHands, type Hands } from "./hands";
import { usePlan, type Plan, type PlanOf } from "./planQueries";
import classes from "./PlanBar.module.css";

interface Other {
  key: string;
  words: string;
  of: PlanOf;
}

/** A plan beside another one: on another paper, with another meaning of closest, without black, with one pencil more, or
 * with other pencils. It is asked for when this one is ended: one plan is worked on at a time. */
export function Beside({ plan, of }: { plan: Plan; of: PlanOf }) {
  const [picked, setPicked] = useState("");
  const others = useOthers(plan, of);
  const other = others.find(({ key }) => key === picked);
  return (
    <div>
      <label>
        Beside a plan{" "}
        <select className="field" value={picked} onChange={(event) => setPicked(event.currentTarget.value)}>
          <option value="">…</option>
          {others.map(({ key, words }) => (
            <option key={key} value={key}>
              {words}
            </option>
          ))}
        </select>
      </label>
      {other !== undefined && <Compared key={other.key} plan={plan} other={other} />}
    </div>
  );
}

/** What else could be supposed, each by itself. */
function useOthers(plan: Plan, of: PlanOf): Other[] {
  const { data: collection } = useCollection();
  const { data: all } = useOtherHands();
  const buys = new Map(plan.passages.flatMap(({ to_buy: buy }) => buy.map((colour) => [colour.id, colour] as const)));
  const hands: Hands[] = ["mine", ...(all?.ranges ?? []).map(({ id }): Hands => `range ${id}`), ...(all?.boxes ?? []).map(({ id }): Hands => `box ${id}`)];
  return [
    ...(collection?.papers ?? []).filter(({ id }) => id !== of.paper).map(({ id, name }) => ({ key: `paper ${id}`, words: `on ${name}`, of: { ...of, paper: id } })),
    ...CLOSEST.filter((closest) => closest !== of.closest).map((closest) => ({ key: closest, words: closest === "overall" ? "with closest overall" : `with ${closest} first`, of: { ...of, closest } })),
    { key: "no black", words: "without black", of: { ...of, noBlack: true } },
    { key: "black", words: "with black", of: { ...of, noBlack: false } },
    ...[...buys.values()].map(({ id, range, code, name }) => ({ key: `bought ${id}`, words: `with ${range} ${code} ${name} bought`, of: { ...of, bought: id } })),
    ...hands.filter((one) => one !== of.hands).map((one) => ({ key: one, words: `with ${called(one, all)}`, of: { ...of, hands: one } })),
  ];
}

function Compared({ plan, other }: { plan: Plan; other: Other }) {
  const { found, error } = usePlan(other.of);
  if (error !== null) return <Failed error={error} />;
  const beside = found?.plan ?? null;
  if (beside === null) {
    return <p role="status">{found?.ended === true ? found.problem : "It is being worked out"}</p>;
  }
  const said = new Map(beside.passages.map((passage) => [passage.area, passage] as const));
  return (
    <>
      <p role="status">
        {plan.expected.toFixed(1)} ΔE in all in this plan, <strong>{beside.expected.toFixed(1)}</strong> {other.words}
        {found?.ended === true ? "" : ", so far"}
      </p>
      <table className={classes.ladder}>
        <caption>ΔE expected of each finished passage</caption>
        <thead>
          <tr>
            <th scope="col">passage</th>
            <th scope="col">here</th>
            <th scope="col">beside</th>
            <th scope="col">laid otherwise there</th>
          </tr>
        </thead>
        <tbody>
          {plan.passages.map((passage, i) => {
            const there = said.get(passage.area);
            return (
              <tr key={`${passage.area} ${i}`}>
                <th scope="row">{passage.area === "" ? "the rest" : sentence(passage.area)}</th>
                <td>{passage.expected.toFixed(1)}</td>
                <td>{there === undefined ? "–" : there.expected.toFixed(1)}</td>
                <td className={classes.otherwise}>{there === undefined ? "" : otherwise(passage.calls, there.calls)}</td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </>
  );
}

/** What the other plan lays where it lays something else. */
function otherwise(here: Plan["passages"][number]["calls"], there: Plan["passages"][number]["calls"]): string {
  const mine = new Map(here.map((call) => [call.call_id, call.said] as const));
  return there.filter((call) => mine.get(call.call_id) !== call.said).map((call) => call.said).join("; ");
}
