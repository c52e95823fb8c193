import { inWords, PatchView } from "../../shared/ui/Comparison";
import type { Layered, LayeredOffer } from "./queries";
import classes from "./BuildUp.module.css";

/** The passage after each layer, as asked and with the stand-in, the first layer at the left; and with neither. */
export function BuildUp({ asked, offer, without }: { asked: Layered["asked_after"]; offer: LayeredOffer; without: Layered["without"] }) {
  if (asked.length < 2 && offer.after.length < 2) return null;
  return (
    <figure className={classes.build} aria-label="The passage after each layer">
      <figcaption>layer by layer</figcaption>
      <Strip name="asked" patches={asked} />
      <Strip name="with this" patches={offer.after} />
      {without !== null && (
        <>
          <Strip name="left out" patches={[without.finished]} />
          <p className={classes.note}>
            Left out altogether: {inWords(without.difference)} (ΔE {without.difference.delta_e.toFixed(1)}).
          </p>
        </>
      )}
    </figure>
  );
}

function Strip({ name, patches }: { name: string; patches: Layered["asked_after"] }) {
  return (
    <div className={classes.strip}>
      <span className={classes.name}>{name}</span>
      <div className={classes.patches} role="img" aria-label={`${name}: L* ${patches.map((p) => (p.lab[0] ?? 0).toFixed(0)).join(", ")}`}>
        {patches.map((patch, i) => (
          <PatchView key={i} patch={patch} />
        ))}
      </div>
    </div>
  );
}
