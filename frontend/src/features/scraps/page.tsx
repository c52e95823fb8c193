import { useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { SolventCaution } from "../../shared/ui/Cautions";
import { ColourName } from "../../shared/ui/ColourName";
import { Comparison, EdgeToEdge, Figures, inWords } from "../../shared/ui/Comparison";
import { useDraft } from "../../shared/ui/draft";
import { Loading } from "../../shared/ui/Loading";
import { Failed, TooLate } from "../../shared/ui/Problem";
import { useCollection, type Paper } from "../../shared/queries/collection";
import { asLayers, tablePath } from "../../shared/layers";
import { sentence, seenWords } from "../../shared/words";
import { ReaderPanel } from "../reader/ReaderPanel";
import { useReader } from "../reader/queries";
import { PrintedStrip, stripAsText } from "./PrintedStrip";
import { useJudge, useReadStrip, useRemoveScrap, useScrap, type Scrap, type StripField, FIELD_WORDS, type Verdict } from "./queries";
import { TypedLab } from "./TypedLab";
import classes from "./page.module.css";
import { useKeys } from "../../shared/keys";

/** One scrap: the strip to draw, what it is for, what it turned out like, and its readings. */
export function ScrapPage() {
  const id = Number(useParams()["id"]);
  const { data: scrap, error } = useScrap(id);
  const { data: context } = useCollection();
  if (error !== null) return <Failed error={error} />;
  const paper = context?.papers.find((p) => p.id === scrap?.paper_id);
  if (scrap?.id !== id || paper === undefined) return <Loading what="the scrap" />;
  return <Opened key={id} scrap={scrap} paper={paper} />;
}

function Opened({ scrap, paper }: { scrap: Scrap; paper: Paper }) {
  const navigate = useNavigate();
  const remove = useRemoveScrap(() => navigate("/scraps"));
  const laid = scrap.fields.find(({ kind }) => kind === "laid");
  return (
    <div className={`split ${classes.page ?? ""}`}>
      <div className="station-page">
        <header className={classes.head}>
          <p>
            <Link to="/scraps">Tried on {scrap.paper_name}</Link> / {scrap.made_on}
          </p>
          <h1>
            {sentence(scrap.said)}
            {scrap.finish === "solvent" && ", then solvent"}
          </h1>
          {scrap.wanted !== null && (
            <p>
              to stand in for{" "}
              <Link to={`/tidy/colours/${scrap.wanted.colour.id}`}>
                <ColourName colour={scrap.wanted.colour} range />
              </Link>
              , {scrap.wanted.pressure}
              {scrap.wanted.layers > 1 && `, ${scrap.wanted.layers} layers`}
            </p>
          )}
        </header>
        {scrap.finish === "solvent" && <SolventCaution />}
        <Wanted scrap={scrap} laid={laid} />
        <Verdict scrap={scrap} />
        <Strip scrap={scrap} />
        <div className="row">
          {laid !== undefined && (
            <Link className="button" to={tablePath(asLayers(laid.laid))}>
              On the layering table
            </Link>
          )}
          <button type="button" className="button" onClick={() => remove.mutate(scrap.id)}>
            Remove this scrap
          </button>
        </div>
        {remove.error !== null && <Failed error={remove.error} />}
      </div>
      <ReaderPanel paper={paper} />
      <PrintedStrip scrap={scrap} />
    </div>
  );
}

/** What is wanted and what the layers give, edge to edge, as far as both are known. */
function Wanted({ scrap, laid }: { scrap: Scrap; laid: StripField | undefined }) {
  const { wanted } = scrap;
  if (wanted?.seen == null || laid?.seen == null) return null;
  return (
    <section className={classes.wanted}>
      <Comparison wanted={wanted.seen.patch} offered={laid.seen.patch} height={120} words={[`asked, ${seenWords(wanted.seen)}`, `the layers, ${seenWords(laid.seen)}`]} />
      {scrap.apart !== null && (
        <div>
          <p className={classes.words}>{inWords(scrap.apart)}</p>
          <Figures difference={scrap.apart} />
        </div>
      )}
    </section>
  );
}

/** What the eye says of the scrap: kept at once, shown wherever these layers are offered for this colour again. */
function Verdict({ scrap }: { scrap: Scrap }) {
  const judge = useJudge(scrap.id);
  const [draft, setDraft, forget] = useDraft(`scrap-note-${scrap.id}`);
  const [writing, setWriting] = useState(draft !== "");
  const note = writing ? draft : scrap.note;
  const send = (verdict: readonly Verdict[], text: string, revision = scrap.revision) => {
    judge.mutate(
      { verdict: [...verdict], note: text, revision },
      {
        onSuccess: () => {
          setWriting(false);
          setDraft("");
          forget();
        },
      },
    );
  };
  const toggle = (group: readonly Verdict[], word: Verdict) => {
    // The next word is said of what is there now, not of what was there before the last one.
    if (judge.isPending) return;
    const [good] = scrap.can_be_said;
    const lone = good?.includes(word) === true;
    const rest = lone ? [] : scrap.verdict.filter((said) => !group.includes(said) && good?.includes(said) !== true);
    send(scrap.verdict.includes(word) ? scrap.verdict.filter((said) => said !== word) : [...rest, word], note);
  };
  return (
    <section className="section" aria-label="Verdict">
      <h2>What does the scrap say?</h2>
      <div className={classes.verdicts}>
        {scrap.can_be_said.map((group) => (
          <span key={group.join()} className={classes.group}>
            {group.map((word) => (
              <button
                key={word}
                type="button"
                className="button"
                aria-pressed={scrap.verdict.includes(word)}
                data-strong={scrap.verdict.includes(word) || undefined}
                onClick={() => toggle(group, word)}
              >
                {word}
              </button>
            ))}
          </span>
        ))}
      </div>
      <form
        className={classes.note}
        onSubmit={(event) => {
          event.preventDefault();
          send(scrap.verdict, note);
        }}
      >
        <label className={classes.grow}>
          A note
          <input
            className="field"
            maxLength={500}
            value={note}
            onChange={(event) => {
              setWriting(true);
              setDraft(event.currentTarget.value);
            }}
          />
        </label>
        <button type="submit" className="button" disabled={!writing || judge.isPending}>
          Keep the note
        </button>
      </form>
      {judge.error !== null && <TooLate error={judge.error} onMine={(revision) => send(scrap.verdict, note, revision)} onTheirs={() => setWriting(false)} />}
    </section>
  );
}

/** The fields of the strip: what to lay in each, what is expected there, and what was measured. */
function Strip({ scrap }: { scrap: Scrap }) {
  const [copied, setCopied] = useState<"" | "copied" | "refused">("");
  const { data: reader } = useReader();
  const read = useReadStrip(scrap.id);
  const print = () => window.print();
  const copy = () => {
    navigator.clipboard.writeText(stripAsText(scrap)).then(
      () => setCopied("copied"),
      () => setCopied("refused"),
    );
  };
  const readNow = (turned: boolean, keep = false) => {
    if (reader?.connected === true && !read.isPending) read.mutate({ turned, keep });
  };
  useKeys({ " ": () => readNow(false), b: () => readNow(true), p: print, y: copy });
  const doubt = read.data?.doubt ?? "";
  return (
    <section className="section">
      <div className={classes.striphead}>
        <h2>The strip</h2>
        <button type="button" className="button" onClick={print}>
          Print it <kbd>p</kbd>
        </button>
        <button type="button" className="button" onClick={copy}>
          Copy as text <kbd>y</kbd>
        </button>
        <span role="status">{copied === "copied" && "Copied."}</span>
      </div>
      {copied === "refused" && (
        <label>
          The browser did not allow copying. Select this:
          <textarea className="field" readOnly rows={8} value={stripAsText(scrap)} />
        </label>
      )}
      <p>Draw each field on a scrap of {scrap.paper_name}, about 2 cm wide. Then say above what you see, or read the last ones.</p>
      <ol className={classes.fields}>
        {scrap.fields.map((field, i) => (
          <Field key={i} field={field} scrap={scrap} connected={reader?.connected === true} onRead={() => readNow(field.kind === "turned")} />
        ))}
      </ol>
      {doubt !== "" && (
        <div role="alert" className="caution">
          <p>
            <strong>⚠ {doubt}</strong>
          </p>
          <div className="row">
            <button type="button" className="button" onClick={() => read.variables && read.mutate({ ...read.variables, keep: true })}>
              Read it and keep it all the same
            </button>
          </div>
        </div>
      )}
      {read.error !== null && <Failed error={read.error} />}
    </section>
  );
}

function Field({ field, scrap, connected, onRead }: { field: StripField; scrap: Scrap; connected: boolean; onRead: () => void }) {
  const [typing, setTyping] = useState(false);
  const readable = field.kind !== "alone";
  return (
    <li className={classes.field}>
      {field.seen === null ? <span className={classes.unknown}>not known</span> : <EdgeToEdge patches={[field.seen.patch]} height={64} />}
      <strong>{FIELD_WORDS[field.kind]}</strong>
      <span>{field.said}</span>
      {field.seen !== null && <span className="soft">{seenWords(field.seen)}</span>}
      {readable && (
        <span className="row">
          <button type="button" className="button" disabled={!connected} onClick={onRead}>
            Read <kbd>{field.kind === "laid" ? "space" : "b"}</kbd>
          </button>
          <button type="button" className="button" aria-expanded={typing} onClick={() => setTyping(!typing)}>
            Type Lab
          </button>
        </span>
      )}
      {typing && <TypedLab scrap={scrap.id} turned={field.kind === "turned"} onDone={() => setTyping(false)} />}
    </li>
  );
}
