import { useSessionStorage } from "@mantine/hooks";
import { useState } from "react";
import { Link } from "react-router";
import { Barrel } from "../../shared/ui/Barrel";
import { Apart, Comparison, Figures, inWords } from "../../shared/ui/Comparison";
import { UnderLamps } from "../../shared/ui/Lamps";
import { Loading } from "../../shared/ui/Loading";
import { Mark } from "../../shared/ui/Mark";
import { Failed } from "../../shared/ui/Problem";
import { Segments } from "../../shared/ui/Segments";
import type { Paper } from "../../shared/queries/collection";
import { WhyButton } from "../predicting/Why";
import { PlannedHere } from "./PlannedHere";
import type { CallPlan } from "./planQueries";
import { useChoose, useSettle, type Call } from "./queries";
import { asLayers } from "../../shared/layers";
import { sentence } from "../../shared/words";
import { LayeredList } from "../standins/LayeredList";
import { listKeys } from "../../shared/listKeys";
import { useStandins, type LayeredOffer, type Offer, type Standins } from "../standins/queries";
import classes from "../../shared/ui/answers.module.css";
import { useKeys } from "../../shared/keys";
import type { Closest, Pressure } from "../../shared/vocabulary";

interface Props {
  call: Call;
  paper: Paper;
  closest: Closest;
  onBack: () => void;
}

/** The call, and what the plan lays for it. */
interface PanelProps extends Props {
  plan: CallPlan | undefined;
}

/** What can stand in for a call: wanted and offered edge to edge, the words first, then the figures. */
export function StandinPanel({ call, plan, paper, closest, onBack }: PanelProps) {
  const [judged, setJudged] = useSessionStorage<Judged>({ key: "standins-judged", defaultValue: "marks", getInitialValueInEffect: false });
  useKeys({ v: () => setJudged(judged === "marks" ? "passage" : "marks") });
  return (
    <aside className={`side-panel ${classes.panel ?? ""} ${classes.wide ?? ""}`} aria-label="Stand-ins">
      <div className={classes.top}>
      <Asked call={call} />
      <PlannedHere call={call} plan={plan} paper={paper.id} />
      <Segments label="Stand-ins are judged" options={JUDGED} words={JUDGED_WORDS} value={judged} onChange={setJudged} />
      </div>
      {judged === "marks" ? <SingleList {...{ call, paper, closest, onBack }} /> : <InPassage {...{ call, paper, closest, onBack }} />}
    </aside>
  );
}

const JUDGED = ["marks", "passage"] as const;
type Judged = (typeof JUDGED)[number];
const JUDGED_WORDS: Record<Judged, string> = { marks: "mark beside mark", passage: "layered, in the passage" };

/** Layers for a call, in its passage; an answer is used for it. */
function InPassage({ call, paper, closest, onBack }: Props) {
  const choose = useChoose();
  const wanted = { id: call.colour?.id ?? 0, pressure: pressureOf(call), layers: call.layers };
  const use = {
    chosen: call.layered,
    take: ({ laid }: LayeredOffer) =>
      choose.mutate({ call: call.id, paper: paper.id, colour: laid[0]?.colour.id ?? null, laid: asLayers(laid) }),
    leave: () => choose.mutate({ call: call.id, paper: paper.id, colour: null }),
    pending: choose.isPending,
    error: choose.error,
  };
  const question = { sought: { call: call.id }, wanted, inPassage: true, ...(call.answer === "owned" ? {} : { using: use }) };
  return (
    <>
      {call.working && <p role="status">What was chosen is still being worked out.</p>}
      <LayeredList {...{ question, paper, closest, onBack }} />
    </>
  );
}

/** How the call would be laid. */
function pressureOf(call: Call): Pressure {
  return call.role === "burnisher" ? "burnish" : call.compared_at;
}

/** Single pencils as the call asks for them, mark beside mark. */
function SingleList({ call, paper, closest, onBack }: Props) {
  const { data: standins, error } = useStandins(call.id, paper.id, closest);
  return (
    <>
      {error !== null && <Failed error={error} />}
      {standins === undefined && error === null && <Loading what="the stand-ins" lines={4} />}
      {standins !== undefined && (
        // Another paper has other stand-ins: the key begins again with the chosen or the nearest one there.
        <Ranked key={`${paper.id} ${closest}`} call={call} paper={paper} standins={standins} onBack={onBack} />
      )}
    </>
  );
}

/** A choice of two: either serves until she says which it is. */
function Either({ call, colours }: { call: Call; colours: readonly NonNullable<Call["colour"]>[] }) {
  const settle = useSettle();
  return (
    <>
      <p className="row">
        Either serves, and a plan takes the one that is nearer.
        {colours.map((colour) => (
          <button key={colour.id} type="button" className="button" disabled={settle.isPending} onClick={() => settle.mutate({ call, colour: colour.id })}>
            Only <code>{colour.code}</code> {colour.name}
          </button>
        ))}
      </p>
      {settle.error !== null && <Failed error={settle.error} />}
    </>
  );
}

function Asked({ call }: { call: Call }) {
  if (call.colour === null) return null;
  const owned = call.answer === "owned";
  return (
    <header>
      <p>{owned ? "You own what is asked for" : "Asked for"}</p>
      <div className={classes.title}>
        <Barrel owning={call.owning} size={26} />
        <h2>{call.colour.name}</h2>
      </div>
      <p>
        <Link to={`/tidy?colour=${call.colour.id}`}>
          <code>
            {call.colour.range} {call.colour.code}
          </code>
        </Link>{" "}
        · {call.owning}
        {call.role !== "" && ` · ${call.role}`}
      </p>
      {call.other !== null && <Either call={call} colours={[call.colour, call.other]} />}
      {call.pressure === "" && <p>No pressure is given, so heavy marks are compared.</p>}
    </header>
  );
}

function Ranked({ call, paper, standins, onBack }: { call: Call; paper: Paper; standins: Standins; onBack: () => void }) {
  const offers = [...standins.on_paper, ...standins.by_chart];
  const chosen = call.chosen?.colour.id;
  const [picked, setPicked] = useState<number | undefined>(undefined);
  const choose = useChoose();
  const current = offers.find((o) => o.colour.id === (picked ?? chosen)) ?? offers[0];
  const answer = (colour: number | null) => choose.mutate({ call: call.id, paper: paper.id, colour });
  const take = () => {
    if (current !== undefined && call.answer !== "owned") answer(current.colour.id);
  };
  const onKey = listKeys(offers, current, { pick: ({ colour }) => setPicked(colour.id), take, back: onBack });
  return (
    <>
      <div className={classes.answerColumn}>
      {current === undefined ? (
        <Nothing standins={standins} />
      ) : (
        <section className={classes.answer} aria-live="polite">
          <Comparison wanted={current.wanted} offered={current.offered} />
          <h3>
            <code>
              {current.colour.range} {current.colour.code}
            </code>{" "}
            {current.colour.name}
          </h3>
          <p className={classes.words}>{inWords(current.difference, current.plus_minus)}</p>
          <p className={classes.basis}>
            {where(current, standins, paper)} · {current.difference.band}
          </p>
          {current.tie && <p>A tie: within what both may be off, it cannot be told from the others marked ≈.</p>}
          <Figures difference={current.difference} rankedBy={current.ranked_by} />
          <UnderLamps lamps={current.lamps} />
          <WhyButton colour={current.colour.id} paper={paper.id} mark={current.mark} first={standins.pressure} />
          {call.answer !== "owned" && (
            <div className={classes.actions}>
              {chosen === current.colour.id ? (
                <button type="button" className="button" disabled={choose.isPending} onClick={() => answer(null)}>
                  Leave it open again
                </button>
              ) : (
                <button type="button" className="button" data-strong disabled={choose.isPending} onClick={take}>
                  Use this <kbd>Enter</kbd>
                </button>
              )}
            </div>
          )}
          {choose.error !== null && <Failed error={choose.error} />}
        </section>
      )}
      {offers.length > 0 &&
        standins.left_out.map((left) => (
          <p key={left.reason} className={classes.basis}>
            {left.count} left out: {left.reason}.
          </p>
        ))}
      </div>
      <div
        id="answers"
        className={classes.offers}
        role="listbox"
        tabIndex={0}
        aria-label="Stand-ins, nearest first"
        aria-activedescendant={current ? `offer-${current.colour.id}` : undefined}
        onKeyDown={onKey}
      >
        {RANKED_FIRST[standins.closest] !== undefined && <p className={classes.basis}>{RANKED_FIRST[standins.closest]}</p>}
        <Offers title={`On ${paper.name}`} {...{ offers: standins.on_paper, current, chosen, onPick: setPicked }} />
        <Offers title="By chart, not on this paper" {...{ offers: standins.by_chart, current, chosen, onPick: setPicked }} />
      </div>
    </>
  );
}

/** By what a list is ranked where its figures, which are plain ΔE00, do not say it. */
const RANKED_FIRST: Partial<Record<Closest, string>> = {
  value: "Nearest in value first; the figures are plain ΔE00.",
  hue: "Nearest in hue first; the figures are plain ΔE00.",
};

/** What the comparison rests on; a chart knows no pressure. */
function where(offer: Offer, standins: Standins, paper: Paper): string {
  if (offer.basis.startsWith("by chart")) return offer.basis;
  const layers = standins.layers > 1 ? `, ${standins.layers} layers` : "";
  const how = offer.basis.replace(" on this paper", "");
  const known = offer.plus_minus === null ? how : `${how} ± ${offer.plus_minus.toFixed(1)} ΔE`;
  return `${standins.pressure}${layers}, ${known} on ${paper.name}`;
}

function Offers({ title, offers, current, chosen, onPick }: {
  title: string;
  offers: readonly Offer[];
  current: Offer | undefined;
  chosen: number | undefined;
  onPick: (id: number) => void;
}) {
  if (offers.length === 0) return null;
  return (
    <div role="group" aria-label={title}>
      <p className={classes.group} aria-hidden="true">
        {title}
      </p>
      {offers.map((offer) => (
        <div
          key={offer.colour.id}
          id={`offer-${offer.colour.id}`}
          role="option"
          aria-selected={offer === current}
          aria-label={spoken(offer, offer.colour.id === chosen)}
          className={classes.offer}
          data-current={offer === current || undefined}
          onClick={() => onPick(offer.colour.id)}
        >
          <span className={classes.mark}>
            <Mark mark={offer.mark} seed={offer.colour.id} height={24} />
          </span>
          <span className={classes.name}>
            <code>{offer.colour.code}</code> {offer.colour.name}
            {offer.colour.id === chosen && <strong> ⇄ chosen</strong>}
            {offer.owning === "stub" && " (stub)"}
          </span>{" "}
          <span className={classes.figure}>
            {offer.tie && <span title="A tie with the nearest: within what both may be off">≈ </span>}
            <Apart difference={offer.difference} expected={offer.expected} plusMinus={offer.plus_minus} under={classes.under} />
          </span>
        </div>
      ))}
    </div>
  );
}

/** A stand-in as a screen reader says it: what is written, and the rest of it. */
function spoken(offer: Offer, chosen: boolean): string {
  const { colour, difference, owning } = offer;
  const signs = `${chosen ? " ⇄ chosen" : ""}${owning === "stub" ? " (stub)" : ""}`;
  const apart = offer.plus_minus === null ? difference.delta_e.toFixed(1) : `${offer.expected.toFixed(1)} probably`;
  const figure = `${offer.tie ? "≈ " : ""}${apart} Delta E`;
  const tie = offer.tie ? ", a tie with the nearest" : "";
  return `${colour.range} ${colour.code} ${colour.name}${signs} ${figure}${tie}, ${inWords(difference, offer.plus_minus)}, ${offer.basis}`;
}

function Nothing({ standins }: { standins: Standins }) {
  const left = standins.left_out[0];
  return (
    <section>
      <h3>Nothing to offer</h3>
      <p>
        {left === undefined
          ? "No other pencil is at hand. Tick what you own in the tidy first."
          : left.about_wanted
            ? `${sentence(left.reason)}.`
            : `${left.count} of your pencils: ${left.reason}.`}
      </p>
      <Link className="button" to="/tidy">
        To the tidy
      </Link>
    </section>
  );
}
