import { Link } from "react-router";
import { ColourName } from "../../shared/ui/ColourName";
import { PatchView } from "../../shared/ui/Comparison";
import { Empty } from "../../shared/ui/Empty";
import { Loading } from "../../shared/ui/Loading";
import { Failed } from "../../shared/ui/Problem";
import { useSetting, type Paper } from "../../shared/queries/collection";
import { sentence } from "../../shared/words";
import { useScraps, type ScrapCard } from "./queries";
import { TellingStrips } from "./TellingStrips";
import classes from "./page.module.css";

/** What was tried on the paper at hand, and what was said of it. */
export function ScrapsPage() {
  const setting = useSetting();
  if (setting === undefined) return <Loading what="the scraps" />;
  return <List paper={setting.paper} />;
}

function List({ paper }: { paper: Paper }) {
  const { data: found, error } = useScraps(paper.id);
  if (error !== null) return <Failed error={error} />;
  if (found === undefined) return <Loading what="the scraps" />;
  if (found.scraps.length === 0) {
    return (
      <div className="station-page">
        <Empty title={`Nothing was tried on ${paper.name} yet`}>
          <p>Lay two pencils over one another, print or copy the strip, draw it on a scrap of this paper, and say what came of it.</p>
          <Link className="button" data-strong to="/layering">
            To the layering table
          </Link>
        </Empty>
        <TellingStrips paper={paper} />
      </div>
    );
  }
  return (
    <div className="station-page">
      <header>
        <p>
          <Link to="/layering">Layering</Link> /
        </p>
        <h1>Tried on {paper.name}</h1>
      </header>
      <ul className={classes.cards}>
        {found.scraps.map((scrap) => (
          <Card key={scrap.id} scrap={scrap} />
        ))}
      </ul>
      <TellingStrips paper={paper} />
    </div>
  );
}

function Card({ scrap }: { scrap: ScrapCard }) {
  return (
    <li className={classes.card}>
      <span className={classes.dot}>
        {scrap.measured === null ? <span className="soft">not read</span> : <PatchView patch={scrap.measured} />}
      </span>
      <span>
        <Link to={`/scraps/${scrap.id}`}>{sentence(scrap.said)}</Link>
        {scrap.wanted !== null && (
          <span>
            {" "}
            for <ColourName colour={scrap.wanted} range />
          </span>
        )}
        {scrap.note !== "" && <span className="soft"> · {scrap.note}</span>}
      </span>
      <strong>{scrap.verdict.join(", ") || "no verdict yet"}</strong>
      <span className="soft">{scrap.made_on}</span>
    </li>
  );
}
