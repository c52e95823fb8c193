import { DragDropContext, Draggable, Droppable, type DropResult } from "@hello-pangea/dnd";
import { useEffect, useRef, useState, type KeyboardEvent } from "react";
import { Link, useParams } from "react-router";
import { useSetting, type Paper } from "../../shared/queries/collection";
import { Loading } from "../../shared/ui/Loading";
import { Failed, TooLate } from "../../shared/ui/Problem";
import type { Closest } from "../../shared/vocabulary";
import { LinePanel } from "./LinePanel";
import { doubled, joined, moved, newLine, split, useEditing, type Acts, type Caret, type EditLine } from "./editing";
import { useRecipe, type Recipe } from "./queries";
import classes from "./edit.module.css";

/** A recipe's lines, to be written, moved, split, joined and doubled. */
export function EditPage() {
  const setting = useSetting();
  const id = Number(useParams()["id"]);
  if (setting === undefined) return <Loading what="the recipe" />;
  return <Opened id={id} paper={setting.paper} closest={setting.closest} />;
}

function Opened({ id, paper, closest }: { id: number; paper: Paper; closest: Closest }) {
  const { data: recipe, error, refetch } = useRecipe(id, paper.id, closest);
  if (error !== null && recipe === undefined) return <Failed error={error} />;
  if (recipe?.id !== id) return <Loading what="the recipe" />;
  return <Editor key={recipe.id} recipe={recipe} look={async () => (await refetch()).data} />;
}

function Editor({ recipe, look }: { recipe: Recipe; look: () => Promise<Recipe | undefined> }) {
  const editing = useEditing(recipe, look);
  const { draft, change } = editing;
  const { lines } = draft;
  const [current, setCurrent] = useState<string | undefined>(lines[0]?.key);
  const fields = useRef(new Map<string, HTMLTextAreaElement>());
  const [caret, setCaret] = useState<Caret | null>(null);
  useEffect(() => {
    if (caret === null) return;
    const field = fields.current.get(caret.key);
    field?.focus();
    field?.setSelectionRange(caret.at, caret.at);
  }, [caret]);
  const write = (next: readonly EditLine[], of: string) => change({ ...draft, lines: next }, of);
  const place = ([next, at]: [readonly EditLine[], Caret], of: string) => {
    write(next, `${of} ${at.key} ${next.length}`);
    setCurrent(at.key);
    setCaret(at);
  };
  const line = lines.find((each) => each.key === current) ?? lines[0];
  const at = line === undefined ? -1 : lines.indexOf(line);
  const act: Acts = {
    set: (changes) => line !== undefined && write(lines.map((each) => (each === line ? { ...each, ...changes } : each)), `set ${line.key}`),
    up: () => write(moved(lines, at, at - 1), `up ${at}`),
    down: () => write(moved(lines, at, at + 1), `down ${at}`),
    double: () => line !== undefined && place(doubled(lines, line.key), "double"),
    join: () => {
      const both = line === undefined ? null : joined(lines, line.key);
      if (both !== null) place(both, "join");
    },
    remove: () => {
      const next = lines[at + 1] ?? lines[at - 1];
      write(lines.filter((each) => each !== line), `remove ${line?.key ?? ""}`);
      if (next !== undefined) setCaret({ key: next.key, at: next.text.length });
      setCurrent(next?.key);
    },
    add: (kind) => {
      const fresh = newLine("", kind);
      place([[...lines.slice(0, at + 1), fresh, ...lines.slice(at + 1)], { key: fresh.key, at: 0 }], "add");
    },
  };
  const go = (to: EditLine | undefined, end: boolean) => {
    if (to !== undefined) setCaret({ key: to.key, at: end ? to.text.length : 0 });
  };
  const onKey = (event: KeyboardEvent<HTMLTextAreaElement>, own: EditLine) => {
    const field = event.currentTarget;
    const here = lines.indexOf(own);
    const [from, to] = [field.selectionStart, field.selectionEnd];
    const first = from === 0 && to === 0;
    const last = from === own.text.length && to === own.text.length;
    const both = first ? joined(lines, own.key) : null;
    const below = last && lines[here + 1] !== undefined ? joined(lines, lines[here + 1]?.key ?? "") : null;
    if (event.key === "Enter" && event.altKey) place(doubled(lines, own.key), "double");
    else if (event.key === "Enter") place(split(lines, own.key, from), "split");
    else if (event.key === "Backspace" && both !== null) place(both, "join");
    else if (event.key === "Delete" && below !== null) place(below, "join");
    else if (event.key === "ArrowUp" && event.altKey) act.up();
    else if (event.key === "ArrowDown" && event.altKey) act.down();
    else if (event.key === "ArrowUp" && first) go(lines[here - 1], true);
    else if (event.key === "ArrowDown" && last) go(lines[here + 1], false);
    else if (event.key.toLowerCase() === "z" && (event.ctrlKey || event.metaKey) && !event.shiftKey && editing.undoable) editing.undo();
    else return;
    event.preventDefault();
  };
  const onDrop = ({ source, destination }: DropResult) => {
    if (destination !== null) write(moved(lines, source.index, destination.index), `drag ${source.index} ${destination.index}`);
  };
  const numbers = numbered(lines);
  return (
    <div className={classes.page}>
      <div className={classes.bench}>
        <header className={classes.head}>
          <Link to={`/recipes/${recipe.id}`} className={classes.up}>
            {recipe.title}
          </Link>
          <h1>Edit its lines</h1>
          <p role="status" data-saved={!editing.dirty}>
            {editing.error !== null ? "Not kept yet" : editing.dirty ? "Being kept…" : "All kept"}
          </p>
          <div className={classes.doing}>
            <Link className="button" to={`/recipes/${recipe.id}/versions`}>
              Versions
            </Link>
            <Link className="button" data-strong to={`/recipes/${recipe.id}`}>
              Done
            </Link>
          </div>
        </header>
        {editing.late ? (
          <TooLate error={editing.error} onMine={() => void editing.keepMine()} onTheirs={() => void editing.takeTheirs()} />
        ) : (
          editing.error !== null && (
            <>
              <Failed error={editing.error} />
              <button type="button" className="button" onClick={editing.retry}>
                Try to keep it again
              </button>
            </>
          )
        )}
        <label className={classes.title}>
          <span>Title</span>
          <input className="field" value={draft.title} maxLength={200} onChange={(event) => change({ ...draft, title: event.currentTarget.value }, "title")} />
        </label>
        <DragDropContext onDragEnd={onDrop}>
          <Droppable droppableId="lines">
            {(drop) => (
              <ol ref={drop.innerRef} {...drop.droppableProps} className={classes.lines} aria-label="Lines of the recipe">
                {lines.map((each, i) => (
                  <Draggable key={each.key} draggableId={each.key} index={i}>
                    {(drag, { isDragging, isDropAnimating }) => (
                      <li
                        ref={drag.innerRef}
                        {...drag.draggableProps}
                        className={classes.line}
                        data-kind={each.kind}
                        data-current={each.key === line?.key || undefined}
                        data-dragging={isDragging || undefined}
                        data-dropping={isDropAnimating || undefined}
                      >
                        <span {...drag.dragHandleProps} className={classes.handle} aria-label={`Move line ${i + 1}`}>
                          <span aria-hidden="true">⠿</span>
                        </span>
                        <span className={classes.number}>{numbers.get(each.key)}</span>
                        <textarea
                          ref={(field) => {
                            if (field !== null) fields.current.set(each.key, field);
                            else fields.current.delete(each.key);
                          }}
                          className={classes.text}
                          rows={1}
                          value={each.text}
                          aria-label={`Line ${i + 1}, ${each.kind}`}
                          spellCheck={false}
                          maxLength={2000}
                          onFocus={() => setCurrent(each.key)}
                          onKeyDown={(event) => onKey(event, each)}
                          onChange={(event) => write(lines.map((one) => (one === each ? { ...one, text: event.currentTarget.value.replaceAll("\n", " ") } : one)), `type ${each.key}`)}
                        />
                        <Called recipe={recipe} step={each.id} />
                      </li>
                    )}
                  </Draggable>
                ))}
                {drop.placeholder}
              </ol>
            )}
          </Droppable>
        </DragDropContext>
        <p className={classes.keys}>
          <kbd>Enter</kbd> splits, <kbd>Backspace</kbd> at the start joins, <kbd>Alt ↑ ↓</kbd> moves, <kbd>Alt Enter</kbd> doubles, <kbd>Ctrl Z</kbd> takes back
        </p>
      </div>
      <LinePanel recipe={recipe} line={line} first={at <= 0} last={at === lines.length - 1} act={act} undo={editing.undoable ? editing.undo : null} />
    </div>
  );
}

/** The number of each step as the recipe counts them. */
function numbered(lines: readonly EditLine[]): ReadonlyMap<string, number> {
  return new Map(lines.filter((line) => line.kind === "step").map((line, i) => [line.key, i + 1] as const));
}

/** The colours that a line was last read to call for, by code; what is to be settled says so. */
function Called({ recipe, step }: { recipe: Recipe; step: number | null }) {
  const calls = recipe.steps.find(({ id }) => id === step)?.calls ?? [];
  const open = calls.filter((call) => call.answer === "to settle").length;
  const codes = calls.flatMap((call) => (call.colour === null ? [] : [call.colour.code]));
  return (
    <span className={classes.called}>
      {codes.map((code, i) => (
        <code key={i}>{code}</code>
      ))}
      {open > 0 && <strong>{open} to settle</strong>}
    </span>
  );
}
