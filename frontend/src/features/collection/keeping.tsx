import type { Schemas } from "../../api/client";
import { useState } from "react";
import { Failed } from "../../shared/ui/Problem";
import { Loading } from "../../shared/ui/Loading";
import { Segments } from "../../shared/ui/Segments";
import { momentWords, shortMoment } from "../../shared/dates";
import { useCollection, useSettings, useUndo } from "../../shared/queries/collection";
import classes from "./keeping.module.css";
import { useAbout, useChanges, useRestore } from "./queries";

/** Backup and restore, what was changed, and how things are shown. */
export function KeepingPage() {
  const { data: context } = useCollection();
  if (context === undefined) return <Loading what="the page" />;
  return (
    <div className="station-page">
      <h1>Keeping</h1>
      <div className={classes.columns}>
        <Backup />
        <section className={classes.section}>
          <h2>How things are shown</h2>
          <Leads leads={context.leads} />
          <NumberSet key={`stub ${context.stub_mm}`} id="stub" before="A stub is shorter than" after="mm" value={context.stub_mm} min={5} max={150} onSet={(stub_mm) => ({ stub_mm })} />
          <NumberSet key={`rest ${context.rest_minutes}`} id="rest" before="At the bench propose a rest after" after="min (0: never)" value={context.rest_minutes} min={0} max={240} onSet={(rest_minutes) => ({ rest_minutes })} />
        </section>
      </div>
      <Changes />
      <About />
    </div>
  );
}

/** Which program this is, where it keeps things, and what to send along with the report of a fault. */
function About() {
  const { data: about } = useAbout();
  if (about === undefined) return <Loading what="the program" lines={2} />;
  return (
    <section className={classes.section}>
      <h2>This program</h2>
      <dl className={classes.about}>
        <dt>Version</dt>
        <dd className="mono">{about.version}</dd>
        <dt>The collection</dt>
        <dd className="mono">{about.collection}</dd>
        <dt>Copies made before an upgrade or a restore</dt>
        <dd className="mono">{about.backups}</dd>
      </dl>
      <h3>Something is wrong?</h3>
      <p className={classes.text}>
        Save this file and send it along when you tell of a fault. It holds versions, sizes, and how long answers took:
        nothing that you named, wrote, measured or drew. Nothing is sent by itself.
      </p>
      <div className="row">
        <a className="button" href="/api/diagnosis" download>
          Save the file for a report
        </a>
      </div>
    </section>
  );
}

function Backup() {
  const restore = useRestore();
  const [file, setFile] = useState<File | null>(null);
  return (
    <section className={classes.section}>
      <h2>Backup</h2>
      <p>One file holds everything: charts, pencils, papers, swatches, recipes, pictures, and what was undone.</p>
      <div className="row">
        <a className="button" data-strong href="/api/collection/backup" download>
          Back up now
        </a>
        <a className="button" href="/api/collection/json" download title="Every table with every row, pictures too, for other programs; it can be restored like a backup">
          The same as JSON
        </a>
        <a className="button" href="/api/catalogue" download>
          Charts and counts as CSV
        </a>
      </div>
      <h3>Restore</h3>
      <p>A backup, or a collection as JSON, takes the place of all that is here. What is here is backed up first, beside the collection.</p>
      <div className="row">
        <input
          type="file"
          accept=".zip,.json,application/zip,application/json"
          aria-label="Backup file"
          onChange={(event) => setFile(event.currentTarget.files?.[0] ?? null)}
        />
        <button type="button" className="button" disabled={file === null || restore.isPending} onClick={() => file && restore.mutate(file)}>
          Restore this backup
        </button>
      </div>
      {restore.isPending && <p role="status">Checking and restoring …</p>}
      {restore.error !== null && <Failed error={restore.error} />}
      {restore.data !== undefined && (
        <p role="status">
          <strong>Restored the backup of {momentWords(restore.data.made_at)}.</strong> What was here before
          is in {restore.data.safety_copy}.
        </p>
      )}
    </section>
  );
}

function Leads({ leads }: { leads: string }) {
  const settings = useSettings();
  return (
    <div className="row">
      <span>What leads</span>
      <Segments
        label="What leads"
        options={["code", "name"] as const}
        words={{ code: "codes", name: "names" }}
        value={leads === "name" ? "name" : "code"}
        onChange={(next) => settings.mutate({ leads: next })}
      />
    </div>
  );
}

/** A number that is set by Enter or the button, as words with the number in them. */
function NumberSet({ id, before, after, value, min, max, onSet }: { id: string; before: string; after: string; value: number; min: number; max: number; onSet: (value: number) => Schemas["SettingsIn"] }) {
  const [text, setText] = useState(String(value));
  const settings = useSettings();
  return (
    <form
      className="row"
      onSubmit={(event) => {
        event.preventDefault();
        settings.mutate(onSet(Number(text)));
      }}
    >
      <label htmlFor={id}>{before}</label>
      <input id={id} className={`field ${classes.short ?? ""}`} type="number" min={min} max={max} value={text} onChange={(event) => setText(event.currentTarget.value)} />
      {after}
      <button type="submit" className="button" disabled={settings.isPending}>
        Set
      </button>
      {settings.error !== null && <Failed error={settings.error} />}
    </form>
  );
}

function Changes() {
  const { data } = useChanges();
  const undo = useUndo();
  if (data === undefined) return <Loading what="the changes" lines={4} />;
  return (
    <section className={classes.section}>
      <h2>What was changed</h2>
      <p className="soft">
        {data.changes.length === 0 ? "Nothing was changed yet." : "The newest first. One that later changes rest on can only be undone after those."}
      </p>
      {undo.error !== null && <Failed error={undo.error} />}
      <ul className={classes.changes}>
        {data.changes.map((change) => (
          <li key={change.id}>
            <span className="mono">{shortMoment(change.made_at)}</span>
            <span>{change.label}</span>
            {change.undone ? (
              <span className="soft">undone</span>
            ) : (
              <button type="button" className="button" disabled={undo.isPending} onClick={() => undo.mutate(change.id)} aria-label={`Undo: ${change.label}`}>
                Undo
              </button>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}
