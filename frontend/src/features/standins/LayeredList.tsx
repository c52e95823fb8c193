import { useState } from "react";
import { Comparison, EdgeToEdge, Figures, inWords } from "../../shared/ui/Comparison";
import { Loading } from "../../shared/ui/Loading";
import { Failed } from "../../shared/ui/Problem";
import type { Closest, Paper } from "../collection/queries";
import { useChoose, type Call } from "../recipes/queries";
import { BuildUp } from "./BuildUp";
import { listKeys } from "./listKeys";
import { useLayered, type Layered, type LayeredOffer } from "./queries";
import { WishBar, useWish } from "./WishBar";
import classes from "./StandinPanel.module.css";

interface Props {
  call: Call;
  paper: Paper;
  closest: Closest;
  onBack: () => void;
}

/** Stand-ins judged where they will be used: one pencil or two layered ones, exchanged inside the passage. */
export function LayeredList({ call, paper, closest, onBack }: Props) {
  const [wish, setWish] = useWish();
  const { data: found, error } = useLayered(call.id, paper.id, closest, wish.asked);
  const offers = withChosen(call, found?.offers ?? []).filter((offer) => !wish.onePencil || offer.laid.length === 1);
  return (
    <>
      {found !== undefined && <Around found={found} />}
      <WishBar wish={wish} paper={paper.id} onChange={setWish} />
      {error !== null && <Failed error={error} />}
      {found === undefined && error === null && <Loading what="the layers" lines={4} />}
      {found?.ready === true && offers.length === 0 && <p>{found.problem || "Nothing is left to offer."}</p>}
      {found?.asked != null && offers.length > 0 && (
        <Offered key={`${paper.id} ${closest}`} call={call} paper={paper} found={found} offers={offers} onBack={onBack} />
      )}
      {found?.ready === false && <Mixing found={found} />}
      {found?.beyond.map(({ words, way }) => (
        <p key={words} className={classes.beyond}>
          <strong>Out of reach here:</strong> {words}. The closest way: {way}.
        </p>
      ))}
    </>
  );
}

/** What was chosen stays in sight, also where others have come nearer since. */
function withChosen(call: Call, offers: readonly LayeredOffer[]): readonly LayeredOffer[] {
  const chosen = call.layered;
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

function Mixing({ found }: { found: Layered }) {
  return (
    <p className={classes.mixing} role="status">
      Two layered pencils come when every two of yours are mixed on this paper
      <progress max={Math.max(found.total, 1)} value={found.done} aria-label="How far the mixing is" />
      <span className="mono">
        {found.done} of {found.total}
      </span>
    </p>
  );
}

function Offered({ call, paper, found, offers, onBack }: {
  call: Call;
  paper: Paper;
  found: Layered;
  offers: readonly LayeredOffer[];
  onBack: () => void;
}) {
  const chosen = call.layered?.said;
  const [picked, setPicked] = useState<string | undefined>(undefined);
  const choose = useChoose();
  const current = offers.find((o) => o.said === (picked ?? chosen)) ?? offers[0];
  if (current === undefined || found.asked === null) return null;
  const first = current.laid[0];
  const take = () => {
    if (first === undefined || call.answer === "owned") return;
    const laid = current.laid.map(({ colour, pressure, layers }) => ({ colour_id: colour.id, pressure: pressure as "light" | "medium" | "heavy" | "burnish", layers }));
    choose.mutate({ call: call.id, paper: paper.id, colour: first.colour.id, laid });
  };
  const onKey = listKeys(offers, current, { pick: ({ said }) => setPicked(said), take, back: onBack });
  const single = offers.find((o) => o.laid.length === 1);
  return (
    <>
      <section className={classes.answer} aria-live="polite">
        <Comparison wanted={found.asked} offered={current.finished} height={116} words={["passage as asked", "with this"]} />
        <h3>{sentence(current.said)}</h3>
        <p className={classes.words}>{inWords(current.difference)}</p>
        <p className={classes.basis}>
          The finished passage, predicted, ± {current.plus_minus.toFixed(1)} ΔE · {current.difference.band}
        </p>
        {current.tie && <p>{tieWords(current, single)}</p>}
        <Figures difference={current.difference} rankedBy={current.ranked_by} />
        <BuildUp asked={found.asked_after} offer={current} />
        <Beside offer={current} paper={paper} />
        {call.answer !== "owned" && (
          <div className={classes.actions}>
            {chosen === current.said ? (
              <button type="button" className="button" disabled={choose.isPending} onClick={() => choose.mutate({ call: call.id, paper: paper.id, colour: null })}>
                Leave it open again
              </button>
            ) : (
              <button type="button" className="button" data-strong disabled={choose.isPending} onClick={take}>
                Use this <kbd className={classes.key}>Enter</kbd>
              </button>
            )}
          </div>
        )}
        {choose.error !== null && <Failed error={choose.error} />}
      </section>
      <div
        id="answers"
        className={classes.offers}
        role="listbox"
        tabIndex={0}
        aria-label="Stand-ins in the passage, nearest first"
        aria-activedescendant={`layered-${offers.indexOf(current)}`}
        onKeyDown={onKey}
      >
        {offers.map((offer, i) => (
          <Row key={offer.said} id={`layered-${i}`} offer={offer} asked={found.asked} current={offer === current} chosen={offer.said === chosen} onPick={() => setPicked(offer.said)} />
        ))}
      </div>
    </>
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
  return (
    <div
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
      </span>{" "}
      <span className={classes.figure}>
        {offer.tie && <span title="A tie with the nearest: within what both may be off">≈ </span>}
        {offer.difference.delta_e.toFixed(1)}
        <span className={classes.under} title="How far that may be off, nine times of ten">
          ± {offer.plus_minus.toFixed(1)}
        </span>
        <span className="visually-hidden">
          {" "}
          Delta E{offer.tie && ", a tie with the nearest"}, {inWords(offer.difference)}
        </span>
      </span>
    </div>
  );
}

/** What it does better and worse than the best single pencil, and what the paper still takes. */
function Beside({ offer, paper }: { offer: LayeredOffer; paper: Paper }) {
  const left = offer.passes_left;
  return (
    <ul className={classes.beside}>
      {offer.better.length > 0 && <li>Nearer than the best single pencil in {offer.better.join(", ")}.</li>}
      {offer.worse.length > 0 && <li>Farther than the best single pencil in {offer.worse.join(", ")}.</li>}
      <li>
        {left < 0
          ? `That is ${-left} ${left === -1 ? "layer" : "layers"} more than ${paper.name} takes.`
          : left === 0
            ? `${paper.name} then takes no further layer.`
            : `${paper.name} then takes ${left} more ${left === 1 ? "layer" : "layers"}.`}
      </li>
    </ul>
  );
}

function tieWords(current: LayeredOffer, single: LayeredOffer | undefined): string {
  if (single?.tie === true && current.laid.length > 1) {
    return `A tie: as far as can be told, ${single.said} is as near, and simpler.`;
  }
  return "A tie: within what both may be off, it cannot be told from the others marked ≈.";
}

/** With a capital. */
function sentence(said: string): string {
  return said.charAt(0).toUpperCase() + said.slice(1);
}
