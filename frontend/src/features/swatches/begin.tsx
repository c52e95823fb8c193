import { useState } from "react";
import { Link, useLocation, useNavigate, useSearchParams } from "react-router";
import { Check, Choice, Field } from "../../shared/ui/Field";
import { Loading } from "../../shared/ui/Loading";
import { SolventCaution } from "../../shared/ui/Cautions";
import { Failed } from "../../shared/ui/Problem";
import { ColourFinder } from "../../shared/ui/Finder";
import { useCollection, type Context } from "../../shared/queries/collection";
import { useBegin, useCount, type SessionPlan } from "./queries";
import { useShelves, type Shelf } from "../../shared/queries/shelves";
import { MARK_PRESSURES, MOST_LAYERS } from "../../shared/vocabulary";
import { counted } from "../../shared/words";
import classes from "./begin.module.css";

type Which = "owned" | "tray" | "set" | "chosen";
type Finish = "dry" | "burnished" | "solvent" | "wet";

/** What a swatching session shall read. */
export function BeginPage() {
  const { data: context } = useCollection();
  const { data: tidy } = useShelves(context?.paper_id ?? 0);
  if (context === undefined || tidy === undefined) return <Loading what="the form" />;
  return <Begin context={context} shelves={tidy.shelves} />;
}

function chosenIn(state: unknown): number[] {
  if (typeof state !== "object" || state === null || !("colours" in state) || !Array.isArray(state.colours)) return [];
  return state.colours.filter((id) => typeof id === "number");
}

function Begin({ context, shelves }: { context: Context; shelves: readonly Shelf[] }) {
  const [search] = useSearchParams();
  const chosen = chosenIn(useLocation().state);
  // Who comes from layers wants what tells of these alone.
  const forLayers = search.has("layered") || search.has("black");
  const sets = shelves.flatMap((shelf) => shelf.sets.map((set) => [String(set.id), set.name] as const));
  const [paper, setPaper] = useState(search.get("paper") ?? String(context.paper_id));
  const [which, setWhich] = useState<Which>(chosen.length > 0 ? "chosen" : "owned");
  const [range, setRange] = useState(search.get("range") ?? "");
  const [set, setSet] = useState(sets[0]?.[0] ?? "");
  const [pressures, setPressures] = useState<readonly string[]>(forLayers ? [] : MARK_PRESSURES);
  const [black, setBlack] = useState(false);
  const [missing, setMissing] = useState(true);
  const [layers, setLayers] = useState("1");
  const [finish, setFinish] = useState<Finish>("dry");
  const [burnisher, setBurnisher] = useState<{ id: number; name: string } | null>(null);
  const [three, setThree] = useState(false);
  const [twice, setTwice] = useState(false);
  const [few, setFew] = useState(search.has("black"));
  const [layered, setLayered] = useState(search.has("layered"));
  // What tells how wax takes to wax is laid beside single dry layers.
  const single = Number(layers) <= 1 && finish === "dry";
  const plan: SessionPlan = {
    paper_id: Number(paper),
    which,
    pressures: MARK_PRESSURES.filter((p) => pressures.includes(p)),
    over_black: black,
    only_missing: missing,
    set_id: which === "set" && set !== "" ? Number(set) : null,
    range_id: range === "" ? null : Number(range),
    colour_ids: which === "chosen" ? chosen : [],
    layers: Math.min(MOST_LAYERS, Math.max(1, Number(layers) || 1)),
    finish,
    burnisher_id: finish === "burnished" ? (burnisher?.id ?? null) : null,
    average_of: three ? 3 : 1,
    twice,
    few_over_black: few && single,
    layered: layered && single,
  };
  const { data: count } = useCount(plan);
  const begin = useBegin();
  const navigate = useNavigate();
  const options: (readonly [Which, string])[] = [
    ["owned", "all at hand"],
    ["tray", "the tray"],
    ["set", "a set"],
  ];
  if (chosen.length > 0) options.push(["chosen", `the ${chosen.length} selected`]);
  return (
    <div className="station-page">
      <header>
        <p>
          <Link to="/swatches">Swatches</Link> /
        </p>
        <h1>Begin a session</h1>
        <p>Then it runs by keyboard: put the mark under the reader, press space, and on. It can be left and taken up any day.</p>
      </header>
      <form
        className="form"
        onSubmit={(event) => {
          event.preventDefault();
          begin.mutate(plan, { onSuccess: ({ id }) => void navigate(`/swatches/${id}`) });
        }}
      >
        <Choice label="On" value={paper} options={context.papers.map((p) => [String(p.id), p.name] as const)} onChange={setPaper} />
        <Choice label="Which pencils" value={which} options={options} onChange={setWhich} />
        {which === "set" && <Choice label="Set" value={set} options={sets} onChange={setSet} />}
        <Choice
          label="Of range"
          value={range}
          options={[["", "every range"], ...shelves.map((s) => [String(s.range_id), s.name] as const)]}
          onChange={setRange}
        />
        <Field label="Layers" type="number" min={1} max={12} value={layers} onChange={setLayers} />
        <Choice
          label="Finish"
          value={finish}
          options={[["dry", "dry"], ["burnished", "burnished"], ["solvent", "solvent"], ["wet", "wet"]]}
          onChange={setFinish}
        />
        {finish === "burnished" && (
          <div data-wide>
            <p>Burnished with {burnisher === null ? "which pencil?" : <strong>{burnisher.name}</strong>}</p>
            <ColourFinder
              label="Pencil to burnish with"
              placeholder="Find the burnisher"
              onPick={(c) => setBurnisher({ id: c.id, name: `${c.range} ${c.code} ${c.name}` })}
            />
          </div>
        )}
        {(finish === "solvent" || finish === "wet") && (
          <div data-wide>
            <p>Let the marks dry before they are read.</p>
            {finish === "solvent" && <SolventCaution />}
          </div>
        )}
        <div data-wide className="row">
          {MARK_PRESSURES.map((pressure) => (
            <Check
              key={pressure}
              label={pressure}
              value={pressures.includes(pressure)}
              onChange={(on) => setPressures(on ? [...pressures, pressure] : pressures.filter((p) => p !== pressure))}
            />
          ))}
          <Check label="heavy over a black bar too (opacity)" value={black} onChange={setBlack} />
          <Check label="only what is not measured yet" value={missing} onChange={setMissing} />
          <Check label="mean of three readings" value={three} onChange={setThree} />
        </div>
        <p data-wide className="soft">
          A mark over black tells how much a pencil covers.
        </p>
        <fieldset data-wide className={classes.extra}>
          <legend>A few more marks, to learn from</legend>
          <Check label="four pencils twice" value={twice} onChange={setTwice} />
          <p className="soft">
            {count?.made_twice === 0 && "No mark was made twice yet. "}
            Two makings of one mark tell how much your hand varies: every band of a prediction rests on it.
          </p>
          {single && !black && (
            <>
              <Check label="eight pencils heavy over a black bar" value={few} onChange={setFew} />
              <p className="soft">
                {count?.over_black === 0 && "No mark over black is read yet. "}
                They tell how much your pencils cover, against what their charts print: layers are predicted nearer.
              </p>
            </>
          )}
          {single && count?.takes_layers === false && (
            <p className="soft">This paper takes fewer than three layers: four pencils in three layers are not asked for.</p>
          )}
          {single && count?.takes_layers !== false && (
            <>
              <Check label="four pencils in three layers" value={layered} onChange={setLayered} />
              <p className="soft">
                {count?.layered === 0 && "No mark of several layers is measured on this paper yet. "}
                They tell how wax takes to wax here: what is laid in several layers is predicted nearer.
              </p>
            </>
          )}
          <p className="soft">They come at the end of the list.</p>
        </fieldset>
        <button type="submit" className="button" data-strong disabled={begin.isPending || count?.marks === 0}>
          Begin
        </button>
        <p role="status">
          {count !== undefined && (count.marks === 0 ? "Nothing is left to read there." : `${counted(count.marks, "mark")} to read.`)}
        </p>
        <div data-wide>{begin.error !== null && <Failed error={begin.error} />}</div>
      </form>
    </div>
  );
}
