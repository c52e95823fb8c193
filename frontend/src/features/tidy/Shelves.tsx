import { useElementSize, useMergedRef } from "@mantine/hooks";
import { useVirtualizer } from "@tanstack/react-virtual";
import { useEffect, useEffectEvent, useImperativeHandle, useMemo, useRef, type KeyboardEvent, type MouseEvent, type Ref } from "react";
import { Barrel } from "../../shared/ui/Barrel";
import { ColourName } from "../../shared/ui/ColourName";
import { Mark, trustWords } from "../../shared/ui/Mark";
import type { Section } from "./arrange";
import classes from "./Shelves.module.css";
import type { ShelfColour } from "../../shared/queries/shelves";

const CELL = 142;
const ROW_HEIGHT = 69;
const HEAD_HEIGHT = 46;

export interface ShelvesHandle {
  focus: () => void;
}

type Row = { kind: "head"; section: Section } | { kind: "marks"; section: Section; colours: readonly ShelfColour[] };

interface Props {
  ref: Ref<ShelvesHandle>;
  sections: readonly Section[];
  paper: string;
  cursor: number | null;
  selected: ReadonlySet<number>;
  onMove: (id: number, extend: boolean) => void;
  onToggle: () => void;
  onOpen: () => void;
  onSelectAll: () => void;
  onClear: () => void;
}

/** All shelves in one grid: arrows move, space ticks; only the rows in view are in the page. */
export function Shelves({ ref, sections, paper, cursor, selected, onMove, onToggle, onOpen, onSelectAll, onClear }: Props) {
  const { ref: sized, width } = useElementSize<HTMLDivElement>();
  const scroller = useRef<HTMLDivElement>(null);
  const columns = Math.max(1, Math.floor((width - 24) / CELL));
  const cell = Math.max(1, Math.floor((width - 24) / columns));
  const rows = useMemo(() => inRows(sections, columns), [sections, columns]);
  // eslint-disable-next-line react-hooks/incompatible-library -- its functions are used here only, never passed on
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: (i) => (rows[i]?.kind === "head" ? HEAD_HEIGHT : ROW_HEIGHT),
    overscan: 6,
    initialRect: { width: 800, height: 640 },
  });
  const rowOf = (id: number) => rows.findIndex((r) => r.kind === "marks" && r.colours.some((c) => c.id === id));
  useImperativeHandle(ref, () => ({ focus: () => scroller.current?.focus() }));
  const show = useEffectEvent((id: number) => {
    const row = rowOf(id);
    // With the first row of all its heading comes into view too.
    if (row >= 0) virtual.scrollToIndex(row <= 1 ? 0 : row, { align: "auto" });
  });
  // Whatever puts the rows in another place (the cursor, the order, the width) keeps the cursor in sight.
  useEffect(() => {
    if (cursor !== null && width > 0) show(cursor);
  }, [cursor, rows, width]);
  const move = movesFrom(sections, rows, cursor);
  const inView = virtual.getVirtualItems();
  // Only what is in the page can be named as the active cell.
  const shown = cursor !== null && inView.some((item) => item.index === rowOf(cursor));
  const onKey = (event: KeyboardEvent) => {
    if (event.target !== scroller.current || event.altKey) return;
    if (event.ctrlKey || event.metaKey) {
      if (event.key !== "a") return;
      onSelectAll();
    } else if (event.key === " ") onToggle();
    else if (event.key === "Enter") onOpen();
    else if (event.key === "Escape") onClear();
    else {
      const next = move(event.key);
      if (next === undefined) return;
      onMove(next, event.shiftKey);
    }
    event.preventDefault();
  };
  return (
    <div
      ref={useMergedRef(scroller, sized)}
      className={classes.scroller}
      role="grid"
      data-main
      tabIndex={0}
      aria-label="Shelves"
      aria-multiselectable="true"
      aria-rowcount={rows.length}
      aria-colcount={columns}
      aria-activedescendant={shown ? `colour-${cursor}` : undefined}
      onKeyDown={onKey}
    >
      <div role="presentation" style={{ height: virtual.getTotalSize(), position: "relative" }}>
        {inView.map((item) => {
          const row = rows[item.index];
          if (row === undefined) return null;
          return (
            <div
              key={item.key}
              role="row"
              aria-rowindex={item.index + 1}
              className={row.kind === "head" ? classes.head : classes.row}
              style={{
                transform: `translateY(${item.start}px)`,
                // Whole pixels, so that no mark's grain begins between two.
                gridTemplateColumns: row.kind === "head" ? "minmax(0, 1fr)" : `repeat(${columns}, ${cell}px)`,
              }}
            >
              {row.kind === "head" ? (
                <Head section={row.section} />
              ) : (
                row.colours.map((colour) => (
                  <Cell
                    key={colour.id}
                    colour={colour}
                    paper={paper}
                    current={colour.id === cursor}
                    selected={selected.has(colour.id)}
                    onMove={onMove}
                    onOpen={onOpen}
                  />
                ))
              )}
            </div>
          );
        })}
      </div>
    </div>
  );
}

function Head({ section }: { section: Section }) {
  return (
    <div role="gridcell" className={classes.title}>
      <h2>{section.title}</h2>
      <span className={classes.feel}>{section.feel}</span>
      <span className={classes.count}>{section.count}</span>
    </div>
  );
}

function Cell({ colour, paper, current, selected, onMove, onOpen }: {
  colour: ShelfColour;
  paper: string;
  current: boolean;
  selected: boolean;
  onMove: (id: number, extend: boolean) => void;
  onOpen: () => void;
}) {
  const { card, owning } = colour;
  const name = `${card.colour.maker} ${card.colour.range} ${card.colour.code} ${card.colour.name}`.trim();
  const where = colour.places.map((p) => [p.tin, p.slot].filter(Boolean).join(" ")).filter(Boolean);
  return (
    <div
      id={`colour-${colour.id}`}
      role="gridcell"
      aria-selected={selected}
      aria-label={`${name}, ${owning}, ${trustWords(card.mark, paper)}`}
      title={[`${card.colour.range} ${card.colour.code} ${card.colour.name}: ${owning}`, ...where].join(", ")}
      className={classes.cell}
      data-current={current || undefined}
      data-selected={selected || undefined}
      data-owning={owning}
      onClick={(event: MouseEvent) => onMove(colour.id, event.shiftKey)}
      onDoubleClick={onOpen}
    >
      <div className={classes.mark}>
        <Barrel owning={owning} />
        <Mark mark={card.mark} seed={colour.id} height={28} ring={3} />
      </div>
      <div className={classes.name}>
        <ColourName colour={card.colour} />
      </div>
    </div>
  );
}

function inRows(sections: readonly Section[], columns: number): Row[] {
  return sections.flatMap((section) => {
    const rows: Row[] = [{ kind: "head", section }];
    for (let i = 0; i < section.colours.length; i += columns) {
      rows.push({ kind: "marks", section, colours: section.colours.slice(i, i + columns) });
    }
    return rows;
  });
}

/** Where a key leads from the cursor; undefined where it leads nowhere. */
function movesFrom(sections: readonly Section[], rows: readonly Row[], cursor: number | null) {
  return (key: string): number | undefined => {
    const all = sections.flatMap((s) => s.colours);
    const at = all.findIndex((c) => c.id === cursor);
    const lines = rows.filter((r) => r.kind === "marks");
    const line = lines.findIndex((r) => r.colours.some((c) => c.id === cursor));
    const column = lines[line]?.colours.findIndex((c) => c.id === cursor) ?? 0;
    const section = sections.findIndex((s) => s.colours.some((c) => c.id === cursor));
    const inLine = (i: number) => {
      const colours = lines[i]?.colours ?? [];
      return colours[Math.min(column, colours.length - 1)];
    };
    const targets: Record<string, ShelfColour | undefined> = {
      ArrowRight: all[at + 1],
      ArrowLeft: all[at - 1],
      ArrowDown: inLine(line + 1),
      ArrowUp: inLine(line - 1),
      Home: sections[section]?.colours[0],
      End: sections[section]?.colours.at(-1),
      PageDown: sections.slice(section + 1).find((s) => s.colours.length > 0)?.colours[0],
      PageUp: sections.slice(0, Math.max(section, 0)).findLast((s) => s.colours.length > 0)?.colours[0],
    };
    return targets[key]?.id;
  };
}
