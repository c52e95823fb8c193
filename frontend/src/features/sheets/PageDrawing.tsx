import type { SheetPage } from "./queries";
import classes from "./PageDrawing.module.css";

/** A page as it will be printed, small: where everything stands, in mm. */
export function PageDrawing({ page, title }: { page: SheetPage; title: string }) {
  const [width = 210, height = 297] = page.page_mm;
  const placed = page.cells.filter((cell) => cell.code !== "");
  return (
    <svg
      className={classes.page}
      viewBox={`0 0 ${width} ${height}`}
      role="img"
      aria-label={`Page ${page.page}: ${title}, ${placed.length} ${placed.length === 1 ? "cell has its pencil" : "cells have their pencils"}`}
    >
      <rect width={width} height={height} fill="#ffffff" />
      {[...page.markers.map((marker) => marker.box), page.code].map((box, i) => (
        <Rect key={i} box={box} fill="#1a1a1a" />
      ))}
      {page.ramp.map(({ box, black }, i) => (
        <Rect key={i} box={box} fill={grey(1 - black)} />
      ))}
      {page.windows.map((box, i) => (
        <Rect key={i} box={box} fill="none" stroke="#1a1a1a" />
      ))}
      {page.dots.map(([x, y], i) => (
        <circle key={i} cx={x} cy={y} r={page.dot_mm / 2} fill="#1a1a1a" />
      ))}
      {page.cells.map((cell) => (
        <g key={cell.index}>
          {page.windows.length === 0 && cell.zones.map(({ box }, i) => <Rect key={i} box={box} fill="none" stroke="#8a8a8a" />)}
          {cell.bar && <Rect box={cell.bar} fill="#1a1a1a" />}
          <text x={(cell.label[0] ?? 0) + 0.4} y={(cell.label[1] ?? 0) + 2.5} className={classes.label}>
            {cell.bare ? "leave bare" : `${cell.code}${times(cell.layers)}`}
          </text>
        </g>
      ))}
    </svg>
  );
}

/** How many layers a cell's marks have, as it is printed beside its code. */
function times(layers = 1): string {
  return layers > 1 ? ` ×${layers}` : "";
}

function Rect({ box, fill, stroke }: { box: readonly number[]; fill: string; stroke?: string }) {
  const [x, y, width, height] = box;
  return <rect x={x} y={y} width={width} height={height} fill={fill} stroke={stroke ?? "none"} strokeWidth={0.25} />;
}

function grey(light: number): string {
  const part = Math.round(255 * light)
    .toString(16)
    .padStart(2, "0");
  return `#${part}${part}${part}`;
}
