import { useCheckReach, type Check } from "./valueQueries";
import classes from "./values.module.css";

/** How much lies at each step of value, in picture and drawing, and how dark this paper can go. */
export function Ladders({ check }: { check: Check }) {
  const { data: reach } = useCheckReach(check.id);
  if (check.ladder.length === 0) return null;
  const most = Math.max(...check.ladder.flatMap((rung) => [rung.picture, rung.drawing]), 0.01);
  const end = reach?.darkest;
  return (
    <section aria-label="Ladders of value">
      <h3>How the values are spread</h3>
      <p>
        Your darkest is about value <strong>{check.darkest.toFixed(1)}</strong> as this photo shows it, the picture’s <strong>{check.darkest_asked.toFixed(1)}</strong>.
        {end != null && ` On this paper you can reach ${end.paper.toFixed(1)} with ${end.said}.`}
      </p>
      <table className={classes.ladders}>
        <thead>
          <tr>
            <th scope="col">value</th>
            <th scope="col">the picture</th>
            <th scope="col">the drawing</th>
          </tr>
        </thead>
        <tbody>
          {check.ladder.map((rung) => (
            <tr key={rung.value}>
              <th scope="row">{rung.value}</th>
              <Bar share={rung.picture} most={most} />
              <Bar share={rung.drawing} most={most} />
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

function Bar({ share, most }: { share: number; most: number }) {
  return (
    <td>
      <span className={classes.bar} style={{ width: `${(100 * share) / most}%` }} />
      <span className={classes.share}>{share < 0.005 ? "" : `${(100 * share).toFixed(0)} %`}</span>
    </td>
  );
}
