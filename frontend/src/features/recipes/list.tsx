import { Link, useNavigate } from "react-router";
import { Empty } from "../../shared/ui/Empty";
import { Loading } from "../../shared/ui/Loading";
import { Failed } from "../../shared/ui/Problem";
import { useSetting } from "../../shared/queries/collection";
import { standing } from "./standing";
import { Mark } from "../../shared/ui/Mark";
import { useRecipes, type Called } from "./queries";
import classes from "./list.module.css";
import { useKeys } from "../../shared/keys";
import { amongLinks } from "../../shared/listKeys";
import { counted } from "../../shared/words";

/** Station 4: the recipes, each with how its calls stand on the paper at hand. */
export function RecipesPage() {
  const setting = useSetting();
  if (setting === undefined) return <Loading what="the recipes" />;
  return <Recipes paper={setting.paper.id} paperName={setting.paper.name} />;
}

function Recipes({ paper, paperName }: { paper: number; paperName: string }) {
  const navigate = useNavigate();
  const { data, error } = useRecipes(paper);
  useKeys({ n: () => navigate("/recipes/new") });
  if (error !== null && data === undefined) return <Failed error={error} />;
  if (data === undefined) return <Loading what="the recipes" />;
  if (data.recipes.length === 0) return <NoRecipe />;
  return (
    <div className={classes.page}>
      <header className={classes.head}>
        <h1>Recipes</h1>
        <span>on {paperName}, light to dark; what stands lower is not at hand</span>
        <Link className="button" data-strong to="/recipes/new">
          Paste a recipe <kbd>n</kbd>
        </Link>
      </header>
      <ul className={classes.list} onKeyDown={amongLinks}>
        {data.recipes.map((recipe, i) => (
          <li key={recipe.id}>
            <Link to={`/recipes/${recipe.id}`} className={classes.card} data-main={i === 0 || undefined}>
              <strong>{recipe.title}</strong>
              <span>{standing(recipe)}</span>
              <Marks called={recipe.called} />
              {recipe.drawing !== "" && <span className={classes.drawing}>for {recipe.drawing}</span>}
            </Link>
          </li>
        ))}
      </ul>
    </div>
  );
}

/** What a recipe calls for, light to dark; what is not at hand stands lower. */
function Marks({ called }: { called: readonly Called[] }) {
  const missing = called.filter((one) => !one.at_hand).map(({ colour }) => colour.code);
  return (
    <span className={classes.marks} role="img" aria-label={`Calls for ${counted(called.length, "colour")}${missing.length > 0 ? `; not at hand: ${missing.join(", ")}` : ""}`}>
      {called.map(({ colour, mark, at_hand: here }) => (
        <span key={colour.id} className={classes.mark} data-missing={!here || undefined} title={`${colour.range} ${colour.code} ${colour.name}`}>
          <Mark mark={mark} seed={colour.id} height={22} />
        </span>
      ))}
    </span>
  );
}

function NoRecipe() {
  return (
    <Empty title="No recipes yet">
      <p>
        Paste a recipe as somebody wrote it, with their pencils. Every colour that it calls for is looked up: you own it, or
        you see which of yours come closest on your paper, and what will be off.
      </p>
      <Link className="button" data-strong to="/recipes/new">
        Paste a recipe
      </Link>
    </Empty>
  );
}
