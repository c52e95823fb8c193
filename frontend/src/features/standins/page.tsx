import { useSearchParams, Link, useNavigate, useParams } from "react-router";
import { Barrel } from "../../shared/ui/Barrel";
import { ColourName } from "../../shared/ui/ColourName";
import { Loading } from "../../shared/ui/Loading";
import { Failed } from "../../shared/ui/Problem";
import { Segments } from "../../shared/ui/Segments";
import { useSetting, type Paper } from "../../shared/queries/collection";
import { LayeredList } from "./LayeredList";
import classes from "./page.module.css";
import type { Closest } from "../../shared/vocabulary";
import { useColour } from "../../shared/queries/shelves";
import { isMarkPressure, MARK_PRESSURES } from "../../shared/vocabulary";


/** Stand-ins for any colour by itself, single and layered. */
export function StandinsPage() {
  const id = Number(useParams()["id"]);
  const setting = useSetting();
  if (setting === undefined) return <Loading what="the stand-ins" />;
  return <Opened key={id} id={id} paper={setting.paper} closest={setting.closest} />;
}

function Opened({ id, paper, closest }: { id: number; paper: Paper; closest: Closest }) {
  const { data: page, error } = useColour(id, paper.id, closest);
  const [query, setQuery] = useSearchParams();
  const navigate = useNavigate();
  const asked = query.get("pressure");
  const pressure = isMarkPressure(asked) ? asked : "heavy";
  const back = () => void navigate(`/tidy/colours/${id}`);
  if (error !== null) return <Failed error={error} />;
  if (page?.colour.id !== id) return <Loading what="the stand-ins" />;
  return (
    <div className={classes.page}>
      <header className={classes.head}>
        <p>
          <Link to={`/tidy/colours/${id}`}>
            <ColourName colour={page.colour} range />
          </Link>{" "}
          /
        </p>
        <div className="row">
          <Barrel owning={page.owning} size={26} />
          <h1>Stand-ins for {page.colour.name}</h1>
          <span>{page.owning}</span>
        </div>
        <div className="row">
          <span>as it would be laid here:</span>
          <Segments
            label="Laid"
            options={MARK_PRESSURES}
            value={pressure}
            onChange={(next) => setQuery({ pressure: next }, { replace: true })}
          />
          <span className="soft">one layer, by itself on {paper.name}</span>
        </div>
      </header>
      <LayeredList
        question={{ sought: { colour: id, pressure, layers: 1 }, wanted: { id, pressure, layers: 1 }, inPassage: false }}
        paper={paper}
        closest={closest}
        onBack={back}
      />
    </div>
  );
}
