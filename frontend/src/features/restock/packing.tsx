import { useState } from "react";
import { Link } from "react-router";
import { Loading } from "../../shared/ui/Loading";
import { Failed } from "../../shared/ui/Problem";
import { Field } from "../../shared/ui/Field";
import { useCollection } from "../../shared/queries/collection";
import { useRecipes } from "../recipes/queries";
import { Named, Part, Working } from "./Parts";
import { usePacking, useRestockActs, useSpare, useTwins } from "./queries";
import classes from "./page.module.css";

const FEW = 12;

/** A tin for a journey, and what would not be missed at home. */
export function PackingPage() {
  return (
    <Part title="Pack a tin, do without">
      <Pack />
      <Spare />
      <Twins />
    </Part>
  );
}

function Pack() {
  const { data: context } = useCollection();
  const { data: recipes } = useRecipes(context?.paper_id ?? 0);
  const [chosen, choose] = useState<readonly number[]>([]);
  const [count, setCount] = useState("24");
  const [tin, setTin] = useState("Travel tin");
  const { data, error } = usePacking(chosen, Number(count));
  const acts = useRestockActs();
  const packed = chosen.length > 0 ? data?.answer : null;
  return (
    <section aria-label="Pack a tin" className={classes.pack}>
      <h2>Pack a tin</h2>
      {recipes?.recipes.length === 0 && (
        <p>
          A tin is packed for recipes, and there is none yet. <Link to="/recipes/new">Paste one</Link>.
        </p>
      )}
      <fieldset hidden={recipes?.recipes.length === 0} className={classes.recipes}>
        <legend>For these recipes</legend>
        {recipes?.recipes.map((recipe) => (
          <label key={recipe.id}>
            <input type="checkbox" checked={chosen.includes(recipe.id)} onChange={(event) => choose(event.currentTarget.checked ? [...chosen, recipe.id] : chosen.filter((one) => one !== recipe.id))} />
            {recipe.title}
          </label>
        ))}
      </fieldset>
      <div className="form">
        <Field label="Pencils in it" type="number" min={1} max={200} value={count} onChange={setCount} />
      </div>
      {error !== null && <Failed error={error} />}
      {chosen.length > 0 && data?.ended === false && <Working doing={data.doing} done={data.done} total={data.total} />}
      {packed != null && (
        <>
          <p role="status">
            <strong>{packed.colours.length}</strong> {packed.colours.length === 1 ? "pencil serves" : "pencils serve"} {packed.demands} calls: {packed.middle.toFixed(1)} ΔE expected in the mean, with
            all you own {packed.best.toFixed(1)}.{packed.proven && " No other tin of that size does better, by the ways that come nearest."}
          </p>
          {packed.worse.length > 0 && (
            <details>
              <summary>{packed.worse.length} come out worse than with all you own</summary>
              <ul>
                {packed.worse.map((words, i) => (
                  <li key={i}>{words}</li>
                ))}
              </ul>
            </details>
          )}
          <ol className={classes.tin}>
            {packed.colours.map((colour) => (
              <li key={colour.id}>
                <Named colour={colour} />
              </li>
            ))}
          </ol>
          <form className="form" onSubmit={(event) => {
              event.preventDefault();
              acts.pack.mutate({ colours: packed.colours.map((colour) => colour.id), tin });
            }}>
            <Field label="Put them into" value={tin} onChange={setTin} maxLength={60} hint="They are moved there in the tidy, and the tin is marked as with you" />
            <button type="submit" className="button" data-strong disabled={acts.pack.isPending || tin.trim() === ""}>
              Pack it and take it along
            </button>
          </form>
          {acts.pack.isSuccess && (
            <p role="status">
              Packed. <kbd>m</kbd> lets only what is with you count, everywhere.
            </p>
          )}
        </>
      )}
      {acts.pack.error !== null && <Failed error={acts.pack.error} />}
    </section>
  );
}

function Spare() {
  const { data, error } = useSpare();
  if (error !== null) return <Failed error={error} />;
  if (data === undefined) return <Loading what="what could go" />;
  const answer = data.answer;
  return (
    <section className="section" aria-label="Do without">
      <h2>What would not be missed</h2>
      {!data.ended && <Working doing={data.doing} done={data.done} total={data.total} />}
      {answer !== null && answer.demands === 0 && <p>No recipe and no picture asks for anything yet, so nothing can be said.</p>}
      {answer !== null && answer.demands > 0 && (
        <>
          <p>
            For the {answer.demands} colours that your recipes and pictures ask for, <strong>{answer.together.length}</strong> of {answer.alone.length} could stay in the drawer together: all comes
            out as before, within .05 ΔE in the mean.
          </p>
          {answer.together.length > 0 && (
            <details>
              <summary>Which ones</summary>
              <ul className={classes.tin}>
                {answer.together.map((colour) => (
                  <li key={colour.id}>
                    <Named colour={colour} />
                  </li>
                ))}
              </ul>
            </details>
          )}
          <h3>Missed most</h3>
          <ol className={classes.tin}>
            {answer.alone.slice(-FEW).reverse().filter((one) => one.worse > 0.05).map((one) => (
              <li key={one.colour.id}>
                <Named colour={one.colour} /> <span className="soft">{one.worse.toFixed(1)} ΔE worse in all</span>
              </li>
            ))}
          </ol>
        </>
      )}
    </section>
  );
}

function Twins() {
  const { data } = useTwins();
  if (data === undefined) return null;
  return (
    <section className="section" aria-label="Twins that you own">
      <h2>Twins that you own</h2>
      {data.groups.length === 0 ? (
        <p>No two of yours are within 1 ΔE heavy and within 2 light on this paper.</p>
      ) : (
        <ul>
          {data.groups.map((group, i) => (
            <li key={i}>
              {group.colours.map((colour, j) => (
                <span key={colour.id}>
                  {j > 0 && " · "}
                  <Named colour={colour} />
                </span>
              ))}{" "}
              <span className="soft">
                part by {group.heavy.toFixed(1)} heavy, {group.light.toFixed(1)} light
              </span>
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}
