import type { Photo, PhotoCell } from "./queries";
import classes from "./review.module.css";

/** The page made flat, with every cell outlined by what is made of it. */
export function FlatPage({ photo, shown, ticked, onChoose }: {
  photo: Photo;
  shown: PhotoCell | undefined;
  ticked: (cell: PhotoCell) => boolean;
  onChoose: (index: number) => void;
}) {
  const [width = 210, height = 297] = photo.page_mm;
  return (
    <div className={classes.flat}>
      <svg viewBox={`0 0 ${width} ${height}`} className={classes.page} aria-label={`Page ${photo.card.page ?? 1}, made flat`} role="group">
        <image href={`/api/photos/${photo.card.id}/page`} width={width} height={height} preserveAspectRatio="none" />
        {photo.cells.map((cell) => {
          const [x = 0, y = 0, w = 0, h = 0] = cell.box;
          return (
            <g key={cell.index} className={classes.cell} data-state={cell.taken ? "taken" : cell.state} data-on={cell.index === shown?.index || undefined}
              onClick={() => onChoose(cell.index)}>
              <title>{`${calledCell(cell)}: ${saidOfCell(cell)}`}</title>
              <rect x={x} y={y} width={w} height={h} className={classes.halo} />
              <rect x={x} y={y} width={w} height={h} className={classes.outline} />
              {ticked(cell) && <path d={`M${x + w - 4} ${y + 2} l1.1 1.3 l2 -2.6`} className={classes.tick} />}
              {(cell.state === "doubtful" || cell.state === "left_out") && !cell.taken && !ticked(cell) && (
                <text x={x + w - 2.9} y={y + 3.4} className={classes.sign}>{cell.state === "doubtful" ? "?" : "×"}</text>
              )}
            </g>
          );
        })}
      </svg>
    </div>
  );
}

/** What a cell is called: its pencil, and how many layers it has where they are several. */
export function calledCell(cell: PhotoCell): string {
  return `${cell.code} ${cell.name}${inLayers(cell)}`;
}

/** How many layers its marks have, to be said after its name, where they are several. */
export function inLayers(cell: PhotoCell): string {
  return cell.layers > 1 ? `, ${cell.layers} layers` : "";
}

/** What is made of a cell, in a word or two. */
export function saidOfCell(cell: PhotoCell): string {
  if (cell.taken) return "taken";
  return { clean: "clean", doubtful: "to look at", empty: "empty", left_out: "cannot be measured" }[cell.state];
}
