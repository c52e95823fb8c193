import { useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { Barrel } from "../../shared/ui/Barrel";
import { ColourName } from "../../shared/ui/ColourName";
import { inWords, PatchView } from "../../shared/ui/Comparison";
import { Loading } from "../../shared/ui/Loading";
import { Mark, trustWords } from "../../shared/ui/Mark";
import { Failed } from "../../shared/ui/Problem";
import { WhyButton } from "../predicting/Why";
import { Neutralisers } from "../standins/Neutralisers";
import { useSetting, type Paper } from "../../shared/queries/collection";
import { ChartForm } from "./ChartForm";
import { PencilLine } from "./PencilForm";
import { useKin, useRemoveColour, useRemoveSwatch, type Kin, type Relation } from "./queries";
import { TypedForm } from "./TypedForm";
import classes from "./colour.module.css";
import { useKeys } from "../../shared/keys";
import type { Closest } from "../../shared/vocabulary";
import { useColour, type ColourPage } from "../../shared/queries/shelves";

/** All about one colour: its mark on every paper, twins, grades, neighbours, recipes, history, its chart. */
export function FullColourPage() {
  const id = Number(useParams()["id"]);
  const setting = useSetting();
  if (setting === undefined) return <Loading what="the colour" />;
  return <Opened key={id} id={id} paper={setting.paper} closest={setting.closest} />;
}

function Opened({ id, paper, closest }: { id: number; paper: Paper; closest: Closest }) {
  const { data: page, error } = useColour(id, paper.id, closest);
  const { data: kin } = useKin(id, paper.id);
  const navigate = useNavigate();
  useKeys({ Escape: () => navigate(`/tidy?colour=${id}`) });
  if (error !== null) return <Failed error={error} />;
  if (page?.colour.id !== id) return <Loading what="the colour" />;
  return (
    <div className="station-page">
      <header>
        <p>
          <Link to={`/tidy?colour=${id}`}>Tidy</Link> / {page.colour.maker} {page.colour.range}
        </p>
        <div className="row">
          <Barrel owning={page.owning} size={30} />
          <h1>
            <ColourName colour={page.colour} />
          </h1>
          <span>{page.owning}</span>
        </div>
        {page.pencils.map((pencil) => (
          <PencilLine key={pencil.id} pencil={pencil} />
        ))}
      </header>
      <Papers page={page} />
      <Layers page={page} paper={paper} />
      {kin === undefined ? <Loading what="its relatives" lines={3} /> : <Kinship page={page} kin={kin} />}
      <History page={page} kin={kin} paper={paper} />
      <Chart page={page} />
    </div>
  );
}

function PaperMark({ page, mark, name, words }: { page: ColourPage; mark: ColourPage["mark"]; name: string; words: string }) {
  return (
    <figure className={classes.paper}>
      <Mark mark={mark} seed={page.colour.id} height={52} ring={4} />
      <figcaption>
        <strong>{name}</strong>
        <br />
        {words}
      </figcaption>
    </figure>
  );
}

function Papers({ page }: { page: ColourPage }) {
  const swatched = page.papers.filter((p) => p.mark.trust === "measured");
  const predicted = page.papers.filter((p) => p.mark.trust === "predicted");
  const charted = page.papers.find((p) => p.mark.trust === "chart");
  return (
    <section className="section">
      <h2>On your papers</h2>
      <div className={classes.papers}>
        {[...swatched, ...predicted].map((p) => (
          <div key={p.paper_id} className={classes.known}>
            <PaperMark page={page} mark={p.mark} name={p.paper_name} words={trustWords(p.mark, "it")} />
            <WhyButton colour={page.colour.id} paper={p.paper_id} mark={p.mark} />
          </div>
        ))}
        {charted && <PaperMark page={page} mark={charted.mark} name="Printed chart" words="chart value, on white" />}
      </div>
      {page.colour.effect !== "ordinary" && (
        <p className="soft">A {page.colour.effect} pencil: how it looks is not modelled, so it is not predicted or ranked.</p>
      )}
      {swatched.length + predicted.length < page.papers.length && (
        <p className="soft">
          Not known on {page.papers.filter((p) => p.mark.trust === "chart" || p.mark.trust === "none").map((p) => p.paper_name).join(", ")}.
        </p>
      )}
      {page.opacity.map((o) => (
        <p key={o.paper_name + o.pressure}>
          Covers: contrast ratio <strong className="mono">{o.test.contrast_ratio.toFixed(2)}</strong> {o.pressure} on {o.paper_name},{" "}
          <strong>{o.test.opacity ?? "too dark for the ratio to tell"}</strong>
          {page.colour.opacity !== "" && ` (the chart says ${page.colour.opacity})`}
        </p>
      ))}
      {page.opacity.length === 0 && (
        <p className="soft">
          Covers: {page.colour.opacity || "unknown"} by the chart. A heavy mark over a black bar would measure it.
        </p>
      )}
    </section>
  );
}

/** What stands in for it, and what it can be laid under. */
function Layers({ page, paper }: { page: ColourPage; paper: Paper }) {
  return (
    <section className="section">
      <h2>Layers</h2>
      <div className="row">
        <Link className="button" to={`/standins/${page.colour.id}`}>
          Stand-ins, one pencil or two
        </Link>
      </div>
      <Neutralisers colour={page.colour.id} paper={paper.id} name={page.colour.name} />
    </section>
  );
}

function Kinship({ page, kin }: { page: ColourPage; kin: Kin }) {
  const here = kin.twins.filter((t) => t.compared !== "by chart");
  const charted = kin.twins.filter((t) => t.compared === "by chart");
  return (
    <>
      <section className="section">
        <h2>Near twins</h2>
        {kin.twins.length === 0 && <p>No other colour is within 5 ΔE of it.</p>}
        <Twins title={`Measured heavy on this paper`} twins={here} />
        <Twins title="By chart, not on this paper" twins={charted} />
      </section>
      <section className="section">
        <h2>Neighbours</h2>
        {kin.neighbours.length === 0 && <p>No neighbour is known by the same kind of mark.</p>}
        <Relations of={kin.neighbours} />
      </section>
      {kin.family.length > 0 && (
        <section className="section">
          <h2>Grades of it</h2>
          <Relations of={kin.family} />
        </section>
      )}
      {kin.sisters.length > 0 && (
        <section className="section">
          <h2>Same code in a sister range</h2>
          <p className="soft">Another pencil, kept apart: it is not counted as owned with this one.</p>
          <Relations of={kin.sisters} />
        </section>
      )}
      <section className="section">
        <h2>Called by</h2>
        {page.called_by.length === 0 && <p>No recipe here calls it.</p>}
        {page.called_by.map((recipe) => (
          <p key={recipe.recipe_id}>
            <Link to={`/recipes/${recipe.recipe_id}`}>{recipe.title}</Link>, step{recipe.steps.length > 1 && "s"} {recipe.steps.join(", ")}
          </p>
        ))}
      </section>
    </>
  );
}

function Twins({ title, twins }: { title: string; twins: Kin["twins"] }) {
  if (twins.length === 0) return null;
  return (
    <>
      <h3>{title}</h3>
      <ul className={classes.list}>
        {twins.map((twin) => (
          <li key={twin.relation.colour.id} className={classes.relation}>
            <RelationHead of={twin.relation} />
            <span className={classes.figure} title="Colour difference CIEDE2000">
              ΔE {twin.relation.difference?.delta_e.toFixed(1)}
            </span>
            <span>
              {twin.relation.difference && inWords(twin.relation.difference)}
              <br />
              <span className="soft">
                {twin.parts === "by chart"
                  ? "swatch both to see what parts them"
                  : twin.kinds === 1
                    ? "known together by this mark only"
                    : `parted most ${twin.parts}: ΔE ${twin.parting.delta_e.toFixed(1)}, ${inWords(twin.parting)}`}
              </span>
            </span>
          </li>
        ))}
      </ul>
    </>
  );
}

function Relations({ of }: { of: readonly Relation[] }) {
  return (
    <ul className={classes.list}>
      {of.map((relation) => (
        <li key={relation.colour.id} className={classes.relation}>
          <RelationHead of={relation} />
          <span className={classes.figure}>{relation.difference && `ΔE ${relation.difference.delta_e.toFixed(1)}`}</span>
          <span>
            {relation.words}
            {relation.difference && <span className="soft"> ({inWords(relation.difference)})</span>}
          </span>
        </li>
      ))}
    </ul>
  );
}

function RelationHead({ of }: { of: Relation }) {
  return (
    <>
      <Barrel owning={of.owning} />
      <span className={classes.mark}>
        <Mark mark={of.mark} seed={of.colour.id} height={24} />
      </span>
      <Link to={`/tidy/colours/${of.colour.id}`}>
        <ColourName colour={of.colour} range />
        <span className="visually-hidden">, {of.owning}</span>
      </Link>
    </>
  );
}

function History({ page, kin, paper }: { page: ColourPage; kin: Kin | undefined; paper: Paper }) {
  const [typing, setTyping] = useState(false);
  const remove = useRemoveSwatch();
  const history = kin?.history ?? [];
  return (
    <section className="section">
      <h2>Its swatches</h2>
      {history.length === 0 && <p>None yet.</p>}
      {history.length > 0 && (
        <div className={classes.scroll}>
          <table className="table">
            <thead>
              <tr>
                {["", "paper", "mark", "L* a* b*", "how", "when", ""].map((head, i) => (
                  <th key={i} scope="col">
                    {head || <span className="visually-hidden">{i === 0 ? "colour" : "remove"}</span>}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {history.map(({ row, paper_name, burnisher, colour, counts }) => (
                <tr key={row.id}>
                  <td>
                    <span className={classes.patch}>
                      <PatchView patch={colour} />
                    </span>
                  </td>
                  <td>{paper_name}</td>
                  <td>
                    {[row.pressure, row.layers > 1 && `${row.layers} layers`, row.finish !== "dry" && row.finish, burnisher && `with ${burnisher}`, row.over === "black" && "over black"]
                      .filter(Boolean)
                      .join(", ")}
                  </td>
                  <td className="mono">{colour.lab.map((v) => v.toFixed(1).replace("-", "−")).join("  ")}</td>
                  <td>
                    {row.source}
                    {row.instrument && ` (${row.instrument})`}
                    {row.doubt !== null && `, ± ${row.doubt.toFixed(1)} along each of L* a* b*`}
                    {row.averaged_of > 1 && `, mean of ${row.averaged_of}`}
                    {row.note && `: ${row.note}`}
                    {!counts && <span className="soft"> · earlier, no longer counts</span>}
                  </td>
                  <td>{row.made_on}</td>
                  <td>
                    <button type="button" className="button" onClick={() => remove.mutate(row.id)} aria-label={`Remove the swatch ${row.pressure} on ${paper_name}`}>
                      Remove
                    </button>
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
      {remove.error !== null && <Failed error={remove.error} />}
      <p>
        <button type="button" className="button" aria-expanded={typing} onClick={() => setTyping(!typing)}>
          Type in a value
        </button>
      </p>
      {typing && <TypedForm colour={page.colour.id} paper={paper} onDone={() => setTyping(false)} />}
    </section>
  );
}

function Chart({ page }: { page: ColourPage }) {
  const [open, setOpen] = useState(false);
  const navigate = useNavigate();
  const remove = useRemoveColour(() => navigate("/tidy"));
  return (
    <section className="section">
      <h2>Its chart</h2>
      <p>
        {page.chart.lab === null
          ? "The chart gives no colour value."
          : `L* a* b* ${page.chart.lab.map((v) => v.toFixed(1)).join("  ")} (${page.chart.chart_source || "chart"})`}
      </p>
      <div className="row">
        <button type="button" className="button" aria-expanded={open} onClick={() => setOpen(!open)}>
          Correct the chart
        </button>
        <button
          type="button"
          className="button"
          onClick={() => remove.mutate(page.colour.id)}
        >
          Remove from the chart
        </button>
      </div>
      {remove.error !== null && <Failed error={remove.error} />}
      {open && <ChartForm range={0} page={page} onDone={() => setOpen(false)} />}
    </section>
  );
}
