import { Fragment } from "react";
import { Link } from "react-router";
import { Barrel } from "../../shared/ui/Barrel";
import { Mark } from "../../shared/ui/Mark";
import { Failed } from "../../shared/ui/Problem";
import { useEmptyTray, usePutInTray, useTray } from "./queries";
import classes from "./Tray.module.css";

/** The pencils pulled for the drawing at hand, from light to dark, with the holes of the value ladder. */
export function Tray({ paper }: { paper: number }) {
  const { data: tray } = useTray(paper);
  const put = usePutInTray();
  const empty = useEmptyTray();
  if (tray === undefined) return null;
  const count = tray.pulled.length;
  return (
    <section className={classes.tray} aria-label="Tray">
      <div className={classes.head}>
        <h2>Tray</h2>
        <span className="soft">{count === 0 ? "empty; p puts a pencil in" : `${count} ${count === 1 ? "pencil" : "pencils"}`}</span>
        {count > 0 && (
          <span className={classes.acts}>
            <Link to="/layering" className={classes.empty}>
              layer them
            </Link>
            <button type="button" className={classes.empty} onClick={() => empty.mutate()}>
              put all back
            </button>
          </span>
        )}
      </div>
      <ul className={classes.list}>
        {tray.pulled.map(({ card, owning }, i) => {
          const gap = tray.gaps.find((g) => g.after === i);
          const { colour } = card;
          return (
            <Fragment key={colour.id}>
              <li className={classes.pencil}>
                <Link
                  to={`/tidy?colour=${colour.id}`}
                  className={classes.link}
                  title={`${colour.range} ${colour.code} ${colour.name}`}
                >
                  <Mark mark={card.mark} seed={colour.id} height={26} />
                  <span className={classes.under}>
                    <span className={classes.state}>
                      <Barrel owning={owning} size={13} />
                    </span>
                    <span className="colour-name">
                      <span className="visually-hidden">{colour.range} </span>
                      <code>{colour.code}</code>
                      <span className="visually-hidden">
                        {" "}
                        {colour.name}, {owning}, value{" "}
                      </span>
                    </span>
                    <span className={classes.value}>{card.order?.value.toFixed(1) ?? "–"}</span>
                  </span>
                </Link>
                <button
                  type="button"
                  className={classes.out}
                  aria-label={`Take ${colour.name} out of the tray`}
                  onClick={() => put.mutate({ colour_ids: [colour.id], into: false })}
                >
                  ×
                </button>
              </li>
              {gap && (
                <li className={classes.gap} title={`No value between ${gap.lighter.toFixed(1)} and ${gap.darker.toFixed(1)}`}>
                  gap
                </li>
              )}
            </Fragment>
          );
        })}
      </ul>
      {put.error !== null && <Failed error={put.error} />}
    </section>
  );
}
