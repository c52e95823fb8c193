import { useState } from "react";
import { Link } from "react-router";
import { EdgeToEdge, inWords } from "../../shared/ui/Comparison";
import { Failed } from "../../shared/ui/Problem";
import { Segments } from "../../shared/ui/Segments";
import { tablePath } from "../../shared/layers";
import { MARK_PRESSURES, type MarkPressure } from "../../shared/vocabulary";
import { Mixing, MixingFailed } from "./Mixing";
import { useNeutralisers } from "./queries";
import classes from "./Neutralisers.module.css";

/** Which owned pencils darken or grey one without black: worked out when it is asked for. */
export function Neutralisers({ colour, paper, name }: { colour: number; paper: number; name: string }) {
  const [opened, setOpened] = useState(false);
  const [pressure, setPressure] = useState<MarkPressure>("medium");
  const { data: found, error, again } = useNeutralisers(colour, paper, pressure, opened);
  return (
    <div className={classes.section}>
      <div className="row">
        <button type="button" className="button" aria-expanded={opened} onClick={() => setOpened(!opened)}>
          What greys it without black
        </button>
        {opened && (
          <>
            <span>laid</span>
            <Segments label="Laid below" options={MARK_PRESSURES} value={pressure} onChange={setPressure} />
            <span>below</span>
          </>
        )}
      </div>
      {opened && error !== null && <Failed error={error} />}
      {opened && found?.failed === true && <MixingFailed problem={found.problem} again={again} />}
      {opened && found?.ready === false && <Mixing done={found.done} total={found.total} />}
      {opened && found?.failed === false && found.problem !== "" && <p>{found.problem}</p>}
      {opened && (found?.found.length ?? 0) > 0 && (
        <ul className={classes.list}>
          {found?.found.map(({ over, said, result, difference, chroma_left }) => (
            <li key={over.colour.id} className={classes.one}>
              <span className={classes.edge}>
                <EdgeToEdge patches={[found.alone, result]} height={40} />
              </span>
              <span>
                <Link to={`/tidy/colours/${over.colour.id}`}>
                  <code>
                    {over.colour.range} {over.colour.code}
                  </code>{" "}
                  {over.colour.name}
                </Link>{" "}
                over it, {over.pressure}
                {over.layers > 1 && ` × ${over.layers}`}
                <br />
                <span className="soft">
                  {inWords(difference)}; {Math.round(chroma_left * 100)} % of its chroma is left
                </span>
              </span>
              <Link
                className="button"
                aria-label={`Lay ${said} on the table`}
                to={tablePath([
                  { colour_id: colour, pressure, layers: 1 },
                  { colour_id: over.colour.id, pressure: over.pressure, layers: over.layers },
                ])}
              >
                Lay both
              </Link>
            </li>
          ))}
        </ul>
      )}
      {opened && (found?.found.length ?? 0) > 0 && <p className="soft">Left: {name} alone; right: with the other over it. Both predicted.</p>}
    </div>
  );
}
