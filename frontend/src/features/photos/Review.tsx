import { useState } from "react";
import { useKeys } from "../../shared/keys";
import { counted } from "../../shared/words";
import { Loading } from "../../shared/ui/Loading";
import { Failed, ProblemBox } from "../../shared/ui/Problem";
import { Segments } from "../../shared/ui/Segments";
import { CellPanel } from "./CellPanel";
import { FlatPage } from "./FlatPage";
import { saidOf } from "./PhotoList";
import { underWay, usePhoto, usePhotoStep, useRemovePhoto, useTakeCells, type Photo, type PhotoCard, type PhotoCell } from "./queries";
import classes from "./review.module.css";

/** One photo: while it is read, why it cannot be, or what was read from it. */
export function Review({ card }: { card: PhotoCard }) {
  const step = usePhotoStep();
  const remove = useRemovePhoto();
  return (
    <div className={classes.review}>
      <div className={classes.head}>
        <h2>{card.name}</h2>
        <div className="row">
          {underWay(card) ? (
            <button type="button" className="button" disabled={step.isPending} onClick={() => step.mutate({ id: card.id, step: "stop" })}>
              Stop
            </button>
          ) : (
            <button type="button" className="button" disabled={step.isPending} title="With all that is known by now" onClick={() => step.mutate({ id: card.id, step: "again" })}>
              Read it again
            </button>
          )}
          <a className="button" href={`/api/photos/${card.id}/original`} download>
            The original
          </a>
          <button type="button" className="button" disabled={remove.isPending} title="What was taken from it stays" onClick={() => remove.mutate(card.id)}>
            Remove it
          </button>
        </div>
      </div>
      {step.error !== null && <Failed error={step.error} />}
      {remove.error !== null && <Failed error={remove.error} />}
      {underWay(card) && <p role="status" className={classes.step}>{saidOf(card)}</p>}
      {card.state === "stopped" && <p>You stopped it. It can be read again.</p>}
      {card.state === "refused" && (
        <ProblemBox problem={{ title: "It cannot be measured", detail: card.message, status: 0 }} />
      )}
      {card.state === "read" && <ReadPhoto card={card} />}
    </div>
  );
}

function ReadPhoto({ card }: { card: PhotoCard }) {
  const { data: photo, error } = usePhoto(card);
  if (error !== null) return <Failed error={error} />;
  if (photo === undefined) return <Loading what="what was read" />;
  return <Cells photo={photo} />;
}

type Which = "to look at" | "all";

/** Whether a reader has measured all three marks of a cell: then there is nothing to take but what lies over black. */
function isRead(cell: PhotoCell): boolean {
  return cell.zones.every((zone) => zone.off !== null);
}

/** Whether a cell waits for the artist's eye. */
function waits(cell: PhotoCell): boolean {
  return !cell.taken && !isRead(cell) && (cell.state === "doubtful" || cell.state === "left_out" || (cell.state === "empty" && cell.can_be_taken));
}

function Cells({ photo }: { photo: Photo }) {
  const doubtful = photo.cells.filter(waits);
  const [which, setWhich] = useState<Which>(doubtful.length > 0 ? "to look at" : "all");
  const [at, setAt] = useState<number | null>(null);
  const [ticks, setTicks] = useState<ReadonlyMap<number, boolean>>(new Map());
  const read = photo.cells.filter(isRead).length;
  const take = useTakeCells(photo.card.id);
  const list = which === "all" || doubtful.length === 0 ? photo.cells : doubtful;
  const shown = photo.cells.find((cell) => cell.index === at) ?? list[0];
  const ticked = (cell: PhotoCell) => cell.can_be_taken && !cell.taken && (ticks.get(cell.index) ?? cell.state === "clean");
  const chosen = photo.cells.filter(ticked);
  const pencils = new Set(chosen.map((cell) => cell.colour_id)).size;
  const move = (by: number) => {
    const next = list[list.findIndex((cell) => cell.index === shown?.index) + by];
    if (next !== undefined) setAt(next.index);
  };
  const tick = (cell: PhotoCell | undefined, on?: boolean) => {
    if (cell === undefined || !cell.can_be_taken || cell.taken) return;
    setTicks(new Map(ticks).set(cell.index, on ?? !ticked(cell)));
  };
  useKeys({
    ArrowRight: () => move(1), ArrowDown: () => move(1), ArrowLeft: () => move(-1), ArrowUp: () => move(-1),
    t: () => { tick(shown, true); move(1); },
    l: () => { tick(shown, false); move(1); },
  });
  return (
    <>
      <div className={classes.bar}>
        <button type="button" className="button" data-strong={chosen.length > 0 || undefined} data-main disabled={chosen.length === 0 || take.isPending} onClick={() => take.mutate(chosen.map((cell) => cell.index))}>
          {chosen.length === 0 ? "Nothing ticked" : `Take ${counted(pencils, "pencil")}`}
        </button>
        <p role="status">
          {saidOf(photo.card)}; colours told {photo.guide}.{read > 0 && ` A colour reader has measured ${read} of them; these stay.`}
        </p>
        {doubtful.length > 0 && (
          <Segments label="Which cells" options={["to look at", "all"] as const} words={{ "to look at": `to look at (${doubtful.length})`, all: `all (${photo.cells.length})` }} value={which} onChange={setWhich} />
        )}
      </div>
      {take.error !== null && <Failed error={take.error} />}
      {(photo.remarks.length > 0 || photo.advice !== "") && (
        <ul className={classes.remarks}>
          {photo.remarks.map((remark) => <li key={remark}><strong>{remark}</strong></li>)}
          {photo.advice !== "" && <li>{photo.advice}</li>}
        </ul>
      )}
      <div className={classes.both}>
        <FlatPage photo={photo} shown={shown} ticked={ticked} onChoose={setAt} />
        {shown !== undefined && (
          <CellPanel
            photo={photo}
            cell={shown}
            ticked={ticked(shown)}
            place={`${list.findIndex((cell) => cell.index === shown.index) + 1} of ${list.length}`}
            onTick={(on) => tick(shown, on)}
            onMove={move}
          />
        )}
      </div>
    </>
  );
}
