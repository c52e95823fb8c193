import { useNavigate, Link } from "react-router";
import { asLayers } from "../../shared/layers";
import { ColourName } from "../../shared/ui/ColourName";
import { Failed } from "../../shared/ui/Problem";
import type { Paper } from "../../shared/queries/collection";
import { counted } from "../../shared/words";
import { useBeginScrap, useTellingStrips, type StripToMake } from "./queries";
import classes from "./TellingStrips.module.css";

/** The strips that would tell most of how her layers lie over one another on this paper, to be set out and read. */
export function TellingStrips({ paper }: { paper: Paper }) {
  const { data: told, error } = useTellingStrips(paper.id);
  const navigate = useNavigate();
  // The list round this becomes another with its first scrap: what leads on must not go with it.
  const begin = useBeginScrap((id) => navigate(`/scraps/${id}`));
  if (error !== null) return <Failed error={error} />;
  if (told === undefined || told.strips.length + told.burnished.length === 0) return null;
  const setOut = (strip: StripToMake) => begin.mutate({ paper_id: paper.id, laid: [...asLayers(strip.laid)], wanted_id: null });
  const after = told.strips.at(-1)?.band_after;
  return (
    <section className="section" aria-label="Worth making">
      {after != null && (
        <>
          <h2>{counted(told.strips.length, "strip")} worth making</h2>
          <p className={classes.why}>
            Three heavy pencils over one another, each in one layer, tell how wax takes to wax on {paper.name}: no swatch does.
            Read {told.strips.length === 1 ? "it" : "them"}, and three such layers of any pencils are known to about{" "}
            <strong>{plusMinus(after)}</strong> ΔE; now it is {plusMinus(told.band)}. Other layers gain, too.
          </p>
          <Strips strips={told.strips} pending={begin.isPending} onSetOut={setOut} />
        </>
      )}
      {told.burnished.length > 0 && (
        <>
          <h2>{counted(told.burnished.length, "pencil")} to burnish</h2>
          <p className={classes.why}>
            Each pressed to a shine on bare {paper.name}: no other mark tells how hard you burnish, and whatever you burnish is
            then known nearer.
          </p>
          <Strips strips={told.burnished} pending={begin.isPending} onSetOut={setOut} />
        </>
      )}
      {begin.error !== null && <Failed error={begin.error} />}
    </section>
  );
}

function Strips({ strips, pending, onSetOut }: {
  strips: readonly StripToMake[];
  pending: boolean;
  onSetOut: (strip: StripToMake) => void;
}) {
  return (
    <ol className={classes.strips}>
      {strips.map((strip) => (
        <li key={strip.said} className={classes.strip}>
          <span className={classes.laid}>
            {strip.laid.map((one, i) => (
              <span key={one.colour.id}>
                {strip.laid.length > 1 && <span className="soft">{PLACES[i]}</span>} <ColourName colour={one.colour} range />
              </span>
            ))}
          </span>
          <span className="soft">{strip.band_after !== null && `${plusMinus(strip.band_after)} after it`}</span>
          {strip.scrap_id === null ? (
            <button type="button" className="button" disabled={pending} onClick={() => onSetOut(strip)}>
              Set it out
            </button>
          ) : (
            <Link className="button" to={`/scraps/${strip.scrap_id}`}>
              Set out: read it
            </Link>
          )}
        </li>
      ))}
    </ol>
  );
}

function plusMinus(band: number): string {
  return `±\u00a0${band.toFixed(1)}`;
}

const PLACES = ["first", "over it", "on top"];
