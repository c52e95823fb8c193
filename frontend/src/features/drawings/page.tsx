import { useEffect, useState } from "react";
import { Link, useSearchParams } from "react-router";
import { useCollection, type Context } from "../../shared/queries/collection";
import { PatchView } from "../../shared/ui/Comparison";
import { Loading } from "../../shared/ui/Loading";
import { Failed } from "../../shared/ui/Problem";
import { DrawingForm } from "./DrawingForm";
import { DrawingFiles, FromFile } from "./files";
import { useChooseDrawing, useCopyDrawing, useDrawings, usePutAway, useRemoveDrawing, type DrawingCard } from "./queries";
import classes from "./page.module.css";

// A picture of 60 megapixels is open after some ten seconds; one that is refused or gone never is.
const MOST_ASKED = 20;
const ASK_AGAIN_MS = 1500;

/** The drawings: what each is, what belongs to it, and which one is at hand. */
export function DrawingsPage() {
  const { data: context } = useCollection();
  const { data, error } = useDrawings();
  const [asked, ask] = useSearchParams();
  const [saved, setSaved] = useState(0);
  if (error !== null) return <Failed error={error} />;
  if (data === undefined || context === undefined) return <Loading what="the drawings" />;
  const chosen = data.drawings.find((one) => String(one.id) === asked.get("drawing"));
  const begins = asked.has("new") || data.drawings.length === 0;
  const shown = begins ? undefined : (chosen ?? data.drawings.find((one) => one.at_hand) ?? data.drawings[0]);
  const show = (id: number) => {
    setSaved(saved + 1);
    ask({ drawing: String(id) });
  };
  return (
    <div className={`beside ${classes.page ?? ""}`}>
      <div>
        <header>
          <h1>Drawings</h1>
          <p className="soft">
            What you are working on. The paper, what closest means, and the tray follow the drawing at hand (<kbd>d</kbd>).
          </p>
        </header>
        <ul className={classes.list}>
          {data.drawings.map((drawing) => (
            <li key={drawing.id}>
              <DrawingRow drawing={drawing} shown={drawing === shown} onShow={() => show(drawing.id)} />
            </li>
          ))}
          <li>
            <button type="button" className="button" aria-pressed={begins} onClick={() => ask({ new: "" })}>
              A new drawing
            </button>
          </li>
        </ul>
        <FromFile context={context} onTakenIn={show} />
      </div>
      <div>
        {shown !== undefined && <Acts key={shown.id} drawing={shown} onCopied={show} />}
        <DrawingForm key={`${shown?.id ?? "new"} ${saved}`} drawing={shown} context={context} onDone={show} onTheirs={() => setSaved(saved + 1)} />
        {shown !== undefined && <Belongs drawing={shown} context={context} />}
        {shown !== undefined && <DrawingFiles drawing={shown} />}
      </div>
    </div>
  );
}

function DrawingRow({ drawing, shown, onShow }: { drawing: DrawingCard; shown: boolean; onShow: () => void }) {
  const { said } = drawing;
  return (
    <button type="button" className={classes.drawing} data-main={shown || undefined} aria-pressed={shown} onClick={onShow}>
      <span className={classes.thumbs}>
        {drawing.references.slice(0, 3).map((id) => (
          <Thumb key={id} id={id} />
        ))}
        {drawing.references.length === 0 && (
          <span className={classes.sheet}>
            <PatchView patch={drawing.paper} />
          </span>
        )}
      </span>
      <span className={classes.words}>
        <strong>{said.name}</strong>
        <span>
          {drawing.paper_name}, {said.width_mm} × {said.height_mm} mm
        </span>
        <span className="soft">
          {[
            drawing.at_hand ? "at hand" : drawing.state === "archived" ? "put away" : "",
            counted(drawing.references.length, "picture", "pictures"),
            counted(drawing.recipes.length, "recipe", "recipes"),
            counted(drawing.tray, "pencil in its tray", "pencils in its tray"),
            said.for_sale ? "for sale" : "",
          ]
            .filter((words) => words !== "")
            .join(" · ")}
        </span>
      </span>
    </button>
  );
}

/** A picture, small. While it is still being opened its place is empty, and it is asked for again. */
function Thumb({ id }: { id: number }) {
  const [asked, setAsked] = useState(0);
  const [missing, setMissing] = useState(false);
  useEffect(() => {
    if (!missing || asked >= MOST_ASKED) return;
    const again = setTimeout(() => {
      setMissing(false);
      setAsked(asked + 1);
    }, ASK_AGAIN_MS);
    return () => clearTimeout(again);
  }, [missing, asked]);
  if (missing) return <span className={classes.thumb} />;
  return (
    <img key={asked} src={`/api/references/${id}/thumbnail`} alt="" data-hued="photo" className={classes.thumb} onError={() => setMissing(true)} />
  );
}

function Acts({ drawing, onCopied }: { drawing: DrawingCard; onCopied: (id: number) => void }) {
  const choose = useChooseDrawing();
  const copy = useCopyDrawing();
  const away = usePutAway();
  const remove = useRemoveDrawing();
  const archived = drawing.state === "archived";
  return (
    <div>
      <div className="row">
        {!archived && (
          <button type="button" className="button" data-strong disabled={drawing.at_hand} onClick={() => choose.mutate(drawing.id)}>
            {drawing.at_hand ? "At hand now" : "Work on this one"}
          </button>
        )}
        <button type="button" className="button" onClick={() => copy.mutate(drawing.id, { onSuccess: onCopied })}>
          The same again
        </button>
        <button type="button" className="button" onClick={() => away.mutate({ id: drawing.id, away: !archived })}>
          {archived ? "Take it out again" : "Put it away"}
        </button>
        <button type="button" className="button" onClick={() => remove.mutate(drawing.id)}>
          Remove
        </button>
      </div>
      {[choose, copy, away, remove].map((step, i) => step.error !== null && <Failed key={i} error={step.error} />)}
    </div>
  );
}

/** What belongs to a drawing, with the ways there. */
function Belongs({ drawing, context }: { drawing: DrawingCard; context: Context }) {
  const here = context.drawing?.id === drawing.id;
  return (
    <section className="section" aria-label="What belongs to it">
      <h2>Its pictures and recipes</h2>
      {here ? (
        <p>
          <Link to="/reference">{drawing.references.length > 0 ? "Its pictures, with their colours" : "Add a picture to draw from"}</Link>
        </p>
      ) : (
        <p className="soft">Work on it to see its pictures and their colours.</p>
      )}
      {drawing.recipes.length > 0 ? (
        <ul className={classes.recipes}>
          {drawing.recipes.map((recipe) => (
            <li key={recipe.id}>
              <Link to={`/recipes/${recipe.id}`}>{recipe.title}</Link>
            </li>
          ))}
        </ul>
      ) : (
        <p className="soft">A recipe that is taken in while it is at hand belongs to it.</p>
      )}
    </section>
  );
}

function counted(count: number, one: string, many: string): string {
  return count === 0 ? "" : `${count} ${count === 1 ? one : many}`;
}
