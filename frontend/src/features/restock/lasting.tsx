import { Link } from "react-router";
import { Loading } from "../../shared/ui/Loading";
import { Failed } from "../../shared/ui/Problem";
import { useAct } from "../tidy/queries";
import { Lengths } from "./Lengths";
import { Named, Part } from "./Parts";
import { useRestockActs, useRunningOut } from "./queries";
import classes from "./page.module.css";

/** What runs out next, and what is gone. */
export function LastingPage() {
  const { data, error } = useRunningOut();
  const acts = useRestockActs();
  const act = useAct();
  return (
    <Part title="Running out">
      {[error, act.error, acts.list.error].map((one, i) => one !== null && <Failed key={i} error={one} />)}
      {data === undefined && error === null && <Loading what="the pencils" />}
      {data !== undefined && (
        <>
          {data.pencils.length === 0 && (
            <p>
              Nothing is near its end: there are no stubs, and the <Link to="/bench">bench</Link> has logged no pencil yet.
            </p>
          )}
          {data.pencils.length > 0 && <Lengths pencils={data.pencils} stub={data.stub_mm} />}
          {data.gone.length > 0 && (
            <section className="section" aria-label="Gone">
              <h2>Nothing left of these</h2>
              <ul className={classes.gone}>
                {data.gone.map(({ colour, state }) => (
                  <li key={colour.id}>
                    <Link to={`/tidy/${colour.id}`}>
                      <Named colour={colour} />
                    </Link>{" "}
                    <span className="soft">{state}</span>
                    <div>
                      {state === "lost" && (
                        <button type="button" className="button" aria-label={`Found again: ${colour.range} ${colour.code}`} onClick={() => act.mutate({ colour_ids: [colour.id], act: "found", tin: "" })}>
                          Found again
                        </button>
                      )}
                      <button type="button" className="button" aria-label={`Onto the list: ${colour.range} ${colour.code}`} onClick={() => acts.list.mutate({ colours: [colour.id], why: state === "lost" ? "lost" : "used up" })}>
                        Onto the list
                      </button>
                    </div>
                  </li>
                ))}
              </ul>
            </section>
          )}
        </>
      )}
    </Part>
  );
}
