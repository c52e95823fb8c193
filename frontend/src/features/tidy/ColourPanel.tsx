import { Link } from "react-router";
import { Barrel } from "../../shared/ui/Barrel";
import { Comparison, Figures, inWords } from "../../shared/ui/Comparison";
import { beyondScreen, Mark, trustWords } from "../../shared/ui/Mark";
import { Failed } from "../../shared/ui/Problem";
import { Loading } from "../../shared/ui/Loading";
import type { Paper } from "../../shared/queries/collection";
import { WhyButton } from "../predicting/Why";
import { usePutInTray } from "../tray/queries";
import { PencilLine } from "./PencilForm";
import { useAct, useAddPencil } from "./queries";
import { ratedForLight, sentence } from "../../shared/words";
import classes from "./ColourPanel.module.css";
import type { Closest } from "../../shared/vocabulary";
import { useColour, type ColourPage } from "../../shared/queries/shelves";

interface Props {
  id: number;
  paper: Paper;
  closest: Closest;
  onClose: () => void;
  onToggle: () => void;
  onGo: (id: number) => void;
}

/** All about one colour, at the right of the shelves. */
export function ColourPanel({ id, paper, closest, onClose, onToggle, onGo }: Props) {
  const { data: page, error } = useColour(id, paper.id, closest);
  return (
    <aside className={`side-panel ${classes.panel ?? ""}`} aria-label="The colour at the cursor">
      {error !== null && <Failed error={error} />}
      {page === undefined && error === null && <Loading what="the colour" />}
      {page !== undefined && (
        <>
          <Title page={page} onClose={onClose} onToggle={onToggle} />
          <Mark mark={page.mark} seed={page.colour.id} height={92} ring={10} />
          <p className={classes.trust}>{[trustWords(page.mark, paper.name), beyondScreen(page.mark)].filter(Boolean).join("; ")}</p>
          {page.colour.effect !== "ordinary" && (
            <p className={classes.trust}>A {page.colour.effect} pencil: how it looks is not modelled, so it is not predicted or ranked.</p>
          )}
          <WhyButton colour={page.colour.id} paper={paper.id} mark={page.mark} keyed />
          <Facts page={page} />
          <section>
            <h3>On your papers</h3>
            {page.papers
              .filter((p) => p.mark.trust === "measured" || p.mark.trust === "predicted")
              .map((p) => (
                <div key={p.paper_id} className={classes.paper}>
                  <Mark mark={p.mark} seed={page.colour.id} height={24} />
                  <span title={trustWords(p.mark, p.paper_name)}>{p.paper_name}</span>
                </div>
              ))}
            {page.papers.every((p) => p.mark.trust !== "measured") && (
              <p>{page.mark.trust === "predicted" ? "Swatched on no paper: all of these are predicted." : "Not swatched on any paper yet: what is shown is its chart value."}</p>
            )}
            {page.papers.every((p) => p.mark.trust !== "measured") && (
              <p>
                <Link to={`/tidy/colours/${page.colour.id}`}>Type in a value</Link>, or read one with{" "}
                <Link to="/swatches/begin">a swatching session</Link>.
              </p>
            )}
          </section>
          <Nearest page={page} onGo={onGo} />
          <CalledBy page={page} />
          {page.sister_ids.map((sister) => (
            <button key={sister} type="button" className="button" onClick={() => onGo(sister)}>
              Same code in the sister range: another pencil
            </button>
          ))}
        </>
      )}
    </aside>
  );
}

function Title({ page, onClose, onToggle }: { page: ColourPage; onClose: () => void; onToggle: () => void }) {
  const owned = page.owning !== "not owned";
  const add = useAddPencil();
  const act = useAct();
  const put = usePutInTray();
  const ids = [page.colour.id];
  return (
    <header>
      <div className={classes.title}>
        <Barrel owning={page.owning} size={28} />
        <h2>{page.colour.name}</h2>
        <button type="button" className={classes.close} onClick={onClose} aria-label="Close the panel">
          ×
        </button>
      </div>
      <p>
        <code>
          {page.colour.range} {page.colour.code}
        </code>{" "}
        · {page.owning}
        {page.colour.effect !== "ordinary" && ` · ${page.colour.effect}`} ·{" "}
        <Link to={`/tidy/colours/${page.colour.id}`}>all about it</Link>
      </p>
      {page.pencils.map((pencil) => (
        <PencilLine key={pencil.id} pencil={pencil} />
      ))}
      <div className={classes.acts}>
        <button type="button" className="button" onClick={onToggle}>
          {owned ? "I own it no more" : "I own it"} <kbd>o</kbd>
        </button>
        {owned && (
          <>
            <button
              type="button"
              className="button"
              onClick={() => act.mutate({ colour_ids: ids, act: page.owning === "lost" ? "found" : "lost", tin: "" })}
            >
              {page.owning === "lost" ? "Found" : "Lost"} <kbd>l</kbd>
            </button>
            <button type="button" className="button" onClick={() => add.mutate(page.colour.id)}>
              One more
            </button>
          </>
        )}
        <button type="button" className="button" onClick={() => put.mutate({ colour_ids: ids, into: !page.in_tray })}>
          {page.in_tray ? "Out of the tray" : "Into the tray"} <kbd>p</kbd>
        </button>
      </div>
      {[add, act, put].map((m, i) => m.error !== null && <Failed key={i} error={m.error} />)}
    </header>
  );
}

function lightHint({ tested, lightfastness }: ColourPage["colour"]): string {
  if (tested === "") return "Lightfastness, as the chart prints it; in most charts I is best";
  return `Lightfastness by your own fade test, I is best; ${lightfastness === "" ? "the chart says nothing" : `the chart says ${lightfastness}`}`;
}

function Facts({ page }: { page: ColourPage }) {
  const lab = page.patch?.lab.map((v) => Math.round(v)).join("  ").replaceAll("-", "−");
  const facts: [string, string, string][] = [
    [page.value?.toFixed(1) ?? "–", "value", "Munsell value: 0 is black, 10 is white"],
    [lab ?? "–", "L* a* b*", `Lightness, red–green, yellow–blue (${page.shown_as})`],
    [measuredOpacity(page) || page.colour.opacity || "–", "covers", opacityHint(page)],
    [ratedForLight(page.colour) || "–", page.colour.tested === "" ? "lightfast" : "lightfast, own test", lightHint(page.colour)],
  ];
  return (
    <dl className={classes.facts}>
      {facts.map(([value, name, hint]) => (
        <div key={name} title={hint}>
          <dt>{name}</dt>
          <dd>{value}</dd>
        </div>
      ))}
    </dl>
  );
}

/** The class from an opacity test goes before the chart's. */
function measuredOpacity(page: ColourPage): string {
  return page.opacity.find((o) => o.test.opacity !== null)?.test.opacity ?? "";
}

function opacityHint(page: ColourPage): string {
  const test = page.opacity[0];
  if (test === undefined) return "How much it hides what lies below, by the chart; not tested over black yet";
  const ratio = `contrast ratio ${test.test.contrast_ratio.toFixed(2)} on ${test.paper_name}`;
  return test.test.opacity === null ? `By the chart: too dark to tell by its ${ratio}` : `Measured${test.by_photo ? " by photo" : ""}: ${ratio}`;
}

/** Why nothing is near, and what to do about it. */
function nothingNear(left: ColourPage["nearest"]["left_out"][number] | undefined): string {
  if (left === undefined) return "Nothing to compare with yet: tick what you own.";
  return left.about_wanted ? `${sentence(left.reason)}.` : `Of your pencils, ${left.count}: ${left.reason}. Swatch this colour, or give its chart a value.`;
}

function Nearest({ page, onGo }: { page: ColourPage; onGo: (id: number) => void }) {
  const offer = page.nearest.on_paper[0] ?? page.nearest.by_chart[0];
  return (
    <section>
      <h3>Nearest you own</h3>
      {offer === undefined ? (
        <p>{nothingNear(page.nearest.left_out[0])}</p>
      ) : (
        <>
          <Comparison wanted={offer.wanted} offered={offer.offered} height={72} />
          <p>
            <button type="button" className={classes.link} onClick={() => onGo(offer.colour.id)}>
              <code>
                {offer.colour.range} {offer.colour.code}
              </code>{" "}
              <strong>{offer.colour.name}</strong>
            </button>
          </p>
          <p>{inWords(offer.difference, offer.plus_minus)}</p>
          <p className={classes.basis}>{basisWords(offer)}</p>
          <Figures difference={offer.difference} rankedBy={offer.ranked_by} />
          <p>
            <Link to={`/standins/${page.colour.id}`}>One pencil or two layered</Link>
          </p>
        </>
      )}
    </section>
  );
}

/** What a comparison rests on, and how far it may be off. */
function basisWords(offer: ColourPage["nearest"]["on_paper"][number]): string {
  if (offer.basis.startsWith("by chart")) return offer.basis;
  return `heavy, ${offer.basis}${offer.plus_minus === null ? "" : `, ± ${offer.plus_minus.toFixed(1)} ΔE: probably ${offer.expected.toFixed(1)} apart`}`;
}

function CalledBy({ page }: { page: ColourPage }) {
  if (page.called_by.length === 0) return null;
  return (
    <section>
      <h3>Called by</h3>
      <ul className={classes.list}>
        {page.called_by.map((recipe) => (
          <li key={recipe.recipe_id}>
            <Link to={`/recipes/${recipe.recipe_id}`}>{recipe.title}</Link>, step{recipe.steps.length > 1 && "s"}{" "}
            {recipe.steps.join(", ")}
          </li>
        ))}
      </ul>
    </section>
  );
}
