import { useState } from "react";
import { useView } from "../../shared/view";
import { useSearchParams } from "react-router";
import type { Context } from "../../shared/queries/collection";
import { useKeys } from "../../shared/keys";
import { Failed } from "../../shared/ui/Problem";
import { Segments } from "../../shared/ui/Segments";
import { HeldPick, HeldZone } from "./HeldUp";
import { Ladder } from "./Ladder";
import { LightBox } from "./LightBox";
import { Looking, NEXT_GRID, NEXT_SQUINT, NEXT_ZONES, START, type Look } from "./Looking";
import { Palette } from "./Palette";
import { PickPanel } from "./PickPanel";
import { Picture } from "./Picture";
import { Reach } from "./Reach";
import { SectionsPanel } from "./SectionsPanel";
import { source } from "./source";
import { StepsBar } from "./StepsBar";
import { useSections } from "./sectionsQueries";
import { NO_WISH, type Wish } from "./wish";
import { useMainColours, usePicksStep, useZones, type Pick, type Reference } from "./queries";
import classes from "./page.module.css";

const MAIN_COLOURS = 12;
const SIDES = ["colour", "palette", "sections"] as const;
const SIDE_WORDS = { colour: "This colour", palette: "Palette", sections: "Sections" };
type Beside = (typeof SIDES)[number];

/** One picture with its views and picks, and the chosen pick alone with its answers. */
export function Desk({ reference, context }: { reference: Reference; context: Context }) {
  const [asked, ask] = useSearchParams();
  const [look, setLook] = useState<Look>(START);
  const [selected, select] = useState<readonly number[]>([]);
  const [count, setCount] = useState(MAIN_COLOURS);
  const [turned, turn] = useState(false);
  const [beside, setBeside] = useState<Beside>("colour");
  const [whole, setWhole] = useState<"held" | "light" | number | null>(null);
  const [wish, setWish] = useState<Wish>(NO_WISH);
  const { grey } = useView();
  const zones = useZones(reference, context.paper_id, look.zones, look.fitted, look.borders);
  const find = useMainColours(reference.card.id);
  const step = usePicksStep();
  const { data: parted } = useSections(reference.drawing_id);
  const sections = beside === "sections" ? (parted?.sections ?? []) : [];
  const ready = reference.card.state === "ready";
  const chosen = reference.picks.find((pick) => String(pick.id) === asked.get("pick")) ?? reference.picks[0];
  const choose = (id: number) => ask({ picture: String(reference.card.id), pick: String(id) }, { replace: true });
  const of = selected.filter((id) => reference.picks.some((pick) => pick.id === id));
  const meant = of.length > 0 ? of : chosen === undefined ? [] : [chosen.id];
  const act = (what: "drop" | "merge") => {
    if (meant.length > (what === "merge" ? 1 : 0)) step.mutate({ ids: meant, step: what }, { onSuccess: () => select([]) });
  };
  const seen = {
    grey,
    borders: look.zones > 0 ? (zones.data?.zones.slice(0, -1).map((zone) => zone.high) ?? null) : null,
    marked: turned ? chosen : undefined,
    drawing: context.drawing,
    sections: sections.length > 0 ? (parted?.version ?? null) : null,
  };
  const src = source(reference, look, seen);
  const toggle = (side: Beside) => setBeside(beside === side ? "colour" : side);
  useKeys({
    a: () => toggle("palette"),
    e: () => toggle("sections"),
    v: () => chosen && setWhole("held"),
    l: () => ready && setWhole("light"),
    q: () => setLook({ ...look, squint: NEXT_SQUINT(look.squint) }),
    z: () => setLook({ ...look, zones: NEXT_ZONES(look.zones), borders: null }),
    w: () => setLook({ ...look, warmCool: !look.warmCool }),
    r: () => setLook({ ...look, grid: NEXT_GRID(look.grid) }),
    R: () => setLook({ ...look, upsideDown: !look.upsideDown }),
    i: () => turn(!turned),
    k: () => ready && !find.isPending && find.mutate(count),
    Delete: () => act("drop"),
    j: () => act("merge"),
  });
  return (
    <div className={classes.desk}>
      <div className={classes.left}>
        {ready && (
          <>
            <Looking reference={reference.card.id} look={look} onLook={setLook} zones={zones.data?.zones ?? []} onHold={setWhole} />
            {zones.error !== null && <Failed error={zones.error} />}
            <Picture reference={reference} look={look} src={src} sections={sections} chosen={chosen} onChoose={choose} />
            <StepsBar key={reference.revision} reference={reference} drawing={context.drawing} />
          </>
        )}
        <div className={classes.finding}>
          {ready && (
            <>
              <button type="button" className="button" data-strong={reference.picks.length === 0 || undefined} disabled={find.isPending} onClick={() => find.mutate(count)}>
                {find.isPending ? "Looking …" : `Find ${count} main colours`} <kbd>k</kbd>
              </button>
              <label className={classes.count}>
                <span className="visually-hidden">How many main colours</span>
                <input type="range" min={4} max={16} value={count} onChange={(event) => setCount(Number(event.currentTarget.value))} />
              </label>
            </>
          )}
          {ready && (
            <button type="button" className="button" onClick={() => setWhole("light")} title="The picture at the drawing's true size, to trace it through thin paper">
              Light box <kbd>l</kbd>
            </button>
          )}
          {chosen !== undefined && (
            <>
              <button type="button" className="button" aria-pressed={turned} onClick={() => turn(!turned)} title="Hatch where the chosen colour is in the picture">
                Where it is <kbd>i</kbd>
              </button>
              <button type="button" className="button" onClick={() => setWhole("held")} title="The colour over the whole window, to lay a swatch on the glass">
                Hold up <kbd>v</kbd>
              </button>
              <button type="button" className="button" disabled={meant.length < 2} onClick={() => act("merge")} title="Make one of the colours that are marked with space">
                Merge <kbd>j</kbd>
              </button>
              <button type="button" className="button" disabled={meant.length === 0} onClick={() => act("drop")}>
                Drop <kbd>Del</kbd>
              </button>
            </>
          )}
        </div>
        {[find, step].map((one, i) => one.error !== null && <Failed key={i} error={one.error} />)}
        <Ladder picks={reference.picks} chosen={chosen} selected={of} onChoose={choose} onSelect={(id) => select(toggled(of, id))} />
      </div>
      <div className={classes.right}>
        {reference.picks.length > 0 && <Reach reference={reference} paper={context.paper_id} />}
        <Segments label="What is shown beside the picture" options={SIDES} words={SIDE_WORDS} value={beside} onChange={setBeside} />
        {beside === "palette" && reference.picks.length > 0 && <Palette reference={reference} context={context} wish={wish} chosen={chosen} onChoose={choose} />}
        {beside === "sections" && <SectionsPanel reference={reference} />}
        {(beside === "colour" || (beside === "palette" && reference.picks.length === 0)) && (
          <Side pick={chosen} context={context} wish={wish} onWish={setWish} going={step.isPending || find.isPending} />
        )}
      </div>
      {whole === "held" && chosen !== undefined && (
        <HeldPick picks={reference.picks} pick={chosen} context={context} wish={wish} onChoose={choose} onClose={() => setWhole(null)} />
      )}
      {typeof whole === "number" && <HeldZone zones={zones.data?.zones ?? []} at={whole} onGo={setWhole} onClose={() => setWhole(null)} />}
      {whole === "light" && context.drawing !== null && (
        <LightBox src={src} shown={{ width: reference.shown_width, height: reference.shown_height }} drawing={context.drawing} onClose={() => setWhole(null)} />
      )}
    </div>
  );
}

function Side({ pick, context, wish, onWish, going }: {
  pick: Pick | undefined;
  context: Context;
  wish: Wish;
  onWish: (wish: Wish) => void;
  going: boolean;
}) {
  if (pick !== undefined) return <PickPanel key={pick.id} pick={pick} context={context} wish={wish} onWish={onWish} going={going} />;
  return (
    <div className={classes.hint}>
      <h2>No colour picked yet</h2>
      <p>
        <kbd>k</kbd> finds the main colours: the darkest, the lightest, the body of the picture and its small accents. Or move
        the loupe over the picture and press the mouse or <kbd>Enter</kbd>; <kbd>+</kbd> and <kbd>−</kbd> widen and narrow it.
      </p>
      <p>Each colour is then shown alone, because a colour among others fools the eye, and answered by what you own.</p>
    </div>
  );
}

function toggled(ids: readonly number[], id: number): number[] {
  return ids.includes(id) ? ids.filter((one) => one !== id) : [...ids, id];
}
