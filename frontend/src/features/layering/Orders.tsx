import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { EdgeToEdge, Figures, inWords, PatchView, ScreenNote } from "../../shared/ui/Comparison";
import type { Paper } from "../../shared/queries/collection";
import { asLayers, type Layer } from "../../shared/layers";
import type { LaidOut, Order } from "./queries";
import { roomWords, seenWords } from "../../shared/words";
import classes from "./Orders.module.css";

/** Both orders edge to edge on the paper, what each is made of layer by layer, and how they part. */
export function Orders({ out, paper, solvent, onTry, onOrder }: {
  out: LaidOut;
  paper: Paper;
  solvent: boolean;
  onTry: () => void;
  onOrder: (layers: readonly Layer[]) => void;
}) {
  const [first, second, ...others] = out.orders;
  return (
    <>
      {out.warnings.map((warning) => (
        <p key={warning} className="caution">
          <strong>Mind:</strong> {warning}
        </p>
      ))}
      {out.problem !== "" && <p role="alert">{out.problem}</p>}
      {!out.ready && <p role="status">The marks of your pencils are still being predicted; the layers come then.</p>}
      {first !== undefined && (
        <>
          <figure className={classes.pair}>
            <EdgeToEdge patches={second === undefined ? [first.result.patch] : [first.result.patch, second.result.patch]} height={210} />
            <div className={classes.both}>
              <OneOrder name={second === undefined ? "as laid" : "this order"} order={first} ground={out.ground} solvent={solvent} />
              {second !== undefined && <OneOrder name="the other way round" order={second} ground={out.ground} solvent={solvent} />}
            </div>
            <ScreenNote patches={out.orders.slice(0, 2).map(({ result }) => result.patch)} />
          </figure>
          {out.apart !== null && <Apart out={out} />}
          {others.length > 0 && <Others orders={others} onOrder={onOrder} />}
          <p>{roomWords(out.passes_left, paper.name)}</p>
          <Teaching out={out} paper={paper} />
          <div className="row">
            <button type="button" className="button" data-strong onClick={onTry}>
              Try on scrap <kbd>t</kbd>
            </button>
            {second !== undefined && (
              <button type="button" className="button" onClick={() => onOrder(asLayers(second.laid))}>
                Turn round <kbd>r</kbd>
              </button>
            )}
          </div>
        </>
      )}
    </>
  );
}

/** Which marks that make layers surer are still to be read, in one line: the buttons below it stay in sight. */
function Teaching({ out, paper }: { out: LaidOut; paper: Paper }) {
  const begin = `/swatches/begin?paper=${paper.id}`;
  const layered = <Link to={`${begin}&layered=yes`}>{out.none_over_black ? "four" : "Four"} pencils in three layers</Link>;
  const black = <Link to={`${begin}&black=yes`}>{out.none_layered ? "eight" : "Eight pencils"} over a black bar</Link>;
  if (out.none_layered && out.none_over_black) {
    return (
      <p className="soft">
        Not read yet, and layers are predicted nearer by them: {layered} on {paper.name}, and {black}.
      </p>
    );
  }
  if (out.none_layered) {
    return (
      <p className="soft">
        Nothing in several layers is measured on {paper.name} yet. {layered} tell how wax takes to wax there.
      </p>
    );
  }
  if (!out.none_over_black) return null;
  return (
    <p className="soft">
      No mark over black is read yet. {black} tell how much yours cover: layers are predicted nearer.
    </p>
  );
}

function OneOrder({ name, order, ground, solvent }: { name: string; order: Order; ground: Schemas["PatchOut"]; solvent: boolean }) {
  const steps = solvent ? [...order.after, order.result] : order.after;
  return (
    <section className={classes.order} aria-label={name}>
      <h2>{name}</h2>
      <p>{order.said}{solvent && ", then solvent"}</p>
      <p className="soft">
        {seenWords(order.result)} · L* a* b* {order.result.patch.lab.map((v) => v.toFixed(0).replace("-", "−")).join("  ")}
      </p>
      <ol className={classes.steps} aria-label={`${name}, layer by layer`}>
        <li>
          <span className={classes.step}>
            <PatchView patch={ground} />
          </span>
          paper
        </li>
        {steps.map((seen, i) => (
          <li key={i} title={seenWords(seen)}>
            <span className={classes.step}>
              <PatchView patch={seen.patch} />
            </span>
            {order.laid[i]?.colour.code ?? "solvent"}
            <span className="visually-hidden">, {seenWords(seen)}</span>
          </li>
        ))}
      </ol>
    </section>
  );
}

/** How the second order differs from the first, and whether that is more than the prediction may be off. */
function Apart({ out }: { out: LaidOut }) {
  if (out.apart === null) return null;
  return (
    <section className={classes.apart} aria-live="polite">
      <h2>The other way round: {inWords(out.apart)}</h2>
      <p>{sureWords(out.apart.delta_e, out.plus_minus)}</p>
      <Figures difference={out.apart} />
    </section>
  );
}

/** Whether the step from one order to the other is more than it may be off. */
function sureWords(apart: number, off: number | null): string {
  if (off === null) return "Both orders were measured.";
  return apart > off
    ? `That is more than the step may be off (± ${off.toFixed(1)} ΔE): the order matters here.`
    : `The step may be off by ± ${off.toFixed(1)} ΔE, so a scrap decides.`;
}

/** The orders of three pencils beside the two that are shown large. */
function Others({ orders, onOrder }: { orders: readonly Order[]; onOrder: (layers: readonly Layer[]) => void }) {
  return (
    <section>
      <h2>Other orders</h2>
      <ul className={classes.others}>
        {orders.map((order) => (
          <li key={order.said}>
            <button type="button" className={classes.other} onClick={() => onOrder(asLayers(order.laid))}>
              <span className={classes.step}>
                <PatchView patch={order.result.patch} />
              </span>
              <span>{order.laid.map(({ colour }) => colour.code).join(", ")}</span>
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}
