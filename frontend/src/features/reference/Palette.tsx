import { useNavigate } from "react-router";
import type { Context } from "../../shared/queries/collection";
import { EdgeToEdge, inWords } from "../../shared/ui/Comparison";
import { Failed } from "../../shared/ui/Problem";
import { usePutInTray } from "../tray/queries";
import { usePalette, type PaletteRow } from "./paletteQueries";
import type { Pick, Reference } from "./queries";
import { askedFor, type Wish } from "./wish";
import classes from "./Palette.module.css";

/** All colours of the picture with what is laid for each, in the drawing's order of work; and what becomes of them. */
export function Palette({ reference, context, wish, chosen, onChoose }: {
  reference: Reference;
  context: Context;
  wish: Wish;
  chosen: Pick | undefined;
  onChoose: (id: number) => void;
}) {
  const { data, error } = usePalette(reference, context, wish);
  const tray = usePutInTray();
  const navigate = useNavigate();
  if (error !== null) return <Failed error={error} />;
  if (data === undefined) return <p role="status">Working out the palette …</p>;
  const query = askedFor(context, wish);
  const file = (what: string) => `/api/references/${reference.card.id}/${what}`;
  const pencils = [...new Set(data.rows.flatMap((row) => row.way?.laid.map((one) => one.colour.id) ?? []))];
  const open = data.rows.filter((row) => row.way === null).length;
  return (
    <section className={classes.palette} aria-label="Palette">
      <p>
        {counted(data.rows.length, "colour", "colours")} on {data.paper_name}, {data.order}
        {open > 0 && `; ${open} open`}: {counted(pencils.length, "pencil", "pencils")} in all.
      </p>
      {!data.ready && (
        <p role="status">
          Layered pairs are being worked out{data.total > 0 && `: ${data.done} of ${data.total}`}; single pencils so far.
        </p>
      )}
      <div className="row">
        <button type="button" className="button" data-strong disabled={!data.ready || pencils.length === 0} onClick={() => void navigate(`/recipes/new?picture=${reference.card.id}&${query}`)}>
          Write it as a recipe
        </button>
        <button type="button" className="button" disabled={pencils.length === 0} onClick={() => tray.mutate({ colour_ids: pencils, into: true })}>
          All into the tray
        </button>
      </div>
      {data.ready && data.rows.length > 0 && (
        <p className={classes.prints}>
          To print:{" "}
          <a href={`${file("palette/pdf")}?${query}`} download>
            palette card
          </a>
          ,{" "}
          <a href={`${file("palette/png")}?${query}`} download>
            the same as a picture
          </a>
          ,{" "}
          <a href={file("patches")} download>
            large patches
          </a>. For drawing programs:{" "}
          <a href={`${file("palette/gpl")}?${query}`} download>
            GIMP palette
          </a>
        </p>
      )}
      {tray.error !== null && <Failed error={tray.error} />}
      <ul className={classes.rows}>
        {data.rows.map((row) => (
          <li key={row.pick_id}>
            <button type="button" className={classes.row} aria-pressed={row.pick_id === chosen?.id} onClick={() => onChoose(row.pick_id)}>
              <strong>{row.number}</strong>
              <span className={classes.patches}>
                <EdgeToEdge patches={row.way === null ? [row.wanted] : [row.wanted, row.way.offered]} height={44} />
              </span>
              <Words row={row} />
            </button>
          </li>
        ))}
      </ul>
      <p className="soft">Left: the picture’s colour. Right: what is laid for it, as predicted.</p>
    </section>
  );
}

function Words({ row }: { row: PaletteRow }) {
  return (
    <span className={classes.words}>
      <span>
        {row.area !== "" && <span className="soft">{row.area}: </span>}
        <strong>{row.called}</strong>
      </span>
      {row.way === null ? (
        <span>
          <strong>Open.</strong> {row.why_open}
        </span>
      ) : (
        row.way.laid.map(({ colour, pressure, layers }, i) => (
          <span key={i}>
            {i > 0 && "then "}
            {colour.range} <code>{colour.code}</code> {colour.name}, {pressure}
            {layers > 1 && ` × ${layers}`}
            {row.places[i] !== undefined && row.places[i] !== "" && <span className="soft"> · {row.places[i]}</span>}
          </span>
        ))
      )}
      {row.way !== null && (
        <span className="soft">
          {inWords(row.way.difference, row.way.plus_minus)}, probably {row.way.expected.toFixed(1)} ΔE
          {row.chosen && "; chosen by you"}
        </span>
      )}
    </span>
  );
}

function counted(count: number, one: string, many: string): string {
  return `${count} ${count === 1 ? one : many}`;
}
