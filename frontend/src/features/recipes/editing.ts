import { useEffect, useEffectEvent, useState } from "react";
import { asProblem } from "../../api/errors";
import type { Purpose, StepKind } from "../../shared/vocabulary";
import { useWriteLines } from "./editQueries";
import type { Recipe } from "./queries";

/** A line while it is edited. key: what it is known by on this page; id: of the step that it is, null until it is kept;
 * copy_of: of the step that it doubles. */
export interface EditLine {
  key: string;
  id: number | null;
  copy_of: number | null;
  text: string;
  kind: StepKind;
  purpose: Purpose | "";
  waits: boolean;
}

export interface Draft {
  title: string;
  lines: readonly EditLine[];
}

/** What the browser keeps of an edit: of which text it is, so that another collection's recipe of this number is not. */
interface Kept extends Draft {
  revision: number;
  source: string;
}

/** Where the caret goes after a change: into a line, so many letters in. */
export interface Caret {
  key: string;
  at: number;
}

/** What can be done with the line at hand. */
export interface Acts {
  set: (changes: Partial<Pick<EditLine, "kind" | "purpose" | "waits">>) => void;
  up: () => void;
  down: () => void;
  double: () => void;
  join: () => void;
  remove: () => void;
  add: (kind: EditLine["kind"]) => void;
}

let fresh = 0;

/** A new line, known by a key of its own. */
export function newLine(text: string, kind: StepKind = "step"): EditLine {
  fresh += 1;
  return { key: `new ${fresh} ${Date.now()}`, id: null, copy_of: null, text, kind, purpose: "", waits: false };
}

/** The lines of a recipe as they are kept. */
export function draftOf(recipe: Recipe): Draft {
  const lines = recipe.steps.map((step) => ({
    key: `step ${step.id}`, id: step.id, copy_of: null, text: step.text, kind: step.kind, purpose: step.said_purpose, waits: step.said_waits,
  }));
  return { title: recipe.title, lines };
}

/** One line split in two at the caret; what stands behind it becomes a step of its own. */
export function split(lines: readonly EditLine[], key: string, at: number): [readonly EditLine[], Caret] {
  const below = lines.find((line) => line.key === key);
  if (below === undefined) return [lines, { key, at }];
  const next = newLine(below.text.slice(at).trimStart());
  const parted = lines.flatMap((line) => (line.key === key ? [{ ...line, text: line.text.slice(0, at).trimEnd() }, next] : [line]));
  return [parted, { key: next.key, at: 0 }];
}

/** A line joined to the one above it. */
export function joined(lines: readonly EditLine[], key: string): [readonly EditLine[], Caret] | null {
  const at = lines.findIndex((line) => line.key === key);
  const [above, line] = [lines[at - 1], lines[at]];
  if (above === undefined || line === undefined) return null;
  const apart = above.text === "" || line.text === "" ? "" : /[,;.→]$/.test(above.text) ? " " : ", ";
  const both = { ...above, text: above.text + apart + line.text, kind: above.text === "" ? line.kind : above.kind };
  const left = lines.flatMap((each) => (each === above ? [both] : each === line ? [] : [each]));
  return [left, { key: above.key, at: above.text.length + apart.length }];
}

/** A line moved to another place. */
export function moved(lines: readonly EditLine[], from: number, to: number): readonly EditLine[] {
  const line = lines[from];
  if (line === undefined || to < 0 || to >= lines.length) return lines;
  const left = lines.filter((each) => each !== line);
  return [...left.slice(0, to), line, ...left.slice(to)];
}

/** A line doubled below itself. */
export function doubled(lines: readonly EditLine[], key: string): [readonly EditLine[], Caret] {
  const line = lines.find((each) => each.key === key);
  if (line === undefined) return [lines, { key, at: 0 }];
  const copy = { ...newLine(line.text, line.kind), copy_of: line.id, purpose: line.purpose, waits: line.waits };
  return [lines.flatMap((each) => (each === line ? [each, copy] : [each])), { key: copy.key, at: copy.text.length }];
}

// So long after the last letter the lines are sent; the browser keeps each letter at once.
const QUIET_MS = 600;

/** The lines of a recipe while they are edited: kept by the browser with each letter and by the server when the hand
 * rests, so that neither a reload nor a crash loses any of it. */
export function useEditing(recipe: Recipe, look: () => Promise<Recipe | undefined>) {
  const store = `tidy-tinder-recipe-edit-${recipe.id}`;
  const [kept] = useState(() => read(store, recipe.source_text));
  const [draft, setDraft] = useState<Draft>(() => kept ?? draftOf(recipe));
  const [revision, setRevision] = useState(kept?.revision ?? recipe.revision);
  const [dirty, setDirty] = useState(kept !== null);
  const [past, setPast] = useState<readonly { draft: Draft; of: string }[]>([]);
  const write = useWriteLines(recipe.id);
  const late = write.error !== null && typeof asProblem(write.error).revision === "number";
  const keep = (next: Draft, at: number) => {
    // What failed is tried again with the next letter; what came too late waits for her to decide.
    if (write.isError && !late) write.reset();
    setDraft(next);
    setDirty(true);
    localStorage.setItem(store, JSON.stringify({ ...next, revision: at, source: recipe.source_text } satisfies Kept));
  };
  const asTheyAre = (theirs: Recipe) => {
    localStorage.removeItem(store);
    setDraft(draftOf(theirs));
    setRevision(theirs.revision);
    setPast([]);
    setDirty(false);
  };
  /** Change it; of: what is changed, so that letters typed into one line are taken back together. */
  const change = (next: Draft, of: string) => {
    if (past.at(-1)?.of !== of) setPast([...past.slice(-MOST_PAST), { draft, of }]);
    keep(next, revision);
  };
  const undo = () => {
    const last = past.at(-1);
    if (last === undefined) return;
    setPast(past.slice(0, -1));
    keep(last.draft, revision);
  };
  const onWritten = useEffectEvent((sent: Draft, ids: ReadonlyMap<string, number>, at: number) => {
    const named = (lines: readonly EditLine[]) => lines.map((line) => ({ ...line, ...(ids.has(line.key) && { id: ids.get(line.key) ?? null, copy_of: null }) }));
    setRevision(at);
    setPast(past.map((one) => ({ ...one, draft: { ...one.draft, lines: named(one.draft.lines) } })));
    if (draft !== sent) {
      keep({ ...draft, lines: named(draft.lines) }, at);
      return;
    }
    localStorage.removeItem(store);
    setDraft({ ...draft, lines: named(draft.lines) });
    setDirty(false);
  });
  const send = useEffectEvent(() => {
    if (write.isPending || write.isError) return;
    const lines = draft.lines.filter((line) => line.text.trim() !== "");
    const body = lines.map(({ text, kind, id, copy_of, purpose, waits }) => ({ text, kind, id, copy_of, purpose, waits }));
    write.mutate(
      { revision, title: draft.title, lines: body },
      { onSuccess: (written) => onWritten(draft, new Map(lines.flatMap((line, i) => keyed(line, written.step_ids[i]))), written.revision) },
    );
  });
  useEffect(() => {
    if (!dirty) return;
    const soon = setTimeout(send, QUIET_MS);
    return () => clearTimeout(soon);
  }, [draft, dirty, write.isPending, write.isError]);
  // What another window, an advice or an undo has changed shows here, where nothing waits to be sent.
  if (!dirty && !write.isPending && recipe.revision > revision) asTheyAre(recipe);
  // “Cap:” was typed as a step and is kept as a heading.
  const kinds = new Map(recipe.steps.map((step) => [step.id, step.kind] as const));
  const asKept = (line: EditLine) => (line.id === null ? line.kind : (kinds.get(line.id) ?? line.kind));
  if (!dirty && recipe.revision === revision && draft.lines.some((line) => asKept(line) !== line.kind)) {
    setDraft({ ...draft, lines: draft.lines.map((line) => ({ ...line, kind: asKept(line) })) });
  }

  const keepMine = async () => {
    // Lines that are gone there are lines of mine, and new ones.
    const theirs = (await look()) ?? recipe;
    const known = new Set(theirs.steps.map((step) => step.id));
    const lines = draft.lines.map((line) => (line.id !== null && known.has(line.id) ? line : { ...line, id: null }));
    setRevision(theirs.revision);
    keep({ ...draft, lines }, theirs.revision);
    write.reset();
  };
  const takeTheirs = async () => {
    const theirs = (await look()) ?? recipe;
    write.reset();
    asTheyAre(theirs);
  };
  return { draft, change, undo, undoable: past.length > 0, dirty, error: write.error, late, retry: () => write.reset(), keepMine, takeTheirs };
}

// Changes that can be taken back on the page; after that the undo of the collection goes on.
const MOST_PAST = 200;

function keyed(line: EditLine, id: number | undefined): [string, number][] {
  return id === undefined ? [] : [[line.key, id]];
}

/** What the browser kept of an edit of this text that was not sent. */
function read(store: string, source: string): Kept | null {
  const text = localStorage.getItem(store);
  if (text === null) return null;
  try {
    const kept = JSON.parse(text) as Kept;
    return kept.source === source ? kept : null;
  } catch {
    return null;
  }
}
