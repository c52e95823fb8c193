import { CartesianGrid, ErrorBar, LabelList, Line, LineChart, ReferenceArea, ResponsiveContainer, XAxis, YAxis, type LabelProps } from "recharts";
import classes from "./LinePlot.module.css";

/** A point with the range within which it lies nine times of ten. */
export interface PlotPoint {
  x: number;
  y: number;
  low: number;
  high: number;
}

/** A line with the name that stands at its end. */
export interface PlotLine {
  name: string;
  points: readonly PlotPoint[];
}

const LEAST_HEIGHT = 320;
const MARGIN = { top: 12, right: 170, bottom: 26, left: 4 };
const AXIS = 30;
const APART = 15;
const DASHES = ["0", "7 4", "2 3", "9 3 2 3"];
const INK = ["#1a1a1a", "#4a4a4a", "#6c6c6c"];

/** Lines over time in greys, each named at its end, with bands behind them; the same as a table for whoever cannot see it. */
export function LinePlot({ label, lines, bands = [], xFrom, xName, yName, xWords }: {
  label: string;
  lines: readonly PlotLine[];
  bands?: readonly { name: string; from: number; to: number }[];
  /** Where the axis begins, where that is not the first point. */
  xFrom?: number;
  xName: string;
  yName: string;
  xWords: (x: number) => string;
}) {
  const drawn = lines.filter((line) => line.points.length > 0);
  if (drawn.length === 0) return null;
  const points = drawn.flatMap((line) => line.points);
  const top = Math.max(...points.map((point) => point.high)) * 1.05;
  const xs = [...new Set(points.map((point) => point.x))].sort((a, b) => a - b);
  const rows = xs.map((x) => Object.fromEntries([["x", x], ...drawn.flatMap((line, i) => inRow(line, i, x))]));
  const first = xFrom ?? xs[0] ?? 0;
  const last = Math.max(xs.at(-1) ?? first, first + 1);
  // Room for every name at the right.
  const height = Math.max(LEAST_HEIGHT, MARGIN.top + MARGIN.bottom + AXIS + APART * (drawn.length + 1));
  const ends = placed(drawn.map((line) => line.points.at(-1)?.y ?? 0), top, height);
  return (
    <figure className={classes.plot} aria-label={label}>
      <div aria-hidden="true">
        <ResponsiveContainer width="100%" height={height}>
          <LineChart data={rows} margin={MARGIN} accessibilityLayer={false}>
            {bands.filter((band) => band.from < top).map((band, i) => (
              <ReferenceArea key={band.name} y1={band.from} y2={Math.min(band.to, top)} fill={i % 2 === 0 ? "#d8d8d8" : "#cbcbcb"} fillOpacity={1} label={{ value: band.name, position: "insideLeft", fill: "#3a3a3a", fontSize: 13 }} />
            ))}
            <CartesianGrid vertical={false} stroke="#b4b4b4" />
            <XAxis dataKey="x" type="number" domain={[first, last]} ticks={ticks(xFrom === undefined ? xs : [...new Set([xFrom, ...xs])])} tickFormatter={xWords} stroke="#3a3a3a" fontSize={13} label={{ value: xName, position: "insideBottom", offset: -14, fill: "#3a3a3a", fontSize: 13 }} />
            <YAxis domain={[0, top]} width={AXIS + 14} tickFormatter={(y: number) => (y === 0 ? "0" : y.toFixed(top < 8 ? 1 : 0))} stroke="#3a3a3a" fontSize={13} label={{ value: yName, angle: -90, position: "insideLeft", fill: "#3a3a3a", fontSize: 13 }} />
            {drawn.map((line, i) => (
              <Line key={line.name} dataKey={`y${i}`} stroke={INK[i % INK.length] ?? ""} strokeDasharray={DASHES[i % DASHES.length] ?? ""} strokeWidth={2} dot={{ r: 3, fill: "#1a1a1a", strokeDasharray: "0" }} connectNulls isAnimationActive={false}>
                <ErrorBar dataKey={`e${i}`} width={5} strokeWidth={1} stroke="#5a5a5a" isAnimationActive={false} />
                <LabelList dataKey={`end${i}`} content={(at: LabelProps) => <End at={at} words={line.name} y={ends[i] ?? 0} />} />
              </Line>
            ))}
          </LineChart>
        </ResponsiveContainer>
      </div>
      <details>
        <summary>As a table</summary>
        <div className={classes.scroll} tabIndex={0} role="group" aria-label={`${label}, as a table`}>
          <table className="table">
            <thead>
              <tr>
                <th scope="col">{xName}</th>
                {drawn.map((line) => (
                  <th key={line.name} scope="col">
                    {line.name}, {yName}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {xs.map((x) => (
                <tr key={x}>
                  <th scope="row">{xWords(x)}</th>
                  {drawn.map((line) => {
                    const point = line.points.find((one) => one.x === x);
                    return (
                      <td key={line.name} className="mono">
                        {point === undefined ? "–" : `${point.y.toFixed(1)} (${point.low.toFixed(1)} to ${point.high.toFixed(1)})`}
                      </td>
                    );
                  })}
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      </details>
    </figure>
  );
}

/** A line's values in a row: its height, how far it may be off down and up, and where its name goes. */
function inRow(line: PlotLine, i: number, x: number): [string, number | number[]][] {
  const point = line.points.find((one) => one.x === x);
  if (point === undefined) return [];
  const values: [string, number | number[]][] = [[`y${i}`, point.y], [`e${i}`, [point.y - point.low, point.high - point.y]]];
  return point === line.points.at(-1) ? [...values, [`end${i}`, point.y]] : values;
}

/** At most six ticks, at points that there are. */
function ticks(xs: readonly number[]): number[] {
  const each = Math.ceil(xs.length / 6);
  return xs.filter((_, i) => i % each === 0 || i === xs.length - 1);
}

/** Where the names at the ends stand, from the top of the drawing, so that none covers another or runs out of it. */
function placed(values: readonly number[], top: number, height: number): number[] {
  const bottom = height - MARGIN.bottom - AXIS;
  const order = values.map((value, i) => [i, MARGIN.top + (1 - value / top) * (bottom - MARGIN.top)] as const).sort((a, b) => a[1] - b[1]);
  const at: number[] = values.map(() => 0);
  let last = -Infinity;
  order.forEach(([i, y], place) => {
    // No lower than what leaves room for those that come after it.
    last = Math.min(Math.max(y, last + APART), bottom - APART * (order.length - 1 - place));
    at[i] = last;
  });
  return at;
}

function End({ at, words, y }: { at: LabelProps; words: string; y: number }) {
  if (at.value === undefined || at.value === null) return null;
  return (
    <text x={Number(at.x) + 12} y={y + 4} fontSize={13} fill="#1a1a1a">
      {words.length > 24 ? `${words.slice(0, 23)}…` : words}
    </text>
  );
}
