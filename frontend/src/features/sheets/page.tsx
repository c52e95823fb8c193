import { useState } from "react";
import { Link } from "react-router";
import { Check, Choice } from "../../shared/ui/Field";
import { Loading } from "../../shared/ui/Loading";
import { Failed } from "../../shared/ui/Problem";
import { Segments } from "../../shared/ui/Segments";
import { counted } from "../../shared/words";
import { useCollection, type Context } from "../../shared/queries/collection";
import { useShelves, type Shelf } from "../../shared/queries/shelves";
import { PageDrawing } from "./PageDrawing";
import { useMakeSheet, useRemoveSheet, useSheet, useSheetCount, type SheetCount, type SheetWish } from "./queries";
import { useSheetCards, type SheetCard } from "../../shared/queries/sheets";
import classes from "./page.module.css";

/** Sheets to print, colour in and measure, and frames for papers that go through no printer. */
export function SheetsPage() {
  const { data: context } = useCollection();
  const { data: tidy } = useShelves(context?.paper_id ?? 0);
  const { data: made, error } = useSheetCards();
  if (error !== null) return <Failed error={error} />;
  if (context === undefined || tidy === undefined || made === undefined) return <Loading what="the sheets" />;
  return <Sheets context={context} shelves={tidy.shelves} sheets={made.sheets} />;
}

function Sheets({ context, shelves, sheets }: { context: Context; shelves: readonly Shelf[]; sheets: readonly SheetCard[] }) {
  const [chosen, setChosen] = useState<number | null>(null);
  const shown = sheets.find((sheet) => sheet.id === chosen) ?? sheets[0];
  return (
    <div className={`beside ${classes.page ?? ""}`}>
      <div>
        <header>
          <p>
            <Link to="/swatches">Swatches</Link> /
          </p>
          <h1>Sheets</h1>
          <p>
            Each pencil has its cell: light, medium, heavy, and a black bar that shows how it covers. Print it on the paper
            you draw on. A board or pad that goes through no printer takes a frame: printed on ordinary paper, cut out, laid
            over it.
          </p>
        </header>
        <Wish context={context} shelves={shelves} onMade={setChosen} />
        {sheets.length > 0 && (
          <section>
            <h2>Made before</h2>
            <ul className={classes.made} aria-label="Sheets that were made" data-main tabIndex={-1}>
              {sheets.map((sheet) => (
                <li key={sheet.id}>
                  <button type="button" className="button" aria-pressed={sheet === shown} data-strong={sheet === shown || undefined} onClick={() => setChosen(sheet.id)}>
                    {sheet.title}
                  </button>
                  <span className="soft">
                    {sheet.pages === 1 ? "1 page" : `${sheet.pages} pages`}, {sheet.size}, {sheet.made_on}
                  </span>
                </li>
              ))}
            </ul>
          </section>
        )}
      </div>
      <section aria-label="The sheet">
        {shown === undefined ? (
          <p>A sheet that was made is shown here, ready to be printed.</p>
        ) : (
          <Shown key={shown.id} card={shown} />
        )}
      </section>
    </div>
  );
}

const WHICH = {
  owned: "all at hand",
  unswatched: "those not swatched here",
  first: "those to swatch first here",
  tray: "the tray",
  set: "a set",
} as const;
type Which = keyof typeof WHICH;
const CELLS = { "60": "60, for a colour reader too", "90": "90", "120": "120, to save paper" } as const;

function Wish({ context, shelves, onMade }: { context: Context; shelves: readonly Shelf[]; onMade: (id: number) => void }) {
  const sets = shelves.flatMap((shelf) => shelf.sets.map((set) => [String(set.id), `${shelf.name}: ${set.name}`] as const));
  const [kind, setKind] = useState<SheetWish["kind"]>("sheet");
  const [paper, setPaper] = useState(String(context.paper_id));
  const [which, setWhich] = useState<Which>("owned");
  const [set, setSet] = useState(sets[0]?.[0] ?? "");
  const [order, setOrder] = useState<SheetWish["order"]>("chart");
  const [size, setSize] = useState<SheetWish["size"]>("A4");
  const [cells, setCells] = useState<keyof typeof CELLS>("90");
  const [layered, setLayered] = useState(false);
  const frame = kind === "frame";
  const wish: SheetWish = {
    kind, order, which, layered,
    paper_id: Number(paper),
    size: !frame && size === "A5" ? "A4" : size,
    cells: cells === "60" ? 60 : cells === "120" ? 120 : 90,
    set_id: which === "set" && set !== "" ? Number(set) : null,
  };
  const { data: count, error } = useSheetCount(wish);
  const make = useMakeSheet();
  const options = Object.entries(WHICH).filter(([key]) => key !== "set" || sets.length > 0) as [Which, string][];
  return (
    <form
      className="form"
      onSubmit={(event) => {
        event.preventDefault();
        make.mutate(wish, { onSuccess: ({ id }) => onMade(id) });
      }}
    >
      <div data-wide>
        <Segments label="Kind" options={["sheet", "frame"] as const} words={{ sheet: "a sheet", frame: "a frame" }} value={kind} onChange={setKind} />
      </div>
      <Choice label={frame ? "Laid over" : "Printed on"} value={paper} options={context.papers.map((p) => [String(p.id), p.name] as const)} onChange={setPaper} />
      <Choice label="Which pencils" value={which} options={options} onChange={setWhich} />
      {which === "set" && <Choice label="Set" value={set} options={sets} onChange={setSet} />}
      <Choice label="In order of" value={order} options={[["chart", "the chart"], ["tin", "the tin"], ["value", "value, light to dark"]]} onChange={setOrder} />
      <Choice label="Page" value={wish.size} options={frame ? [["A4", "A4"], ["Letter", "Letter"], ["A5", "A5, a small pad"]] : [["A4", "A4"], ["Letter", "Letter"]]} onChange={setSize} />
      {!frame && <Choice label="Cells a page" value={cells} options={Object.entries(CELLS) as [keyof typeof CELLS, string][]} onChange={setCells} />}
      <div data-wide className={classes.layered}>
        {count?.takes_layers === false ? (
          <p className="soft">This paper takes fewer than three layers: none of them is asked for in three.</p>
        ) : (
          <>
            <Check label="four of them in three layers, too" value={layered} onChange={setLayered} />
            <p className="soft">
              {count?.known_in_layers === 0 && "No mark of several layers is measured on this paper yet. "}
              They stand last, and tell how wax takes to wax here: what is laid in several layers is then predicted nearer, layers of one pencil most.
            </p>
          </>
        )}
      </div>
      <button type="submit" className="button" data-strong disabled={make.isPending || !count?.pencils}>
        {frame ? "Make this frame" : "Make this sheet"}
      </button>
      <p role="status">
        {count !== undefined && said(count)}
        {layered && count?.takes_layers === true && count.pencils > 0 && count.in_layers === 0 && " All of them that are modelled are measured in layers already."}
        {count?.pencils === 0 && (
          <>
            {which === "first" && " Those to swatch first are swatched here already, or none is at hand."} Choose others, or{" "}
            <Link to="/tidy">say in the tidy</Link> which you own.
          </>
        )}
      </p>
      <p data-wide className={classes.cards}>
        To be kept, not measured:{" "}
        <a className="button" href={`/api/sheets/palette-card?${asQuery(wish)}`} download>
          A blank palette card of these
        </a>
        <a className="button" href={`/api/sheets/practice?size=${wish.size}`} download title="Every two of the tray, in both orders: 2 to 12 pencils">
          Pairs of the tray to practise
        </a>
      </p>
      <div data-wide>
        {error !== null && <Failed error={error} />}
        {make.error !== null && <Failed error={make.error} />}
      </div>
    </form>
  );
}

/** A wish as the parameters of an address. */
function asQuery(wish: SheetWish): string {
  const known = Object.entries(wish).filter(([, value]) => value !== null);
  return new URLSearchParams(known.map(([key, value]) => [key, String(value)])).toString();
}

function said({ pencils, in_layers, pages }: SheetCount): string {
  if (pencils === 0) return "No pencil is left for it.";
  const layered = in_layers === 0 ? "" : `, ${in_layers} of them in layers, too,`;
  return `${counted(pencils, "pencil")}${layered} on ${counted(pages, "page")}.`;
}

function Shown({ card }: { card: SheetCard }) {
  const { data: sheet, error } = useSheet(card.id);
  const remove = useRemoveSheet();
  const [at, setAt] = useState(0);
  if (error !== null) return <Failed error={error} />;
  if (sheet === undefined) return <Loading what="the sheet" />;
  const page = sheet.pages[at] ?? sheet.pages[0];
  return (
    <>
      <div className="row">
        <a className="button" data-strong href={`/api/sheets/${card.id}/pdf`} download>
          Print: PDF
        </a>
        <Link className="button" data-strong to={`/swatches/sheets/${card.id}/photos`}>
          Photos of it
        </Link>
        <a className="button" href={`/api/sheets/${card.id}/layout`} download>
          Its layout: JSON
        </a>
        <button type="button" className="button" disabled={remove.isPending} onClick={() => remove.mutate(card.id)}>
          Forget it
        </button>
        {sheet.pages.length > 1 && (
          <span className="row">
            <button type="button" className="button" disabled={at === 0} onClick={() => setAt(at - 1)}>
              Page before
            </button>
            {at + 1} of {sheet.pages.length}
            <button type="button" className="button" disabled={at + 1 === sheet.pages.length} onClick={() => setAt(at + 1)}>
              Next page
            </button>
          </span>
        )}
      </div>
      {remove.error !== null && <Failed error={remove.error} />}
      <p className="soft">
        Print at 100 %, not fitted to the page. Coloured in, photograph it: every cell is measured. A colour reader does
        it <Link to={`/swatches/begin?paper=${card.paper_id}`}>one by one</Link>, more exactly.
        {card.kind === "frame" && " Cut the windows on a mat along a metal rule, the blade away from your hand, and cap it afterwards; what is written on the knife comes first."}
      </p>
      {page && (
        <div className={classes.drawing}>
          <PageDrawing page={page} title={card.title} />
        </div>
      )}
    </>
  );
}
