import { useEffect, useRef, useState, type ReactNode } from "react";
import { Link, useNavigate } from "react-router";
import { Apart, Comparison, EdgeToEdge, Figures, inWords } from "../../shared/ui/Comparison";
import { Loading } from "../../shared/ui/Loading";
import { Failed } from "../../shared/ui/Problem";
import type { Paper } from "../../shared/queries/collection";
import { asLayers, tablePath } from "../../shared/layers";
import { roomWords, sentence } from "../../shared/words";
import { useBeginScrap } from "../scraps/queries";
import { BuildUp } from "./BuildUp";
import { listKeys } from "../../shared/listKeys";
import { Mixing, MixingFailed } from "./Mixing";
import { useLayered, type Layered, type LayeredOffer, type Sought } from "./queries";
import { WishBar, useWish } from "./WishBar";
import classes from "../../shared/ui/answers.module.css";
import { useKeys } from "../../shared/keys";
import type { Closest, Pressure } from "../../shared/vocabulary";

/** What was asked for, and what can be done with an answer where it was asked. */
export interface Question {
  sought: Sought;
  /** The colour that is asked for, and how it would be laid: what a scrap is tried for. */
  wanted: { id: number; pressure: Pressure; layers: number };
  /** Whether it is judged inside a passage, or by itself. */
  inPassage: boolean;
  /** Using an answer, where there is a call to use it for. */
  using?: { chosen: LayeredOffer | null; take: (offer: LayeredOffer) => void; leave: () => void; pending: boolean; error: unknown };
}

interface Props {
  question: Question;
  paper: Paper;
  closest: Closest;
  onBack: () => void;
}

/** Stand-ins judged where they will be used: one pencil or two layered ones, exchanged inside the passage. */
export function LayeredList({ question, paper, closest, onBack }: Props) {
  const [wish, setWish] = useWish();
  const { data: found, error, again } = useLayered(question.sought, paper.id, closest, wish.asked);
  const offers = withChosen(question, found?.offers ?? []).filter((offer) => !wish.onePencil || offer.laid.length === 1);
  const about = (
    <>
      {found !== undefined && question.inPassage && <Around found={found} />}
      <WishBar wish={wish} paper={paper.id} onChange={setWish} />
      {found?.unfit.map(({ reason, count }) => (
        <p key={reason} className={classes.basis}>
          {count} of your pencils left out: {reason}.
        </p>
      ))}
      {found?.beyond.map(({ words, way }) => (
        <p key={words} className="caution">
          <strong>Out of reach here:</strong> {words}. The closest way: {way}.
        </p>
      ))}
      {error !== null && <Failed error={error} />}
      {found === undefined && error === null && <Loading what="the layers" lines={4} />}
      {found?.failed === true && <MixingFailed problem={found.problem} again={again} />}
      {found?.ready === true && !found.failed && offers.length === 0 && (
        <>
          <p>{found.problem || "Nothing is left to offer: leave less out, or tick more of what you own."}</p>
          <p>
            <Link className="button" to={`/tidy/colours/${question.wanted.id}`}>
              To the page of this colour
            </Link>
          </p>
        </>
      )}
      {found?.ready === false && <Mixing done={found.done} total={found.total} />}
    </>
  );
  if (found?.asked == null || offers.length === 0) return <div className={classes.answerColumn}>{about}</div>;
  return <Offered key={`${paper.id} ${closest}`} {...{ question, paper, found, offers, onBack, about }} asked={found.asked} />;
}

/** What was chosen stays in sight, also where others have come nearer since. */
function withChosen({ using }: Question, offers: readonly LayeredOffer[]): readonly LayeredOffer[] {
  const chosen = using?.chosen ?? null;
  return chosen === null || offers.some((o) => o.said === chosen.said) ? offers : [chosen, ...offers];
}

/** What the recipe lays below and above the call. */
function Around({ found }: { found: Layered }) {
  const codes = (layers: Layered["below"]) => layers.map(({ colour }) => colour.code).join(", ");
  const parts = [
    found.below.length > 0 && `over ${codes(found.below)}`,
    found.above.length > 0 && `under ${codes(found.above)}`,
  ].filter(Boolean);
  return (
    <p className={classes.basis}>
      {parts.length === 0 ? "Nothing else is laid in this area, so the layers are judged by themselves" : `Judged ${parts.join(" and ")}, as the recipe has it`}
      {found.left_out > 0 && `; ${found.left_out} more of the area cannot be modelled`}.
    </p>
  );
}

function Offered({ question, paper, found, asked, offers, onBack, about }: {
  question: Question;
  paper: Paper;
  found: Layered;
  asked: NonNullable<Layered["asked"]>;
  offers: readonly LayeredOffer[];
  onBack: () => void;
  /** What is to be said before any answer. */
  about: ReactNode;
}) {
  const { using, inPassage } = question;
  const chosen = using?.chosen?.said;
  const [picked, setPicked] = useState<string | undefined>(undefined);
  const current = offers.find((o) => o.said === (picked ?? chosen)) ?? offers[0];
  const tryIt = useTryIt(question, paper, current);
  if (current === undefined) return null;
  const onKey = listKeys(offers, current, { pick: ({ said }) => setPicked(said), take: () => using?.take(current), back: onBack });
  const single = offers.find((o) => o.laid.length === 1);
  const place = offers.indexOf(current);
  // Beside a recipe the panel is headed by the call, elsewhere the page by the colour.
  const Heading = inPassage ? "h3" : "h2";
  return (
    <>
      <div className={classes.answerColumn}>
      <section className={classes.answer} aria-live="polite">
        <Comparison
          wanted={asked}
          offered={current.finished}
          height={120}
          words={inPassage ? ["passage as asked", "with this"] : ["asked", "these layers"]}
        />
        <Heading>{sentence(current.said)}</Heading>
        <p className={classes.words}>{inWords(current.difference, current.plus_minus)}</p>
        <p className={classes.basis}>
          {inPassage ? "The finished passage" : "The layers"}, predicted ± {current.plus_minus.toFixed(1)} ΔE · probably {current.expected.toFixed(1)} apart
        </p>
        <Before offer={current} />
        {current.tie && <p>{tieWords(current, single)}</p>}
        <div className={classes.actions}>
          {using !== undefined && <Use using={using} offer={current} />}
          <button type="button" className="button" disabled={tryIt.pending} onClick={tryIt.begin}>
            Try on scrap <kbd>t</kbd>
          </button>
          {current.laid.length > 1 && (
            <Link className="button" to={tablePath(asLayers(current.laid))}>
              Both orders <kbd>b</kbd>
            </Link>
          )}
        </div>
        {using?.error != null && <Failed error={using.error} />}
        {tryIt.error !== null && <Failed error={tryIt.error} />}
      </section>
      <section aria-label="How that comes about">
        <Figures difference={current.difference} rankedBy={current.ranked_by} />
        <BuildUp asked={found.asked_after} offer={current} without={found.without} />
        <Beside offer={current} paper={paper} asked={found.asked_covers} />
      </section>
      </div>
      <div className={classes.listColumn}>
      {about}
      <div
        id="answers"
        className={classes.layered}
        role="listbox"
        tabIndex={0}
        aria-label={inPassage ? "Stand-ins in the passage, nearest first" : "Stand-ins, nearest first"}
        aria-activedescendant={`layered-${place}`}
        onKeyDown={onKey}
      >
        {offers.map((offer, i) => (
          <Row key={offer.said} id={`layered-${i}`} offer={offer} asked={asked} current={offer === current} chosen={offer.said === chosen} onPick={() => setPicked(offer.said)} />
        ))}
      </div>
      </div>
    </>
  );
}

/** A scrap of the layers at the cursor, for the colour that is asked for; and both orders, by their keys. */
function useTryIt({ wanted }: Question, paper: Paper, current: LayeredOffer | undefined) {
  const scrap = useBeginScrap();
  const navigate = useNavigate();
  const begin = () => {
    if (current === undefined || scrap.isPending) return;
    if (current.tried !== null) {
      void navigate(`/scraps/${current.tried.scrap_id}`);
      return;
    }
    scrap.mutate(
      { paper_id: paper.id, laid: asLayers(current.laid), wanted_id: wanted.id, wanted_pressure: wanted.pressure, wanted_layers: wanted.layers },
      { onSuccess: ({ id }) => void navigate(`/scraps/${id}`) },
    );
  };
  useKeys({ t: begin, b: () => current !== undefined && current.laid.length > 1 && navigate(tablePath(asLayers(current.laid))) });
  return { begin, pending: scrap.isPending, error: scrap.error };
}

function Use({ using, offer }: { using: NonNullable<Question["using"]>; offer: LayeredOffer }) {
  return using.chosen?.said === offer.said ? (
    <button type="button" className="button" disabled={using.pending} onClick={using.leave}>
      Leave it open again
    </button>
  ) : (
    <button type="button" className="button" data-strong disabled={using.pending} onClick={() => using.take(offer)}>
      Use this <kbd>Enter</kbd>
    </button>
  );
}

/** What a scrap said of these layers before, and how they were measured. */
function Before({ offer }: { offer: LayeredOffer }) {
  const { tried, measured } = offer;
  if (tried === null && measured === null) return null;
  return (
    <p className="caution">
      {tried !== null && (
        <>
          <Link to={`/scraps/${tried.scrap_id}`}>You tried this</Link> on {tried.made_on}:{" "}
          <strong>{tried.verdict.join(", ") || "no verdict yet"}</strong>
          {tried.note !== "" && ` (${tried.note})`}.{" "}
        </>
      )}
      {measured !== null && (
        <>
          Its strip by itself was measured: <strong>{inWords(measured.difference)}</strong> beside the {measured.asked_trust} mark, ΔE{" "}
          {measured.difference.delta_e.toFixed(1)}. A measurement goes before a prediction.
        </>
      )}
    </p>
  );
}

function Row({ id, offer, asked, current, chosen, onPick }: {
  id: string;
  offer: LayeredOffer;
  asked: Layered["asked"];
  current: boolean;
  chosen: boolean;
  onPick: () => void;
}) {
  const row = useRef<HTMLDivElement>(null);
  useEffect(() => {
    // Only within the list: the panel round it stays where it is.
    const list = row.current?.parentElement;
    if (!current || row.current === null || list == null) return;
    const { offsetTop: top, offsetHeight: height } = row.current;
    if (top < list.scrollTop) list.scrollTop = top;
    else if (top + height > list.scrollTop + list.clientHeight) list.scrollTop = top + height - list.clientHeight;
  }, [current]);
  return (
    <div
      ref={row}
      id={id}
      role="option"
      aria-selected={current}
      className={classes.offer}
      data-current={current || undefined}
      onClick={onPick}
    >
      <span className={classes.edge}>
        <EdgeToEdge patches={[asked, offer.finished]} height={24} />
      </span>
      <span className={classes.name}>
        {offer.laid.map(({ colour, pressure, layers }, i) => (
          <span key={i} className={classes.coat}>
            {i > 0 && "+ "}
            <code>{colour.code}</code> {colour.name}, {pressure}
            {layers > 1 && ` × ${layers}`}
          </span>
        ))}
        {chosen && <strong>⇄ chosen</strong>}
        {offer.tried !== null && <strong className={classes.coat}>tried: {offer.tried.verdict.join(", ") || "no verdict yet"}</strong>}
      </span>{" "}
      <span className={classes.figure}>
        {offer.tie && <span title="A tie with the nearest: within what both may be off">≈ </span>}
        <Apart difference={offer.difference} expected={offer.expected} plusMinus={offer.plus_minus} under={classes.under} />
        <span className="visually-hidden">
          {" "}
          Delta E{offer.tie && ", a tie with the nearest"}, {inWords(offer.difference, offer.plus_minus)}
        </span>
      </span>
    </div>
  );
}

/** What it does better and worse than the best single pencil, and what the paper still takes. */
function Beside({ offer, paper, asked }: { offer: LayeredOffer; paper: Paper; asked: Layered["asked_covers"] }) {
  return (
    <ul className={classes.beside}>
      {offer.better.length > 0 && <li>Nearer than the best single pencil in {offer.better.join(", ")}.</li>}
      {offer.worse.length > 0 && <li>Farther than the best single pencil in {offer.worse.join(", ")}.</li>}
      {asked !== null && <li title="Contrast ratio, predicted: what is seen over black beside what is seen over white; 1 hides all">{coverWords(offer, asked)}</li>}
      <li>{roomWords(offer.passes_left, paper.name)}</li>
    </ul>
  );
}

/** How much the layers hide of what lies below, beside what is asked for. */
function coverWords({ covers }: LayeredOffer, asked: NonNullable<Layered["asked_covers"]>): string {
  const step = covers.contrast_ratio - asked.contrast_ratio;
  if (Math.abs(step) < 0.05) return "Hides what lies below about as much as what is asked for.";
  const ratios = `contrast ratio ${covers.contrast_ratio.toFixed(2)}, that of what is asked for ${asked.contrast_ratio.toFixed(2)}`;
  return `Hides ${step > 0 ? "more" : "less"} of what lies below than what is asked for (${ratios}).`;
}

function tieWords(current: LayeredOffer, single: LayeredOffer | undefined): string {
  if (single?.tie === true && current.laid.length > 1) {
    return `A tie: as far as can be told, ${single.said} is as near, and simpler.`;
  }
  return "A tie: within what both may be off, it cannot be told from the others marked ≈.";
}
