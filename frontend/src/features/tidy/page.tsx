import { useSessionStorage } from "@mantine/hooks";
import { useMemo, useRef, useState } from "react";
import { Link, useNavigate } from "react-router";
import { useCursor } from "../../shared/cursor";
import { Empty } from "../../shared/ui/Empty";
import { Loading } from "../../shared/ui/Loading";
import { Failed } from "../../shared/ui/Problem";
import { useCollection, useSetting, type Paper } from "../../shared/queries/collection";
import { usePutInTray, useTray } from "../tray/queries";
import { arrange, NO_FILTER, type Filter, type Order } from "./arrange";
import { BulkBar } from "./BulkBar";
import { ColourPanel } from "./ColourPanel";
import { useAct, useOwned } from "./queries";
import { Shelves, type ShelvesHandle } from "./Shelves";
import { TickLine } from "./TickLine";
import { Toolbar } from "./Toolbar";
import classes from "./page.module.css";
import { useKeys } from "../../shared/keys";
import type { Closest } from "../../shared/vocabulary";
import { useReadyColours, useShelves, type Shelf } from "../../shared/queries/shelves";

/** Station 1: every range as a shelf of marks; what is owned is ticked here. */
export function TidyPage() {
  const setting = useSetting();
  if (setting === undefined) return <Loading what="the shelves" />;
  return <Tidy paper={setting.paper} closest={setting.closest} />;
}

function Tidy({ paper, closest }: { paper: Paper; closest: Closest }) {
  const { data: tidy, error } = useShelves(paper.id);
  if (error !== null && tidy === undefined) return <Failed error={error} />;
  if (tidy === undefined) return <Loading what="the shelves" />;
  if (tidy.shelves.length === 0) return <NoChart />;
  return <Stocked shelves={tidy.shelves} paper={paper} closest={closest} />;
}

/** The shelves in the order and with the filter that were set; both outlive a reload. */
function useArranged(shelves: readonly Shelf[], paper: Paper) {
  const [order, setOrder] = useSessionStorage<Order>({ key: "tidy-order", defaultValue: "chart", getInitialValueInEffect: false });
  const [stored, setFilter] = useSessionStorage<Filter>({ key: "tidy-filter", defaultValue: NO_FILTER, getInitialValueInEffect: false });
  const { data: context } = useCollection();
  const { data: tray } = useTray(paper.id);
  const withMe = context?.with_me ?? false;
  const filter = useMemo(() => {
    const plain = Object.entries(NO_FILTER).every(([key, value]) => stored[key as keyof Filter] === value);
    return plain ? NO_FILTER : stored;
  }, [stored]);
  const pulled = useMemo(() => new Set(tray?.pulled.map((p) => p.card.colour.id)), [tray]);
  const sections = useMemo(() => arrange(shelves, order, filter, withMe, pulled), [shelves, order, filter, withMe, pulled]);
  return { order, setOrder, filter, setFilter, sections, pulled, withMe };
}

function Stocked({ shelves, paper, closest }: { shelves: readonly Shelf[]; paper: Paper; closest: Closest }) {
  const [at, moveCursor] = useCursor("colour");
  const { order, setOrder, filter, setFilter, sections, pulled, withMe } = useArranged(shelves, paper);
  const visible = useMemo(() => sections.flatMap((s) => s.colours), [sections]);
  const known = useMemo(() => new Map(shelves.flatMap((s) => s.colours.map((c) => [c.id, c] as const))), [shelves]);
  const first = visible[0]?.id ?? null;
  const cursor = at !== null && known.has(at) ? at : first;
  // A colour that the filter hides can be asked for by the finder: then all is shown.
  const hidden = at !== null && known.has(at) && !visible.some((c) => c.id === at);
  const cards = [...known.values()];
  const unmeasured = cards.some((c) => c.owning !== "not owned") && cards.every((c) => c.card.mark.trust === "none" || c.card.mark.trust === "chart");
  const [selected, setSelected] = useState<ReadonlySet<number>>(new Set());
  const [anchor, setAnchor] = useState<number | null>(null);
  // On a phone the panel takes half the page, so it waits until a colour is touched.
  const [panel, setPanel] = useState(() => window.matchMedia("(min-width: 901px)").matches);
  const owned = useOwned();
  const act = useAct();
  const put = usePutInTray();
  const navigate = useNavigate();
  const grid = useRef<ShelvesHandle>(null);
  const codes = useRef<HTMLInputElement>(null);
  const shelf = shelves.find((s) => s.colours.some((c) => c.id === cursor)) ?? shelves[0];
  const colour = cursor === null ? undefined : known.get(cursor);

  const place = visible.findIndex((c) => c.id === cursor);
  const beside = place < 0 ? [] : [visible[place + 1], visible[place - 1]].flatMap((c) => (c === undefined ? [] : [c.id]));
  useReadyColours(panel ? cursor : null, beside, paper.id, closest);

  const between = (from: number, to: number) => {
    const places = [from, to].map((id) => visible.findIndex((c) => c.id === id)).sort((a, b) => a - b);
    return visible.slice(places[0], (places[1] ?? 0) + 1).map((c) => c.id);
  };
  const moveTo = (id: number, extend = false) => {
    if (extend && cursor !== null) {
      const from = anchor ?? cursor;
      setAnchor(from);
      setSelected(new Set(between(from, id)));
    } else {
      setAnchor(null);
    }
    moveCursor(id);
    setPanel(true);
  };
  const targets = () => (selected.size > 0 ? [...selected] : cursor === null ? [] : [cursor]);
  const clear = () => {
    setSelected(new Set());
    setAnchor(null);
  };
  const toggle = () => {
    const ids = targets();
    if (ids.length > 0) owned.mutate({ colour_ids: ids, owned: ids.some((id) => known.get(id)?.owning === "not owned") });
  };
  const lose = () => {
    const ids = targets().filter((id) => known.get(id)?.owning !== "not owned");
    const found = ids.every((id) => known.get(id)?.owning === "lost");
    if (ids.length > 0) act.mutate({ colour_ids: ids, act: found ? "found" : "lost", tin: "" });
  };
  const pull = () => {
    const ids = targets();
    if (ids.length > 0) put.mutate({ colour_ids: ids, into: ids.some((id) => !pulled.has(id)) });
  };
  const open = () => cursor !== null && navigate(`/tidy/colours/${cursor}`);
  useKeys({
    t: () => codes.current?.focus(),
    o: toggle,
    l: lose,
    p: pull,
    x: () => {
      if (cursor === null) return;
      const next = new Set(selected);
      if (!next.delete(cursor)) next.add(cursor);
      setSelected(next);
    },
  });

  return (
    <div className={classes.page} data-panel={(panel && cursor !== null) || undefined}>
      <h1 className="visually-hidden">Tidy</h1>
      <div className={classes.bench}>
        {shelf && <TickLine key={shelf.range_id} shelf={shelf} field={codes} onLeave={() => grid.current?.focus()} />}
        <Toolbar shelves={shelves} order={order} filter={filter} onOrder={setOrder} onFilter={setFilter} />
        {selected.size > 0 && <BulkBar ids={[...selected]} onClear={clear} />}
        {[owned, act, put].map((m, i) => m.error !== null && <Failed key={i} error={m.error} />)}
        {visible.length === 0 && <NothingShown withMe={withMe} onAll={() => setFilter(NO_FILTER)} />}
        {unmeasured && (
          <p className={classes.note}>
            None of these is measured on {paper.name} yet.{" "}
            <Link className="button" to="/swatches/sheets">
              Print a sheet
            </Link>{" "}
            Colour it in and photograph it.
          </p>
        )}
        {hidden && (
          <p className={classes.note}>
            {colour?.card.colour.name} is not among what is shown.{" "}
            <button type="button" className="button" onClick={() => setFilter(NO_FILTER)}>
              Show all
            </button>
          </p>
        )}
        <Shelves
          ref={grid}
          sections={sections}
          paper={paper.name}
          cursor={cursor}
          selected={selected}
          onMove={moveTo}
          onToggle={toggle}
          onOpen={() => void open()}
          onSelectAll={() => setSelected(new Set(visible.map((c) => c.id)))}
          onClear={clear}
        />
      </div>
      {panel && cursor !== null && (
        <ColourPanel id={cursor} paper={paper} closest={closest} onClose={() => setPanel(false)} onToggle={toggle} onGo={moveTo} />
      )}
    </div>
  );
}

function NothingShown({ withMe, onAll }: { withMe: boolean; onAll: () => void }) {
  return (
    <div className={classes.note}>
      <p>
        <strong>Nothing here fits what is asked for.</strong> {withMe && "Only what is with you today is shown (m)."}
      </p>
      <button type="button" className="button" onClick={onAll}>
        Show all
      </button>
    </div>
  );
}

function NoChart() {
  return (
    <Empty title="No pencils here yet">
      <p>
        The tidy shows every range as a shelf of marks: what each pencil leaves on your paper. A tin is measured in one
        evening, with no device but a phone:
      </p>
      <ol className={classes.evening}>
        <li>Write down what is on the tin, or paste any list of its colours.</li>
        <li>Print a sheet on the paper you draw on; a frame, where your paper goes through no printer.</li>
        <li>Colour it in: light, medium, heavy.</li>
        <li>Photograph it. Every cell is measured, and you look it through before it is kept.</li>
      </ol>
      <div className="row">
        <Link className="button" data-strong to="/tidy/write">
          Write down what is on the tin
        </Link>
        <Link className="button" to="/tidy/catalogue">
          Bring in a catalogue (CSV)
        </Link>
        <Link className="button" to="/collection">
          Restore a backup
        </Link>
      </div>
      <p>To look round first, start the demo: “make demo”, or “tidy-tinder serve --demo”.</p>
    </Empty>
  );
}
