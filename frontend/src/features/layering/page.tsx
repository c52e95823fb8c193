import { useSessionStorage } from "@mantine/hooks";
import { useEffect, useState } from "react";
import { Link, useNavigate, useSearchParams } from "react-router";
import { Loading } from "../../shared/ui/Loading";
import { Failed } from "../../shared/ui/Problem";
import { useSetting, type Paper } from "../../shared/queries/collection";
import { useBeginScrap } from "../scraps/queries";
import { useTray } from "../tray/queries";
import { asQuery, burnisherOf, read, type Layer, type OnTable } from "../../shared/layers";
import { heavier, TABLE_FINISHES, type TableFinish } from "./finishes";
import { LayerTable } from "./LayerTable";
import { Orders } from "./Orders";
import { useLayering } from "./queries";
import classes from "./page.module.css";
import { useKeys } from "../../shared/keys";
import { MOST_LAYERS, MOST_PENCILS } from "../../shared/vocabulary";


/** Two or three pencils laid over one another on the paper at hand: both orders beside each other. */
export function LayeringPage() {
  const setting = useSetting();
  if (setting === undefined) return <Loading what="the layering table" />;
  return <Table paper={setting.paper} />;
}

/** What lies on the table: in the address, and remembered for the next time the page is opened. */
function useTable(): [OnTable, (next: OnTable) => void] {
  const [query, setQuery] = useSearchParams();
  const [kept, setKept] = useSessionStorage({ key: "layering-table", defaultValue: "", getInitialValueInEffect: false });
  const asked = query.has("laid") || query.has("empty") ? query : new URLSearchParams(kept);
  const table = read(asked);
  const now = asQuery(table).toString();
  useEffect(() => setKept(now), [now, setKept]);
  return [
    table,
    (next) => {
      const address = asQuery(next);
      if (next.layers.length === 0) address.set("empty", "yes");
      setQuery(address, { replace: true });
    },
  ];
}

function Table({ paper }: { paper: Paper }) {
  const [table, lay] = useTable();
  const { layers, solvent } = table;
  const [at, setAt] = useState(0);
  const { data: out, error } = useLayering(paper.id, table);
  const { data: tray } = useTray(paper.id);
  const navigate = useNavigate();
  const begin = useBeginScrap();
  const laid = layers.filter((one) => one.pressure !== "burnish");
  const burnisher = burnisherOf(layers);
  const place = Math.min(at, Math.max(layers.length - 1, 0));
  const finish: TableFinish = solvent ? "solvent" : burnisher === undefined ? "dry" : "burnished";
  const put = (next: readonly Layer[]) => lay({ ...table, layers: next });
  const change = (i: number, part: Partial<Layer>) => put(layers.map((one, j) => (j === i ? { ...one, ...part } : one)));
  const press = (i: number, by: number) => {
    const one = layers[i];
    const next = one === undefined ? undefined : heavier(one.pressure, by);
    if (next !== undefined) change(i, { pressure: next });
  };
  const count = (i: number, by: number) => {
    const wanted = (layers[i]?.layers ?? 0) + by;
    if (wanted >= 1 && wanted <= MOST_LAYERS) change(i, { layers: wanted });
  };
  const move = (i: number, by: number) => {
    const [one, other] = [layers[i], layers[i + by]];
    if (one === undefined || other === undefined || one.pressure === "burnish" || other.pressure === "burnish") return;
    put(layers.map((layer, j) => (j === i ? other : j === i + by ? one : layer)));
    setAt(i + by);
  };
  const add = (colour_id: number) => {
    if (laid.length >= MOST_PENCILS) return;
    put([...laid, { colour_id, pressure: "medium", layers: 1 }, ...(burnisher === undefined ? [] : [burnisher])]);
    setAt(laid.length);
  };
  const turn = () => put([...laid.toReversed(), ...(burnisher === undefined ? [] : [burnisher])]);
  const finishWith = (next: TableFinish) => {
    if (laid.length === 0) return;
    // Burnished with the palest pencil of the tray that is not laid, or else the last that is.
    const pale = tray?.pulled.find(({ card }) => !laid.some((one) => one.colour_id === card.colour.id))?.card.colour.id ?? laid.at(-1)?.colour_id;
    const rubbed: Layer[] = next === "burnished" && pale !== undefined ? [{ colour_id: pale, pressure: "burnish", layers: 1 }] : [];
    lay({ layers: [...laid, ...rubbed], solvent: next === "solvent" });
  };
  const tryIt = () => {
    if (layers.length === 0 || begin.isPending) return;
    begin.mutate(
      { paper_id: paper.id, laid: [...layers], finish: solvent ? "solvent" : "dry", wanted_id: null },
      { onSuccess: ({ id }) => void navigate(`/scraps/${id}`) },
    );
  };
  useKeys({
    r: turn,
    f: () => finishWith(TABLE_FINISHES[(TABLE_FINISHES.indexOf(finish) + 1) % TABLE_FINISHES.length] ?? "dry"),
    t: tryIt,
  });
  return (
    <div className={classes.page}>
      <LayerTable
        paper={paper}
        layers={layers}
        out={out}
        at={place}
        finish={finish}
        tray={tray}
        on={{
          go: setAt,
          press,
          count,
          move,
          add,
          finish: finishWith,
          choose: change,
          remove: (i) => {
            put(layers.filter((_, j) => j !== i));
            setAt(Math.max(0, i - 1));
          },
        }}
      />
      <section className={classes.result} aria-label="Both orders">
        <header className={classes.head}>
          <h1>Layering on {paper.name}</h1>
          <p className="soft">
            <Link to="/scraps">What was tried on this paper</Link>
          </p>
        </header>
        {error !== null && <Failed error={error} />}
        {begin.error !== null && <Failed error={begin.error} />}
        {layers.length === 0 && <Nothing />}
        {layers.length > 0 && out === undefined && error === null && <Loading what="the layers" lines={4} />}
        {layers.length > 0 && out !== undefined && <Orders out={out} paper={paper} solvent={solvent} onTry={tryIt} onOrder={put} />}
      </section>
    </div>
  );
}

function Nothing() {
  return (
    <div className={classes.nothing}>
      <p>Lay two or three pencils over one another here, and see both orders before you touch the drawing.</p>
      <p>Take the first one from the tray at the left, or find any colour.</p>
    </div>
  );
}
