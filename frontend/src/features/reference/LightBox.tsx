import { useEffect, useEffectEvent, useRef, useState, type ReactNode } from "react";
import { Whole } from "./Whole";
import classes from "./LightBox.module.css";

// The long side of a bank card in mm: ISO/IEC 7810, size ID-1.
const CARD = { width: 85.6, height: 53.98 };
// Pixels of CSS in a mm where nobody has measured: 96 dots an inch, which few screens keep.
const UNMEASURED = 96 / 25.4;
// Kept in pixels of the screen, so that zooming the browser changes nothing.
const KEPT = "tidy-tinder-pixels-per-mm";
const HOLD_MS = 1500;

/** The picture at the drawing's true size, to trace it through thin paper laid on the screen. */
export function LightBox({ src, shown, drawing, onClose }: {
  src: string;
  shown: { width: number; height: number };
  drawing: { name: string; width_mm: number; height_mm: number };
  onClose: () => void;
}) {
  const [scale, setScale] = useState(() => Number(localStorage.getItem(KEPT) ?? 0) / devicePixelRatio || 0);
  const [measuring, setMeasuring] = useState(scale === 0);
  const [locked, setLocked] = useState(false);
  const mm = Math.min(drawing.width_mm / Math.max(shown.width, 1), drawing.height_mm / Math.max(shown.height, 1));
  const size = { width: shown.width * mm, height: shown.height * mm };
  const keep = (pixels: number) => {
    localStorage.setItem(KEPT, String(pixels * devicePixelRatio));
    setScale(pixels);
    setMeasuring(false);
  };
  return (
    <Whole opened title="Light box" onClose={onClose} held={locked}>
      {measuring ? (
        <Measure scale={scale === 0 ? UNMEASURED : scale} onKeep={keep} onClose={onClose} />
      ) : (
        <Locked locked={locked} onUnlock={() => setLocked(false)}>
          {!locked && (
            <div className={classes.bar}>
              <span>
                {size.width.toFixed(0)} × {size.height.toFixed(0)} mm, as in {drawing.name}. Lay thin paper on the screen and
                press lightly. While it is locked, keys and touch do nothing; hold Esc or a finger for 1½ seconds to open it.
              </span>
              <button type="button" className="button" data-strong autoFocus onClick={() => setLocked(true)}>
                Lock
              </button>
              <button type="button" className="button" onClick={() => setMeasuring(true)}>
                Measure the screen again
              </button>
              <button type="button" className="button" onClick={onClose}>
                Back <kbd>Esc</kbd>
              </button>
            </div>
          )}
          <div className={classes.glass} data-locked={locked || undefined} tabIndex={locked ? -1 : 0} role="group" aria-label="The picture at its true size; it scrolls where it is larger than the screen">
            <img src={src} alt="" data-hued="photo" draggable={false} className={classes.picture} style={{ width: size.width * scale, height: size.height * scale }} />
          </div>
        </Locked>
      )}
    </Whole>
  );
}

/** The screen measured once against a bank card or a ruler. */
function Measure({ scale, onKeep, onClose }: { scale: number; onKeep: (scale: number) => void; onClose: () => void }) {
  const [pixels, setPixels] = useState(scale);
  return (
    <form
      className={classes.measure}
      onSubmit={(event) => {
        event.preventDefault();
        onKeep(pixels);
      }}
    >
      <h2>How large is this screen?</h2>
      <p>
        Lay a bank card on the frame below, or a ruler along its upper edge, and move the slider until the frame is as wide as
        the card: {CARD.width} mm. It is asked once on each screen.
      </p>
      <div className={classes.card} style={{ width: CARD.width * pixels, height: CARD.height * pixels }}>
        {CARD.width} mm
      </div>
      <label className={classes.slide}>
        Width of the frame
        <input type="range" autoFocus min={2} max={14} step={0.005} value={pixels} onChange={(event) => setPixels(Number(event.currentTarget.value))} />
      </label>
      <div className="row">
        <button type="submit" className="button" data-strong>
          It is as wide as the card
        </button>
        <button type="button" className="button" onClick={onClose}>
          Back
        </button>
      </div>
    </form>
  );
}

/** Keeps keys and touch from what it holds until one is held long. */
function Locked({ locked, onUnlock, children }: { locked: boolean; onUnlock: () => void; children: ReactNode }) {
  const [holding, setHolding] = useState(false);
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const begin = () => {
    setHolding(true);
    clearTimeout(timer.current);
    timer.current = setTimeout(() => {
      setHolding(false);
      onUnlock();
    }, HOLD_MS);
  };
  const end = () => {
    clearTimeout(timer.current);
    setHolding(false);
  };
  const onKey = useEffectEvent((event: KeyboardEvent) => {
    if (!locked) return;
    event.preventDefault();
    event.stopPropagation();
    if (event.type === "keydown" && event.key === "Escape" && !event.repeat) begin();
    if (event.type === "keyup") end();
  });
  useEffect(() => {
    const events = ["keydown", "keyup"] as const;
    events.forEach((name) => window.addEventListener(name, onKey, { capture: true }));
    return () => events.forEach((name) => window.removeEventListener(name, onKey, { capture: true }));
  }, []);
  useEffect(() => {
    if (!locked || !("wakeLock" in navigator)) return;
    // A screen that goes dark in the middle of a line is no light box; where the browser refuses, it stays as it is.
    const lock = navigator.wakeLock.request("screen").catch(() => null);
    return () => void lock.then((one) => one?.release());
  }, [locked]);
  return (
    <div className={classes.box}>
      {children}
      {locked && (
        <div className={classes.cover} aria-label="Locked" onPointerDown={begin} onPointerUp={end} onPointerCancel={end} onPointerLeave={end} onContextMenu={(event) => event.preventDefault()}>
          {holding && <span className={classes.holding} role="status">Keep holding …</span>}
        </div>
      )}
    </div>
  );
}
