import { useEffect, useEffectEvent } from "react";
import { useLocation, useNavigate } from "react-router";
import { useKeys } from "../../shared/keys";
import { STOPS, stopAt } from "./steps";
import { beginTour, goTo, leaveTour, useTour } from "./tour";
import classes from "./Tour.module.css";

/** The tour of the demo: offered once, walked stop by stop over the page that it tells of, left at any moment. */
export function Tour({ demo }: { demo: boolean }) {
  const walk = useTour();
  if (walk === "offered") return demo ? <Offer /> : null;
  return walk === "over" ? null : <At stop={Math.min(walk, STOPS.length - 1)} />;
}

function Offer() {
  return (
    <section className={classes.tour} aria-label="Tour">
      <p>
        <strong>New here?</strong> This is a demo: everything in it is invented, and nothing you do can break it.
      </p>
      <div className="row">
        <button type="button" className="button" data-strong onClick={beginTour}>
          Walk round in two minutes
        </button>
        <button type="button" className="button" onClick={leaveTour}>
          No, thank you
        </button>
      </div>
    </section>
  );
}

function At({ stop }: { stop: number }) {
  const { path, title, see, keys } = stopAt(stop);
  const navigate = useNavigate();
  const here = useLocation().pathname.startsWith(path);
  const last = stop === STOPS.length - 1;
  const go = useEffectEvent(() => void navigate(path));
  useEffect(() => go(), [stop]);
  const next = () => (last ? leaveTour() : goTo(stop + 1));
  useKeys({ ".": next, ",": () => goTo(stop - 1) });
  return (
    <section className={classes.tour} aria-label="Tour">
      <div role="status">
        <h2>
          <span className="soft">
            {stop + 1} of {STOPS.length}
          </span>{" "}
          {title}
        </h2>
        <p>{see}</p>
        <p>
          <strong>Try it:</strong> {keys}
        </p>
      </div>
      <div className="row">
        {!here && (
          <button type="button" className="button" onClick={() => void navigate(path)}>
            Back to this stop
          </button>
        )}
        {stop > 0 && (
          <button type="button" className="button" onClick={() => goTo(stop - 1)}>
            Before <kbd>,</kbd>
          </button>
        )}
        <button type="button" className="button" data-strong onClick={next}>
          {last ? "That was it" : "Next"} <kbd>.</kbd>
        </button>
        {!last && (
          <button type="button" className="button" onClick={leaveTour}>
            Leave the tour
          </button>
        )}
      </div>
    </section>
  );
}
