import { Check } from "../../shared/ui/Field";
import { calledCell, inLayers, saidOfCell } from "./FlatPage";
import type { Photo, PhotoCell } from "./queries";
import classes from "./review.module.css";

/** One cell: its piece of the photo beside the colours that were read from it, how sure they are, and what is doubtful. */
export function CellPanel({ photo, cell, ticked, place, onTick, onMove }: {
  photo: Photo;
  cell: PhotoCell;
  ticked: boolean;
  place: string;
  onTick: (on: boolean) => void;
  onMove: (by: number) => void;
}) {
  const [width = 210, height = 297] = photo.page_mm;
  const [x = 0, y = 0, w = 1, h = 1] = cell.box;
  return (
    <section className={classes.panel} aria-label="This cell">
      <div className={classes.between}>
        <button type="button" className="button" onClick={() => onMove(-1)}>
          Before <kbd>←</kbd>
        </button>
        <span>{place}</span>
        <button type="button" className="button" onClick={() => onMove(1)}>
          Next <kbd>→</kbd>
        </button>
      </div>
      <h3>
        <span className="mono">{cell.code}</span> {cell.name}{inLayers(cell)}
      </h3>
      <p className="soft">{saidOfCell(cell)}</p>
      <svg viewBox={`${x} ${y} ${w} ${h}`} className={classes.crop} role="img" aria-label={`${calledCell(cell)} in the photo`}>
        <image href={`/api/photos/${photo.card.id}/page`} width={width} height={height} preserveAspectRatio="none" />
      </svg>
      {cell.state !== "empty" && (
        <table className={classes.zones}>
          <thead>
            <tr>
              <th scope="col">pressed</th>
              <th scope="col">by photo</th>
              <th scope="col">
                <abbr title="Nine of ten lie within this colour difference, ΔE00">within</abbr>
              </th>
              {cell.zones.some((zone) => zone.off !== null) && (
                <th scope="col">
                  <abbr title="Colour difference, ΔE00, from what the colour reader measured">from the reader</abbr>
                </th>
              )}
            </tr>
          </thead>
          <tbody>
            {cell.zones.map((zone) => (
              <tr key={zone.pressure}>
                <th scope="row">{zone.pressure}</th>
                <Told zone={zone} />
                {zone.off !== null && <td>{zone.off.toFixed(1)}</td>}
              </tr>
            ))}
            {cell.over_black !== null && (
              <tr>
                <th scope="row">
                  <abbr title="The heavy mark on the black bar: it tells how much the pencil covers">over black</abbr>
                </th>
                <Told zone={cell.over_black} />
                {cell.zones.some((zone) => zone.off !== null) && <td />}
              </tr>
            )}
          </tbody>
        </table>
      )}
      {cell.words.length > 0 && (
        <ul className={classes.words}>
          {cell.words.map((words) => <li key={words}>{words}</li>)}
        </ul>
      )}
      {cell.zones.some((zone) => zone.off !== null) && <p className="soft">{saidOfReader(cell)}</p>}
      {cell.can_be_taken && !cell.taken && (
        <div className="row">
          <Check label="Take it" value={ticked} onChange={onTick} />
          <span className="soft">
            <kbd>t</kbd> take, <kbd>l</kbd> leave, and on
          </span>
        </div>
      )}
    </section>
  );
}

/** What stays of a cell where a reader has measured some of it. */
function saidOfReader(cell: PhotoCell): string {
  if (cell.zones.some((zone) => zone.off === null)) return "What the reader measured stays as it is.";
  if (cell.over_black !== null && !cell.can_be_taken && cell.state !== "empty") return "A reader has measured all four; they stay.";
  const stay = "A reader has measured all three; they stay.";
  return cell.can_be_taken && !cell.taken ? `${stay} Only what lies over black is taken.` : stay;
}

/** A colour as it was read, and how sure it is. */
function Told({ zone }: { zone: PhotoCell["zones"][number] }) {
  return (
    <>
      <td>
        <span className={classes.patch} style={{ background: zone.colour.hex }} title={`L* a* b* ${zone.colour.lab.map((v) => v.toFixed(1)).join("  ")}`} />
      </td>
      <td>± {zone.spread.toFixed(1)}</td>
    </>
  );
}
