import type { Paper } from "../../shared/queries/collection";
import type { Closest } from "../../shared/vocabulary";
import type { Recipe } from "./queries";
import classes from "./Share.module.css";

const KINDS = [
  ["text", "Text, that reads back the same"],
  ["json", "JSON, to be taken in elsewhere"],
  ["csv", "CSV, with what stands in"],
  ["palette", "GIMP palette, as on this paper"],
] as const;

/** A recipe as a file for others; what stands in and how it looks is that of the paper at hand. */
export function Share({ recipe, paper, closest }: { recipe: Recipe; paper: Paper; closest: Closest }) {
  const card = (kind: string) => `/api/recipes/${recipe.id}/card/${kind}?paper=${paper.id}&closest=${closest}`;
  return (
    <details className={classes.share}>
      <summary className="button">Share</summary>
      <ul>
        {KINDS.map(([kind, words]) => (
          <li key={kind}>
            <a href={`/api/recipes/${recipe.id}/file?paper=${paper.id}&kind=${kind}`} download>
              {words}
            </a>
          </li>
        ))}
        <li>
          <a href={card("pdf")} target="_blank" rel="noreferrer">
            Palette card to print (PDF)
          </a>
        </li>
        <li>
          <a href={card("png")} download>
            Palette card as a picture (PNG)
          </a>
        </li>
      </ul>
    </details>
  );
}
