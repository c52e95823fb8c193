import { useState, type KeyboardEvent, type MouseEvent } from "react";
import { PatchView } from "../../shared/ui/Comparison";
import { Failed } from "../../shared/ui/Problem";
import type { Look } from "./Looking";
import { useAddPick, useLoupe, type Pick, type Reference } from "./queries";
import type { Section } from "./sectionsQueries";
import classes from "./Picture.module.css";

// Pixels of the file round the middle of the loupe, and the share of the picture that a key moves it by.
const RADII = [4, 6, 9, 14, 20, 30, 45, 70, 100, 150] as const;
const STEP = 0.02;
const FINE = 0.002;
// Pixels of the screen that the glass is wide.
const GLASS = 60;

interface Place {
  x: number;
  y: number;
}

/** The picture in its view, with the pins of its picks and the loupe. */
export function Picture({ reference, look, src, sections, chosen, onChoose }: {
  reference: Reference;
  look: Look;
  src: string;
  sections: readonly Section[];
  chosen: Pick | undefined;
  onChoose: (id: number) => void;
}) {
  const [at, setAt] = useState<Place | null>(null);
  const [size, setSize] = useState(4);
  const add = useAddPick(reference.card.id);
  const radius = RADII[size] ?? RADII[4];
  const { data: seen, error } = useLoupe(reference, at, radius);
  // Upside down is a view: places are those of the picture itself.
  const flip = (place: Place): Place => (look.upsideDown ? { x: 1 - place.x, y: 1 - place.y } : place);
  const place = (event: MouseEvent<HTMLElement>) => {
    const box = event.currentTarget.getBoundingClientRect();
    return flip({ x: within((event.clientX - box.left) / box.width), y: within((event.clientY - box.top) / box.height) });
  };
  const pick = (where: Place) => add.mutate({ ...where, radius }, { onSuccess: onChoose });
  const onKey = (event: KeyboardEvent) => {
    const by = event.shiftKey ? FINE : STEP;
    const now = at ?? { x: 0.5, y: 0.5 };
    const turn = look.upsideDown ? -1 : 1;
    const moves: Record<string, Place> = {
      ArrowLeft: { x: -by, y: 0 }, ArrowRight: { x: by, y: 0 }, ArrowUp: { x: 0, y: -by }, ArrowDown: { x: 0, y: by },
    };
    const move = moves[event.key];
    if (move !== undefined) setAt({ x: within(now.x + turn * move.x), y: within(now.y + turn * move.y) });
    else if (event.key === "+") setSize(Math.min(size + 1, RADII.length - 1));
    else if (event.key === "-" || event.key === "−") setSize(Math.max(size - 1, 0));
    else if (event.key === "Enter" && at !== null) pick(at);
    else return;
    event.preventDefault();
  };
  const shown = at === null ? null : flip(at);
  return (
    <div className={classes.frame} data-portrait={reference.shown_height > reference.shown_width || undefined}>
      <div
        className={classes.picture}
        style={{ aspectRatio: `${reference.shown_width} / ${reference.shown_height}` }}
        role="application"
        aria-label={`The picture ${reference.card.name}. Arrows move the loupe, plus and minus widen and narrow it, Enter picks`}
        aria-describedby="loupe"
        data-main={reference.picks.length === 0 || undefined}
        tabIndex={0}
        ref={takeFocus}
        onKeyDown={onKey}
        onFocus={() => setAt((now) => now ?? { x: 0.5, y: 0.5 })}
        onPointerMove={(event) => setAt(place(event))}
        onClick={(event) => {
          // A finger comes without having moved before.
          const there = place(event);
          setAt(there);
          pick(there);
        }}
      >
        <img className={classes.image} src={src} width={reference.shown_width} height={reference.shown_height} alt="" data-hued="photo" draggable={false} />
        {sections.length === 0 && reference.picks.filter(inside).map((one) => {
          const there = flip(one);
          return (
            <button
              key={one.id}
              type="button"
              tabIndex={-1}
              className={classes.pin}
              data-on={one.id === chosen?.id || undefined}
              style={{ left: `${100 * there.x}%`, top: `${100 * there.y}%` }}
              onClick={(event) => {
                event.stopPropagation();
                onChoose(one.id);
              }}
              aria-label={`Colour ${one.number}, ${one.name || one.described}`}
            >
              {one.number}
            </button>
          );
        })}
        {sections.map((one) => {
          const there = flip(one);
          return (
            <span key={one.id} className={classes.section} data-state={one.state} style={{ left: `${100 * there.x}%`, top: `${100 * there.y}%` }}>
              {one.name}
            </span>
          );
        })}
        {shown !== null && <span className={classes.ring} style={{ left: `${100 * shown.x}%`, top: `${100 * shown.y}%`, width: `${(200 * radius) / Math.max(reference.card.width, 1)}%` }} />}
      </div>
      <div className={classes.loupe} id="loupe" role="status">
        {shown !== null && seen !== undefined ? (
          <>
            <span className={classes.eye}>
              <span className={classes.glass} data-hued="photo" aria-hidden="true" style={magnified(shown, reference, radius, src)}>
                <span className={classes.seen} />
              </span>
              <span className={classes.result}>
                <PatchView patch={seen.colour} />
                {seen.other && <PatchView patch={seen.other} />}
              </span>
            </span>
            <span>
              {seen.two_meet ? (
                <strong>Two colours meet here. Zoom in or widen.</strong>
              ) : seen.small ? (
                <strong>So few pixels are not sure. Widen it with +.</strong>
              ) : (
                <span>Varies by {seen.spread.toFixed(1)} ΔE</span>
              )}
              <br />
              <span className="soft">
                {2 * radius} pixels across (<kbd>+</kbd> <kbd>−</kbd>), <kbd>Enter</kbd> picks
              </span>
            </span>
          </>
        ) : (
          <span className="soft">Move over the picture, or go to it with Tab: the loupe shows what it sees, edge to edge with the result.</span>
        )}
      </div>
      {[add.error, error].map((one, i) => one !== null && <Failed key={i} error={one} />)}
    </div>
  );
}

/** A picture that comes while nothing has the focus takes it: the loupe can be moved at once. */
function takeFocus(picture: HTMLElement | null) {
  if (document.activeElement === document.body) picture?.focus({ preventScroll: true });
}

function inside(pick: Pick): boolean {
  return pick.x >= 0 && pick.x <= 1 && pick.y >= 0 && pick.y <= 1;
}

function within(share: number): number {
  return Math.min(Math.max(share, 0), 1);
}

/** The picture as a background so large that the loupe's disc fills half of the glass, with the place in its middle. */
function magnified(at: Place, { card, shown_width, shown_height }: Reference, radius: number, src: string) {
  const wide = ((GLASS / 2) * card.width) / (2 * radius);
  const [width, height] = [wide, (wide * shown_height) / Math.max(shown_width, 1)];
  return {
    backgroundImage: `url("${src}")`,
    backgroundSize: `${width}px ${height}px`,
    backgroundPosition: `${GLASS / 2 - at.x * width}px ${GLASS / 2 - at.y * height}px`,
    backgroundRepeat: "no-repeat",
  };
}
