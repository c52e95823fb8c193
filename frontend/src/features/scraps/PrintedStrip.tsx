import { FIELD_WORDS, type Scrap } from "./queries";
import classes from "./PrintedStrip.module.css";

/** The strip as a sheet of paper: empty fields to be drawn in, each with what to lay, and the verdicts to tick. */
export function PrintedStrip({ scrap }: { scrap: Scrap }) {
  return (
    <section data-print className={classes.sheet} aria-hidden="true">
      <h2>
        Try on {scrap.paper_name}
        {scrap.wanted !== null && `, for ${scrap.wanted.colour.range} ${scrap.wanted.colour.code} ${scrap.wanted.colour.name}`}
      </h2>
      <div className={classes.fields}>
        {scrap.fields.map((field, i) => (
          <div key={i} className={classes.field}>
            <div className={classes.box} />
            <strong>{FIELD_WORDS[field.kind]}</strong>
            <div>{field.said}</div>
          </div>
        ))}
      </div>
      {scrap.finish === "solvent" && (
        <p>Then solvent over the layered fields; let them dry. Fresh air, no flames; its label and your local rules come first.</p>
      )}
      <p className={classes.verdicts}>
        {scrap.can_be_said.flat().map((word) => (
          <span key={word}>☐ {word}</span>
        ))}
      </p>
      <p>
        Scrap {scrap.id} · {scrap.made_on} · draw it on {scrap.paper_name} itself: on other paper it says nothing.
      </p>
    </section>
  );
}

/** The same as text, for a notebook. */
export function stripAsText(scrap: Scrap): string {
  const wanted = scrap.wanted === null ? "" : `, for ${scrap.wanted.colour.range} ${scrap.wanted.colour.code} ${scrap.wanted.colour.name}`;
  const fields = scrap.fields.map((field, i) => `${i + 1}. ${field.said} (${FIELD_WORDS[field.kind]})`);
  const solvent = scrap.finish === "solvent" ? ["Then solvent over the layered fields; let them dry."] : [];
  const verdicts = scrap.can_be_said.flat().map((word) => `[ ] ${word}`);
  return [`Try on ${scrap.paper_name}${wanted} (scrap ${scrap.id}, ${scrap.made_on})`, ...fields, ...solvent, verdicts.join("  ")].join("\n");
}
