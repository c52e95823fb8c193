import { useState } from "react";
import { asProblem } from "../../api/errors";
import { Check as Tick, Choice } from "../../shared/ui/Field";
import { Failed } from "../../shared/ui/Problem";
import type { Schemas } from "../../api/client";
import { Corners, CORNERS } from "./Corners";
import { useFoundCorners, useValueActs, useWaitingPhotos, type Corner } from "./valueQueries";
import classes from "./values.module.css";

type Waiting = Schemas["DrawingPhotoOut"];

/** A photo of the drawing, taken in from a file, a phone or the demo's camera, and the corners of the picture in it. */
export function TakePhoto({ drawing, reference, demo, onChecked }: { drawing: number; reference: number; demo: boolean; onChecked: (id: number) => void }) {
  const { data, error } = useWaitingPhotos(drawing);
  const [chosen, choose] = useState<number | null>(null);
  const acts = useValueActs(drawing);
  const waiting = data?.photos ?? [];
  const photo = waiting.find((one) => one.id === chosen) ?? waiting[0];
  return (
    <section aria-label="A photo of the drawing" className={classes.take}>
      <div className="row">
        <label className="button" data-strong={photo === undefined || undefined}>
          {acts.add.isPending ? "Opened …" : photo === undefined ? "Photo of the drawing, with a margin of bare paper" : "Another photo"}
          <input type="file" accept="image/*" className="visually-hidden" disabled={acts.add.isPending} onChange={(event) => {
              const file = event.currentTarget.files?.[0];
              event.currentTarget.value = "";
              if (file !== undefined) acts.add.mutate(file, { onSuccess: ({ id }) => choose(id) });
            }} />
        </label>
        <span className="soft">A paired phone can send one as well.</span>
      </div>
      {demo && photo === undefined && <Simulated acts={acts} reference={reference} onAdded={choose} />}
      {waiting.length > 1 && (
        <Choice label="Photos that wait" value={String(photo?.id)} options={waiting.map((one) => [String(one.id), one.name] as const)} onChange={(id) => choose(Number(id))} />
      )}
      {photo !== undefined && <Take key={`${photo.id} ${reference}`} photo={photo} reference={reference} acts={acts} onTouched={() => choose(photo.id)} onChecked={onChecked} />}
      {[error, acts.add.error, acts.simulate.error, acts.drop.error].map((one, i) => one !== null && <Failed key={i} error={one} />)}
    </section>
  );
}

type Acts = ReturnType<typeof useValueActs>;

/** One photo with its corners. onTouched: she works on this one, whatever else a phone sends meanwhile. */
function Take({ photo, reference, acts, onTouched, onChecked }: { photo: Waiting; reference: number; acts: Acts; onTouched: () => void; onChecked: (id: number) => void }) {
  const finding = useFoundCorners(photo.id, reference);
  const found = finding.data?.corners;
  const [tapped, setTapped] = useState<readonly Corner[] | null>(null);
  const tap = (next: readonly Corner[]) => {
    onTouched();
    setTapped(next);
  };
  const [edge, setEdge] = useState(false);
  const { check } = acts;
  const corners = tapped ?? (found ?? []).map(([x = 0, y = 0]): Corner => [x, y]);
  const wanted = CORNERS.length + (edge ? 1 : 0);
  const run = (overrule: boolean) => {
    if (corners.length < wanted) return;
    const [patch] = corners.slice(CORNERS.length);
    const body = { photo_id: photo.id, reference_id: reference, overrule, patch: edge && patch !== undefined ? pair(patch) : null };
    check.mutate({ ...body, corners: corners.slice(0, CORNERS.length).map(pair) }, { onSuccess: ({ id }) => onChecked(id) });
  };
  // Said by the core only where the artist knows better than an order of values.
  const unlike = check.error !== null && asProblem(check.error).detail.endsWith("go on all the same.");
  return (
    <>
      <p role="status">{check.isPending ? "Laid on the picture …" : finding.isPending && tapped === null ? LOOKING : asked(corners, tapped === null, edge)}</p>
      <Corners source={`/api/drawing-photos/${photo.id}/picture`} corners={corners} most={wanted} onChange={tap} />
      <Tick label="It is drawn to the edge of the paper: one bare spot tells the light, and less is told" value={edge} onChange={(on) => {
          setEdge(on);
          if (!on) tap(corners.slice(0, CORNERS.length));
        }} />
      <div className="row">
        <button type="button" className="button" data-strong disabled={corners.length < wanted || check.isPending} onClick={() => run(false)}>
          Check the values
        </button>
        <button type="button" className="button" disabled={corners.length === 0} onClick={() => tap([])}>
          Tap anew
        </button>
        <button type="button" className="button" onClick={() => acts.drop.mutate(photo.id)}>
          Remove this photo
        </button>
        {unlike && (
          <button type="button" className="button" onClick={() => run(true)}>
            It is the same picture: go on all the same
          </button>
        )}
      </div>
      {check.error !== null && <Failed error={check.error} />}
    </>
  );
}

const LOOKING = "Looking for the corners of the picture …";
const pair = ([x, y]: Corner): [number, number] => [x, y];

function asked(corners: readonly Corner[], offered: boolean, edge: boolean): string {
  if (corners.length < CORNERS.length) return `Tap the ${CORNERS[corners.length] ?? ""} corner of the picture (not of the paper).`;
  if (edge && corners.length === CORNERS.length) return "Tap a spot of bare paper, in the same light as the drawing.";
  if (offered) return "These corners were found. Look at each; move what is off with the arrow keys, or tap anew.";
  return "Move the corners with the arrow keys where they are off; then check.";
}

const CONDITIONS: readonly (readonly [Schemas["Condition"], string])[] = [
  ["window", "by a window"],
  ["lamp", "under a warm lamp at one side"],
  ["tilted", "tilted"],
  ["shadow", "a hand's shadow on it"],
  ["dark", "too dark"],
  ["mirrored", "with the front camera"],
  ["corner_cut", "a corner cut off"],
];

/** The demo's camera and hand: the drawing as it would be by now, with planted faults, so that all can be tried. */
function Simulated({ acts, reference, onAdded }: { acts: Acts; reference: number; onAdded: (id: number) => void }) {
  const [condition, setCondition] = useState<Schemas["Condition"]>("window");
  const [finished, setFinished] = useState(false);
  const [mended, setMended] = useState(false);
  return (
    <form className={`form ${classes.simulated ?? ""}`} aria-label="Simulated drawing" onSubmit={(event) => {
        event.preventDefault();
        acts.simulate.mutate({ reference_id: reference, condition, finished, mended }, { onSuccess: ({ id }) => onAdded(id) });
      }}>
      <div data-wide>
        <h2>Simulated drawing</h2>
        <p className="soft">Only in the demo: drawn along the recipe at the bench, with five planted faults, and photographed.</p>
      </div>
      <Choice label="How" value={condition} options={CONDITIONS} onChange={setCondition} />
      <Tick label="drawn to the last step (else about half of them)" value={finished} onChange={setFinished} />
      <Tick label="three of its faults mended" value={mended} onChange={setMended} />
      <button type="submit" className="button" disabled={acts.simulate.isPending}>
        {acts.simulate.isPending ? "Drawn and photographed …" : "Photograph it"}
      </button>
    </form>
  );
}
