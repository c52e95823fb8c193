import { useRef, useState } from "react";
import { Link, useNavigate, useParams, useSearchParams } from "react-router";
import { useCursor } from "../../shared/cursor";
import { Loading } from "../../shared/ui/Loading";
import { Failed } from "../../shared/ui/Problem";
import { useSetting, type Paper } from "../../shared/queries/collection";
import { StandinPanel } from "./StandinPanel";
import { CallList } from "./CallList";
import { LookPanel } from "./LookPanel";
import { useChecks } from "./checkQueries";
import { Checks, ChecksButton } from "./Checks";
import { handsIn, type Hands } from "./hands";
import { PlanBar } from "./PlanBar";
import { callsOf, usePlan } from "./planQueries";
import { standing } from "./standing";
import { afterwards, stopsOf, waits, type Stop } from "./stops";
import { SettlePanel } from "./SettlePanel";
import { Share } from "./Share";
import { useRecipe, useRemoveRecipe, type Recipe } from "./queries";
import classes from "./page.module.css";
import { useKeys } from "../../shared/keys";
import type { Closest } from "../../shared/vocabulary";

/** One recipe: its build-up strip with the plan for all of it, and the stand-ins for the call at the cursor. */
export function RecipePage() {
  const setting = useSetting();
  const id = Number(useParams()["id"]);
  if (setting === undefined) return <Loading what="the recipe" />;
  return <Opened id={id} paper={setting.paper} closest={setting.closest} />;
}

function Opened({ id, paper, closest }: { id: number; paper: Paper; closest: Closest }) {
  const { data: recipe, error } = useRecipe(id, paper.id, closest);
  if (error !== null) {
    return (
      <div className={classes.failed}>
        <Failed error={error} />
        <Link className="button" to="/recipes">
          To the recipes
        </Link>
      </div>
    );
  }
  if (recipe?.id !== id) return <Loading what="the recipe" />;
  return <RecipeView key={recipe.id} recipe={recipe} paper={paper} closest={closest} />;
}

function RecipeView({ recipe, paper, closest }: { recipe: Recipe; paper: Paper; closest: Closest }) {
  const [cursor, moveTo] = useCursor("call");
  const navigate = useNavigate();
  const remove = useRemoveRecipe(() => navigate("/recipes"));
  const list = useRef<HTMLDivElement>(null);
  const stops = stopsOf(recipe);
  // The first that waits for an answer is where she wants to look.
  const waiting = stops.find(waits) ?? stops.find(({ call }) => call?.answer === "open") ?? stops[0];
  // Answering it must not carry her off to the next one.
  const [first] = useState(waiting?.id);
  const stop = stops.find(({ id }) => id === (cursor ?? first)) ?? waiting;
  const call = stop?.call ?? undefined;
  const back = () => list.current?.focus();
  const answered = (one: Stop) => {
    const next = afterwards(stops, one);
    if (next !== undefined) moveTo(next.id);
    back();
  };
  const [asked, ask] = useSearchParams();
  const hands = handsIn(asked.get("with"));
  const of = { recipe: recipe.id, paper: paper.id, closest, hands };
  const suppose = (one: Hands) => ask((now) => {
    const next = new URLSearchParams(now);
    if (one === "mine") next.delete("with");
    else next.set("with", one);
    return next;
  }, { replace: true });
  const plan = usePlan(of).found?.plan ?? null;
  const [checksOpen, setChecksOpen] = useState(false);
  const { data: checked } = useChecks(recipe.id, paper.id);
  useKeys({ n: () => navigate("/recipes/new"), e: () => navigate(`/recipes/${recipe.id}/edit`) });
  return (
    <div className={classes.page}>
      <div className={classes.bench}>
        <header className={classes.head}>
          <Link to="/recipes" className={classes.up}>
            Recipes
          </Link>
          <h1>{recipe.title}</h1>
          <p>
            {standing(recipe.card)} · on {paper.name}
          </p>
          <div className={classes.doing}>
            <Link className="button" to={`/recipes/${recipe.id}/edit`}>
              Edit <kbd>e</kbd>
            </Link>
            <Share recipe={recipe} paper={paper} closest={closest} />
            <button type="button" className="button" onClick={() => remove.mutate(recipe.id)}>
              Remove
            </button>
          </div>
        </header>
        {remove.error !== null && <Failed error={remove.error} />}
        <PlanBar recipe={recipe} of={of} onHands={suppose}>
          <ChecksButton checked={checked} open={checksOpen} onOpen={setChecksOpen} />
        </PlanBar>
        <Checks recipe={recipe} paper={paper.id} open={checksOpen} onLook={moveTo} />
        <CallList ref={list} recipe={recipe} paper={paper} plan={plan} checked={checked} cursor={stop?.id ?? null} onMove={moveTo} />
      </div>
      {stop?.line != null && <LookPanel key={stop.id} step={stop.line} onBack={back} onAnswered={() => answered(stop)} />}
      {call !== undefined &&
        (call.colour === null || call.answer === "to settle" ? (
          <SettlePanel key={call.id} call={call} onBack={back} />
        ) : (
          <StandinPanel key={call.id} call={call} plan={hands === "mine" ? callsOf(plan).get(call.id) : undefined} paper={paper} closest={closest} onBack={back} />
        ))}
    </div>
  );
}
