import classes from "./Barrel.module.css";

const HEXAGON = "M12 2.200 20.500 7v10L12 21.800 3.500 17V7z";
const INNER = "M12 7.400 16 9.700v4.600L12 16.600 8 14.300V9.700z";

/** A pencil seen end-on; its drawing tells how the colour is owned. */
export function Barrel({ owning, size = 18 }: { owning: string; size?: number }) {
  return (
    <svg className={classes.barrel} width={size} height={size} viewBox="0 0 24 24" aria-hidden="true">
      {owning === "stub" && <path d="M3.500 12h17v5L12 21.800 3.500 17z" className={classes.core} />}
      <path d={HEXAGON} className={classes[owning.replace(" ", "-")] ?? classes["not-owned"]} />
      {owning === "spare" && <path d={INNER} className={classes.core} />}
    </svg>
  );
}
