import classes from "./Loading.module.css";

/** Grey bars where shelves or lines will be; it appears only where the answer takes longer than a moment. */
export function Loading({ what, lines = 6 }: { what: string; lines?: number }) {
  return (
    <div className={classes.loading} role="status" data-loading>
      <span className="visually-hidden">Loading {what}</span>
      {Array.from({ length: lines }, (_, i) => (
        <span key={i} className={classes.bar} style={{ width: `${90 - ((i * 23) % 40)}%` }} />
      ))}
    </div>
  );
}
