import { useState, type CSSProperties, type KeyboardEvent } from "react";
import type { Context } from "../../shared/queries/collection";
import { Apart, EdgeToEdge, Figures, inWords, PatchView, ScreenNote } from "../../shared/ui/Comparison";
import { asLayers } from "../../shared/layers";
import { Check, Choice } from "../../shared/ui/Field";
import { listKeys } from "../../shared/listKeys";
import { useKeys } from "../../shared/keys";
import { Failed } from "../../shared/ui/Problem";
import { usePutInTray } from "../tray/queries";
import { useChooseWay, useSplit } from "./paletteQueries";
import { useAnswers, useNamePick, type Pick, type PickAnswer } from "./queries";
import type { Wish } from "./wish";
import answers from "../../shared/ui/answers.module.css";
import classes from "./PickPanel.module.css";

const ROLES: readonly (readonly [Wish["role"], string])[] = [
  ["", "only come near"],
  ["glaze", "let through what lies below"],
  ["highlight", "cover what lies below"],
  ["detail", "hold a point for fine detail"],
  ["below", "bear a wet wash over it"],
];

/** One colour alone, what the eye gets wrong of it, and what of hers comes nearest on this paper. */
export function PickPanel({ pick, context, wish, onWish, going }: {
  pick: Pick;
  context: Context;
  wish: Wish;
  onWish: (wish: Wish) => void;
  going: boolean;
}) {
  const [at, setAt] = useState<number | null>(null);
  const { data, error } = useAnswers(pick, context, wish, going);
  const tray = usePutInTray();
  const use = useChooseWay();
  const split = useSplit();
  const offers = data?.offers ?? [];
  const chosen = data?.chosen ?? null;
  const offer = offers[at ?? chosen ?? 0] ?? offers[0];
  const isUsed = chosen !== null && offers[chosen] === offer;
  const take = () => offer && use.mutate({ pick, laid: isUsed ? [] : asLayers(offer.laid) });
  const paper = context.papers.find((p) => p.id === context.paper_id);
  const pull = () => offer && tray.mutate({ colour_ids: offer.laid.map((one) => one.colour.id), into: true });
  useKeys({ p: pull, y: () => split.mutate(pick.id) });
  return (
    <section className={classes.panel} aria-label={`Colour ${pick.number}`}>
      <h2>
        {pick.number}. {pick.name || pick.described}
      </h2>
      <Alone pick={pick} paper={paper?.colour} />
      <ul className={classes.words}>
        <li>
          {pick.name !== "" && `${sentence(pick.described)}, `}Value {pick.value.toFixed(1)}
          {pick.share !== null && `, ${percent(pick.share)} of the picture`}; {pick.found ? "found" : "picked"}, varies by {pick.spread.toFixed(1)} ΔE.
        </li>
        {pick.beware.length > 0 && <li>{pick.beware.join(" ")}</li>}
        {pick.nearest && (
          <li>
            Beside it, colour {pick.nearest.number} is {inWords(pick.nearest.difference)} ({pick.nearest.difference.delta_e.toFixed(1)} ΔE).
          </li>
        )}
      </ul>
      <div className="row">
        <button type="button" className="button" disabled={split.isPending} onClick={() => split.mutate(pick.id)} title="Two picks of what in the picture is nearest to it: its lighter part and its darker one">
          Split in two <kbd>y</kbd>
        </button>
      </div>
      {split.error !== null && <Failed error={split.error} />}
      <h3>What of yours comes nearest on {paper?.name ?? "this paper"}</h3>
      {error !== null && <Failed error={error} />}
      {data?.problem && <p role="alert">{data.problem}</p>}
      {data !== undefined && !data.ready && (
        <p role="status">
          Layered pairs are being worked out{data.total > 0 && `: ${data.done} of ${data.total}`}; single pencils so far.
        </p>
      )}
      {data?.beyond.map((way) => (
        <p key={way.words} className={classes.beyond}>
          <strong>{sentence(way.words)}.</strong> The closest way: {way.way}.
        </p>
      ))}
      <div className={classes.answers}>
        {data !== undefined && offer !== undefined && <Compared wanted={data.wanted} offer={offer} mapped={data.mapped} />}
        <OfferList offers={offers} current={offer} used={chosen === null ? undefined : offers[chosen]} onPick={(one) => setAt(offers.indexOf(one))} onTake={take} />
      </div>
      <div className="row">
        {offer && (
          <button type="button" className="button" aria-pressed={isUsed} onClick={take} title="For the palette and the recipe; the nearest is used where you choose none">
            {isUsed ? "Used for it" : "Use this way"} <kbd>Enter</kbd>
          </button>
        )}
        {offer && (
          <button type="button" className="button" onClick={pull}>
            Into the tray <kbd>p</kbd>
          </button>
        )}
      </div>
      {[tray, use].map((one, i) => one.error !== null && <Failed key={i} error={one.error} />)}
      <div className={classes.wish}>
        <Choice label="It must" value={wish.role} options={ROLES} onChange={(role) => onWish({ ...wish, role })} hint="Pencils that cannot do it are left out" />
        <Check label="lay the picture's range into what this paper reaches" value={wish.mapped} onChange={(mapped) => onWish({ ...wish, mapped })} />
      </div>
      <Names key={pick.revision} pick={pick} />
    </section>
  );
}

/** Large on mid grey, on the paper, and in its own surround: among others a colour fools the eye. */
function Alone({ pick, paper }: { pick: Pick; paper: { hex: string; grey: string } | undefined }) {
  const grounds = [
    { name: "on mid grey", ground: { hex: "#777777", grey: "#777777" } },
    ...(paper === undefined ? [] : [{ name: "on the paper", ground: paper }]),
    ...(pick.surround ? [{ name: "as it stands in the picture", ground: pick.surround }] : []),
  ];
  return (
    <div className={classes.alone}>
      {grounds.map(({ name, ground }) => (
        <figure key={name} className={classes.ground}>
          <span className={`hued ${classes.around ?? ""}`} data-hued="patch" style={{ "--hue": ground.hex, "--hue-grey": ground.grey } as CSSProperties}>
            <span className={classes.inner}>
              <PatchView patch={pick.colour} />
            </span>
          </span>
          <figcaption>{name}</figcaption>
        </figure>
      ))}
    </div>
  );
}

function Names({ pick }: { pick: Pick }) {
  const save = useNamePick();
  const [name, setName] = useState(pick.name);
  const [area, setArea] = useState(pick.area);
  const send = () => (name !== pick.name || area !== pick.area) && save.mutate({ id: pick.id, revision: pick.revision, name, area });
  const onKey = (event: KeyboardEvent) => event.key === "Enter" && send();
  return (
    <div className={classes.names}>
      <label>
        Name
        <input className="field" value={name} maxLength={60} onChange={(event) => setName(event.currentTarget.value)} onBlur={send} onKeyDown={onKey} />
      </label>
      <label title="Colours of one part of the picture belong together: cap, gills, ground">
        Area
        <input className="field" value={area} maxLength={60} onChange={(event) => setArea(event.currentTarget.value)} onBlur={send} onKeyDown={onKey} />
      </label>
      {save.error !== null && <Failed error={save.error} />}
    </div>
  );
}

function Compared({ wanted, offer, mapped }: { wanted: Pick["colour"]; offer: PickAnswer; mapped: boolean }) {
  return (
    <div className={classes.compared}>
      <EdgeToEdge patches={[wanted, offer.offered]} height={96} />
      <p className={classes.said}>
        <strong>{inWords(offer.difference, offer.plus_minus)}</strong>
      </p>
      <Figures difference={offer.difference} rankedBy={offer.ranked_by} />
      <p className="soft">
        {mapped && "Laid into the paper's range. "}Picked, beside predicted ± {offer.plus_minus.toFixed(1)} ΔE: probably {offer.expected.toFixed(1)} apart{offer.tie ? "; as near as can be told to others marked ≈" : ""}.
      </p>
      <ScreenNote patches={[wanted, offer.offered]} />
    </div>
  );
}

function OfferList({ offers, current, used, onPick, onTake }: {
  offers: readonly PickAnswer[];
  current: PickAnswer | undefined;
  used: PickAnswer | undefined;
  onPick: (offer: PickAnswer) => void;
  onTake: () => void;
}) {
  if (offers.length === 0) return null;
  return (
    <div className={classes.offers} role="listbox" aria-label="Ways to lay it, nearest first" tabIndex={0}
      onKeyDown={listKeys(offers, current, { pick: onPick, take: onTake, back: () => document.querySelector<HTMLElement>("[data-pick][tabindex='0']")?.focus() })}>
      {offers.map((offer) => (
        <div key={offer.said} role="option" aria-selected={offer === current} title={offer.said} className={classes.offer} onClick={() => onPick(offer)}>
          <span className={classes.small}>
            <PatchView patch={offer.offered} />
          </span>
          <span className={classes.layers}>
            {offer === used && <strong>used: </strong>}
            {offer.laid.map(({ colour, pressure, layers }, i) => (
              <span key={i} className={answers.coat}>
                {i > 0 && "+ "}
                {colour.range} <code>{colour.code}</code> {pressure}
                {layers > 1 && ` × ${layers}`}
              </span>
            ))}
          </span>
          <span className={answers.figure}>
            {offer.tie ? "≈ " : ""}
            <Apart difference={offer.difference} expected={offer.expected} plusMinus={offer.plus_minus} under={answers.under} />
          </span>
        </div>
      ))}
    </div>
  );
}

function sentence(words: string): string {
  return words.charAt(0).toUpperCase() + words.slice(1);
}

function percent(share: number): string {
  return share < 0.01 ? "under 1 %" : `${Math.round(100 * share)} %`;
}
