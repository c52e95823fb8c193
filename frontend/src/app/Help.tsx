import { Barrel } from "../shared/ui/Barrel";
import { Dialog } from "../shared/ui/Dialog";
import { KEY_HELP } from "./keys";
import { beginTour } from "./tour/tour";
import classes from "./Help.module.css";

const BARRELS = [
  ["owned", "owned"],
  ["spare", "owned, with a spare"],
  ["stub", "only a stub left"],
  ["lost", "lost"],
  ["not owned", "not owned"],
] as const;

/** What the signs mean and what the keys do. */
export function Help({ opened, onClose, demo }: { opened: boolean; onClose: () => void; demo: boolean }) {
  return (
    <Dialog opened={opened} onClose={onClose} title="Help" size="lg">
      <div className={classes.help}>
        <section>
          <h2>Reading a mark</h2>
          <p>
            A band shows what a pencil leaves on the paper at hand: its left third heavy, the middle medium, the right
            light. A solid line at its right end means that the mark was measured, a dotted one that it is predicted; a
            dotted foot marks the thirds that are predicted in a mark that was measured in part. A band without a line is
            known only from the printed chart: one third, on white.
          </p>
          <p>A dark corner means that the colour is beyond what the screen can show.</p>
          <ul className={classes.barrels}>
            {BARRELS.map(([owning, words]) => (
              <li key={owning}>
                <Barrel owning={owning} /> {words}
              </li>
            ))}
          </ul>
        </section>
        {KEY_HELP.map(({ where, keys }) => (
          <section key={where}>
            <h2>{where}</h2>
            <dl className={classes.keys}>
              {keys.map(([key, does]) => (
                <div key={key}>
                  <dt>
                    <kbd>{key}</kbd>
                  </dt>
                  <dd>{does}</dd>
                </div>
              ))}
            </dl>
          </section>
        ))}
        <section>
          <h2>How far to trust it</h2>
          <p>
            ΔE00 is the colour difference CIEDE2000: below 1 nobody sees it side by side, up to 2 only edge to edge, above
            5 it is another colour. That is a rule of thumb. Screens differ; the paper decides.
          </p>
          <p>
            A predicted colour says ± how much: nine of ten such marks lie within that. “Why do you think so?” tells from
            which swatches, through which steps, and what would make it surer.
          </p>
          {demo && <p>This is the demo. Its makers, pencils, papers and measurements are invented.</p>}
        </section>
        <section>
          <h2>The tour</h2>
          {demo ? (
            <p>
              <button type="button" className="button" onClick={() => { beginTour(); onClose(); }}>
                Walk round in two minutes
              </button>
            </p>
          ) : (
            <p>The demo has one: stop this program and start it with <code>make demo</code>. Your collection stays as it is.</p>
          )}
        </section>
      </div>
    </Dialog>
  );
}
