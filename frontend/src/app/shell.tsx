import { useIsFetching, useIsMutating } from "@tanstack/react-query";
import { IconArchive, IconLamp2, IconShoppingBag, IconListDetails, IconPalette, IconPencil, IconPhoto } from "@tabler/icons-react";
import { lazy, Suspense, useEffect, useRef, useState } from "react";
import { NavLink, Outlet, useNavigate, useNavigation } from "react-router";
import { useCollection, useSettings, useUndo, type Context } from "../shared/queries/collection";
import { Finder } from "../shared/ui/Finder";
import { PaperPicker } from "../shared/ui/PaperPicker";
import { onlyWatches, useFollowFitting } from "../features/predicting/queries";
import { DrawingPicker } from "../features/drawings/DrawingPicker";
import { PhonesOpen } from "../features/phones/PhonePanel";
import { Tray } from "../features/tray/Tray";
import { Failed } from "../shared/ui/Problem";
import { Loading } from "../shared/ui/Loading";
import { Segments } from "../shared/ui/Segments";
import { PaperGround } from "../shared/ui/surround";
import { useTour } from "./tour/tour";
import { useMainFocus } from "./focus";
import { toggleGrey, toggleSurround, useView } from "../shared/view";
import classes from "./shell.module.css";
import { CLOSEST } from "../shared/vocabulary";
import { useKeys } from "../shared/keys";

// Fetched by those who ask for it: the first page need not wait for it.
const Help = lazy(async () => ({ default: (await import("./Help")).Help }));
const Tour = lazy(async () => ({ default: (await import("./tour/Tour")).Tour }));

const WHITE = { hex: "#ffffff", grey: "#ffffff" };

/** The frame round every station: the rail, the line of context, the station, the tray and what can be undone. */
export function Shell() {
  const busy = useIsFetching({ predicate: ({ queryKey }) => !onlyWatches(queryKey) }) + useIsMutating();
  const fitting = useFollowFitting();
  const going = useNavigation().state !== "idle";
  const { data: context, error } = useCollection();
  const paper = context?.papers.find((p) => p.id === context.paper_id);
  const station = useMainFocus();
  const walk = useTour();
  useEffect(() => {
    document.documentElement.dataset["leads"] = context?.leads ?? "code";
  }, [context?.leads]);
  return (
    <div className={classes.shell} data-busy={busy > 0 || going} data-fitting={fitting?.working ?? true}>
      <a className={classes.skip} href="#station">
        To the station
      </a>
      <Rail context={context} />
      <ContextLine context={context} />
      {context !== undefined && walk !== "over" && (
        <Suspense>
          <Tour demo={context.demo ?? false} />
        </Suspense>
      )}
      <main ref={station} className={classes.station} id="station" tabIndex={-1}>
        {error !== null && context === undefined && <Failed error={error} />}
        {context === undefined && error === null && <Loading what="the collection" />}
        {context !== undefined && (
          <PaperGround value={paper?.colour ?? WHITE}>
            <Outlet />
          </PaperGround>
        )}
      </main>
      <footer className={classes.footer}>
        {context !== undefined && <Tray paper={context.paper_id} />}
        <Fitting now={fitting} />
        <PhonesOpen />
        <LastChange context={context} />
      </footer>
    </div>
  );
}

/** How far the predictions are, while they are worked out; before the marks of a large tidy are counted, only that they are. */
function Fitting({ now }: { now: ReturnType<typeof useFollowFitting> }) {
  if (now?.working !== true) return null;
  const counted = now.total > 0;
  return (
    <span className={counted ? classes.fitting : `${classes.fitting ?? ""} ${classes.uncounted ?? ""}`}>
      <span>Predicting marks</span>
      <progress {...(counted && { max: now.total, value: now.done })} aria-label="How far the predictions are" />
      {counted && (
        <span className="mono">
          {now.done} of {now.total}
        </span>
      )}
    </span>
  );
}

function Rail({ context }: { context: Context | undefined }) {
  const stations = [
    { to: "/tidy", name: "Tidy", count: context?.owned, counted: "owned", Icon: IconPencil },
    { to: "/swatches", name: "Swatches", count: context?.waiting_marks, counted: context?.waiting_marks === 1 ? "mark waits to be read" : "marks wait to be read", Icon: IconPalette },
    { to: "/reference", name: "Reference", count: context?.drawings, counted: context?.drawings === 1 ? "drawing at work" : "drawings at work", Icon: IconPhoto },
    {
      to: "/recipes", name: "Recipes", count: context?.recipes, counted: context?.recipes === 1 ? "recipe" : "recipes",
      Icon: IconListDetails,
    },
    { to: "/bench", name: "Bench", count: context?.waiting_photos, counted: context?.waiting_photos === 1 ? "photo waits for its check" : "photos wait for their check", Icon: IconLamp2 },
    { to: "/restock", name: "Restock", count: context === undefined ? undefined : context.listed + context.strips_due, counted: "to buy, or fade tests to read again", Icon: IconShoppingBag },
  ];
  return (
    <nav className={classes.rail} aria-label="Stations">
      <img src="/icon.svg" alt="Tidy Tinder" width={36} height={36} className={classes.sign} />
      {stations.map(({ to, name, count, counted, Icon }) => (
        <NavLink key={to} to={to} className={classes.entry ?? ""}>
          <Icon size={24} stroke={1.6} aria-hidden="true" />
          <span>{name}</span>
          {count !== undefined && count > 0 && (
            <span className={classes.count}>
              {count}
              <span className="visually-hidden"> {counted}</span>
            </span>
          )}
        </NavLink>
      ))}
      <NavLink to="/collection" className={`${classes.entry ?? ""} ${classes.last ?? ""}`}>
        <IconArchive size={24} stroke={1.6} aria-hidden="true" />
        <span>Keeping</span>
      </NavLink>
    </nav>
  );
}

function ContextLine({ context }: { context: Context | undefined }) {
  // Once it was open it stays, so that it gives the focus back to whoever had it.
  const [help, setHelp] = useState<"never" | "open" | "closed">("never");
  const [choosing, setChoosing] = useState(false);
  const finder = useRef<HTMLInputElement>(null);
  const navigate = useNavigate();
  const settings = useSettings();
  const undo = useUndo();
  const { last } = useRecent(context);
  const view = useView();
  const turn = (by: number) => {
    if (context === undefined || context.papers.length < 2) return;
    const at = context.papers.findIndex((p) => p.id === context.paper_id);
    const next = context.papers[(at + by + context.papers.length) % context.papers.length];
    if (next !== undefined) settings.mutate({ paper_id: next.id });
  };
  useKeys({
    "/": () => finder.current?.select(),
    "?": () => setHelp("open"),
    "1": () => navigate("/tidy"),
    "2": () => navigate("/swatches"),
    "3": () => navigate("/reference"),
    "4": () => navigate("/recipes"),
    "5": () => navigate("/bench"),
    "6": () => navigate("/restock"),
    d: () => setChoosing(true),
    h: () => navigate("/layering"),
    "[": () => turn(-1),
    "]": () => turn(1),
    g: toggleGrey,
    s: toggleSurround,
    m: () => context && settings.mutate({ with_me: !context.with_me }),
    u: () => last && !undo.isPending && undo.mutate(last.id),
  });
  return (
    <header className={classes.top}>
      {context !== undefined && (
        <>
          <DrawingPicker
            context={context}
            opened={choosing}
            onOpened={setChoosing}
            onAll={() => void navigate("/drawings")}
            onNew={() => void navigate("/drawings?new")}
          />
          <PaperPicker
            papers={context.papers}
            chosen={context.paper_id}
            onTurn={turn}
            onChoose={(id) => settings.mutate({ paper_id: id })}
            onNew={() => void navigate("/swatches/papers?new")}
          />
          <span className={classes.setting}>
            <span className={classes.label}>closest by</span>
            <Segments
              label="Closest by"
              options={CLOSEST}
              value={CLOSEST.find((c) => c === context.closest) ?? "overall"}
              onChange={(closest) => settings.mutate({ closest })}
            />
          </span>
          {context.travel.length > 0 && (
            <button
              type="button"
              className="button"
              aria-pressed={context.with_me}
              title={`Only what is in ${context.travel.join(", ")} counts, everywhere`}
              onClick={() => settings.mutate({ with_me: !context.with_me })}
            >
              With me <kbd>m</kbd>
            </button>
          )}
        </>
      )}
      <Finder field={finder} />
      <span className={classes.views}>
        <button type="button" className="button" aria-pressed={view.grey} onClick={toggleGrey} title="All colours as greys of their lightness">
          Values <kbd>g</kbd>
        </button>
        <button
          type="button"
          className="button"
          aria-pressed={view.surround === "paper"}
          onClick={toggleSurround}
          title="What lies behind marks and patches: mid grey, or the paper's own colour"
        >
          Paper<span className={classes.behind}> behind</span> <kbd>s</kbd>
        </button>
        <button type="button" className="button" onClick={() => setHelp("open")} title="Help and keys">
          Help <kbd>?</kbd>
        </button>
      </span>
      {settings.error !== null && <Failed error={settings.error} />}
      {help !== "never" && (
        <Suspense>
          <Help opened={help === "open"} onClose={() => setHelp("closed")} demo={context?.demo ?? false} />
        </Suspense>
      )}
    </header>
  );
}

/** What was done last, and what can be undone, while this page has been open; a reload of the page keeps it. */
function useRecent(context: Context | undefined) {
  const [begun, setBegun] = useState(() => Number(sessionStorage.getItem(BEGUN) ?? NaN));
  // A restored collection may be younger than what was here before it.
  if (context !== undefined && (Number.isNaN(begun) || context.version < begun)) {
    sessionStorage.setItem(BEGUN, String(context.version));
    setBegun(context.version);
  }
  const since = <T extends { id: number }>(change: T | null | undefined) => (change && change.id > begun ? change : null);
  return { last: since(context?.last), newest: since(context?.newest) };
}

const BEGUN = "tidy-tinder-begun-at";

/** What was done or undone last, with the undo of what comes next; said aloud to a screen reader. */
function LastChange({ context }: { context: Context | undefined }) {
  const { last, newest } = useRecent(context);
  const undo = useUndo();
  return (
    <div className={classes.last_change}>
      <span role="status" className={classes.done} title={newest?.label}>
        {newest !== null && doneWords(newest)}
      </span>
      {last !== null && (
        <button type="button" className="button" title={`Undo: ${last.label}`} disabled={undo.isPending} onClick={() => undo.mutate(last.id)}>
          Undo <kbd>u</kbd>
        </button>
      )}
      {undo.error !== null && <Failed error={undo.error} />}
    </div>
  );
}

function doneWords({ label, undoing }: { label: string; undoing: boolean }): string {
  return undoing ? label.replace(/^Undo:/, "Undone:") : `Done: ${label}`;
}
