import { memo, useEffect, useEffectEvent, useRef, useState, type CSSProperties } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { ColourName } from "../../shared/ui/ColourName";
import { EdgeToEdge } from "../../shared/ui/Comparison";
import { Loading } from "../../shared/ui/Loading";
import { Failed } from "../../shared/ui/Problem";
import { useCollection, useSettings, type Paper } from "../../shared/queries/collection";
import { SurenessBar } from "../predicting/SurenessBar";
import { ReaderPanel } from "../reader/ReaderPanel";
import { useReader } from "../reader/queries";
import { Progress } from "./Progress";
import { useClose, useMarkAct, useSession, type Act, type Item, type Session } from "./queries";
import classes from "./session.module.css";
import { useKeys } from "../../shared/keys";

/** A swatching session: the mark that is next, large; the list of all; the reader at the right. */
export function SessionPage() {
  const id = Number(useParams()["id"]);
  const { data: session, error } = useSession(id);
  const { data: context } = useCollection();
  if (error !== null) return <Failed error={error} />;
  const paper = context?.papers.find((p) => p.id === session?.card.paper_id);
  if (session?.card.id !== id || paper === undefined || context === undefined) return <Loading what="the session" />;
  return <Running key={id} session={session} paper={paper} here={context.paper_id} />;
}

function Running({ session, paper, here }: { session: Session; paper: Paper; here: number }) {
  const { items, card } = session;
  const [at, setAt] = useState<number | null>(null);
  const { data: reader } = useReader();
  const act = useMarkAct(card.id);
  const close = useClose();
  const navigate = useNavigate();
  const item = items.find((i) => i.id === at) ?? items.find((i) => i.state === "waiting") ?? items.at(-1);
  const place = item === undefined ? 0 : items.indexOf(item);
  const step = (by: number) => setAt(items[Math.max(0, Math.min(items.length - 1, place + by))]?.id ?? null);
  // What is asked, from the key on: that it is pending is known to React only a moment later.
  const asked = useRef<Act | null>(null);
  const next = useRef<Act | null>(null);
  const [answers, setAnswers] = useState(0);
  const send = (what: Act) => {
    if (item === undefined) return;
    if (asked.current !== null) {
      // What is typed meanwhile comes next. While the reader reads nothing is taken: what came of it is not seen yet, and a
      // second press would read the next mark from the place of this one.
      if (asked.current !== "reading") next.current = what;
      return;
    }
    asked.current = what;
    act.mutate(
      { act: what, item: item.id },
      {
        onSuccess: ({ outcome }) => {
          // On to the next that waits; a doubted reading or one of three stays in place.
          const next = items.slice(place + 1).find((i) => i.state === "waiting");
          setAt(outcome === "stored" || outcome === "skipped" ? (next?.id ?? item.id) : item.id);
        },
        onSettled: () => {
          asked.current = null;
          setAnswers((before) => before + 1);
        },
      },
    );
  };
  const sendNext = useEffectEvent(() => {
    const what = next.current;
    next.current = null;
    if (what !== null) send(what);
  });
  useEffect(() => sendNext(), [answers]);
  useKeys({
    " ": () => send("reading"),
    k: () => item?.doubt && send("keep"),
    a: () => send("again"),
    x: () => send("skip"),
    ArrowDown: () => step(1),
    ArrowUp: () => step(-1),
  });
  const counts = {
    ...card,
    read: items.filter((i) => i.state === "read").length,
    skipped: items.filter((i) => i.state === "skipped").length,
  };
  // The marks of the tidy and the tray are those of the session's paper; the artist may still turn to another.
  const settings = useSettings();
  const turnTo = useEffectEvent(() => {
    if (here !== paper.id) settings.mutate({ paper_id: paper.id });
  });
  useEffect(() => turnTo(), []);
  const left = items.filter((i) => i.state === "waiting").length;
  const failure = act.error ?? close.error;
  return (
    <div className="split">
      <div className={classes.main}>
        <header className="row">
          <p>
            <Link to="/swatches">Swatches</Link> /
          </p>
          <h1>{paper.name}</h1>
          <Progress session={counts} />
          <button
            type="button"
            className="button"
            onClick={() => close.mutate(card.id, { onSuccess: () => void navigate("/swatches") })}
          >
            {left === 0 ? "Done" : "Close the session"}
          </button>
        </header>
        {item !== undefined && <Next item={item} session={session} last={items[place - 1]} left={left} />}
        {failure !== null && <Failed error={failure} />}
        <div className="row">
          <button type="button" className="button" data-strong disabled={act.isPending || !reader?.connected} onClick={() => send("reading")}>
            Read <kbd>space</kbd>
          </button>
          {item?.doubt && (
            <button type="button" className="button" onClick={() => send("keep")}>
              Keep it all the same <kbd>k</kbd>
            </button>
          )}
          <button type="button" className="button" onClick={() => send("again")}>
            Read again <kbd>a</kbd>
          </button>
          <button type="button" className="button" onClick={() => send("skip")}>
            Leave out <kbd>x</kbd>
          </button>
          {!reader?.connected && (
            <span>
              <strong>No reader is connected.</strong> Connect one, or try the simulated one, under <em>Colour reader</em>. Without
              one, type values in: <kbd>Enter</kbd> on a colour in the tidy, <em>Type in a value</em>.
            </span>
          )}
        </div>
        <SurenessBar paper={paper.id} name={paper.name} />
        <List items={items} at={item?.id ?? null} onGo={setAt} />
      </div>
      <ReaderPanel paper={paper} />
    </div>
  );
}

function what(item: Item): string {
  const layers = item.layers > 1 ? `, ${item.layers} layers` : "";
  return `${item.pressure}${layers}${item.over === "black" ? " over the black bar" : ""}`;
}

/** The mark that is next, readable from arm's length. */
function Next({ item, session, last, left }: { item: Item; session: Session; last: Item | undefined; left: number }) {
  if (left === 0 && item.state !== "waiting") {
    return (
      <section className={classes.next} aria-live="polite">
        <p className={classes.big}>All marks are read or left out.</p>
        <p>
          They stand on the board, on each colour's page, and in the stand-ins. How several pencils build up over one another no
          swatch tells: <Link to="/scraps">strips worth making</Link> do.
        </p>
      </section>
    );
  }
  const finish = session.finish !== "dry" ? `, ${session.finish}` : "";
  return (
    <section className={classes.next} aria-live="polite" data-doubt={item.doubt !== "" || undefined}>
      <div className={classes.words}>
        <p>Put under the reader</p>
        <p className={classes.big}>
          <code>
            {item.colour.range} {item.colour.code}
          </code>{" "}
          {item.colour.name}
        </p>
        <p className={classes.big}>
          {what(item)}
          {finish}
        </p>
        {session.average_of > 1 && (
          <p>
            reading {Math.min(item.readings + 1, session.average_of)} of {session.average_of}
          </p>
        )}
        {item.doubt !== "" && (
          <p role="alert" className={classes.doubt}>
            <strong>⚠ {item.doubt}</strong> Read it again, or keep it all the same.
          </p>
        )}
      </div>
      <div className={classes.seen}>
        {item.reading && (
          <>
            <EdgeToEdge patches={[item.reading]} height={72} />
            <p className="soft">{item.state === "read" ? "measured before" : "just read, not kept yet"}</p>
          </>
        )}
        {!item.reading && last?.reading && (
          <>
            <EdgeToEdge patches={[last.reading]} height={72} />
            <p className="soft">
              before: <ColourName colour={last.colour} /> {what(last)}, measured
            </p>
          </>
        )}
      </div>
    </section>
  );
}

const STATES: Record<string, string> = { waiting: "", read: "read", skipped: "left out" };

function List({ items, at, onGo }: { items: readonly Item[]; at: number | null; onGo: (id: number) => void }) {
  const list = useRef<HTMLOListElement>(null);
  useEffect(() => {
    list.current?.querySelector("[aria-current]")?.scrollIntoView({ block: "nearest" });
  }, [at]);
  return (
    <ol ref={list} className={classes.list} aria-label="All marks of this session" tabIndex={0}>
      {items.map((item) => (
        <Line key={item.id} item={item} current={item.id === at} onGo={onGo} />
      ))}
    </ol>
  );
}

/** One mark of the list; of two thousand only those that changed are drawn anew. */
const Line = memo(function Line({ item, current, onGo }: { item: Item; current: boolean; onGo: (id: number) => void }) {
  return (
    <li
      className={classes.item}
      data-current={current || undefined}
      aria-current={current || undefined}
      onClick={() => onGo(item.id)}
    >
      <span className={classes.patch}>
        {item.reading && (
          <span
            className={`hued ${classes.dot ?? ""}`}
            data-hued="patch"
            style={{ "--hue": item.reading.hex, "--hue-grey": item.reading.grey } as CSSProperties}
          />
        )}
      </span>
      <ColourName colour={item.colour} />
      <span>{what(item)}</span>
      <strong>{item.doubt !== "" ? "doubted" : STATES[item.state]}</strong>
    </li>
  );
});
