import type { Paper } from "../../shared/queries/collection";
import type { Recipe } from "./queries";
import classes from "./Share.module.css";

const KINDS = [
  ["text", "Text, as it was pasted"],
  ["json", "JSON, to be taken in elsewhere"],
  ["csv", "CSV, with what stands in"],
  ["palette", "GIMP palette, as on this paper"],
] as const;

/** A recipe as a file for others; what stands in and how it looks is that of the paper at hand. */
export function Share({ recipe, paper }: { recipe: Recipe; paper: Paper }) {
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
      </ul>
    </details>
  );
}
