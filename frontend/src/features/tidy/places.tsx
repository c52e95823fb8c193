import { Link, useNavigate } from "react-router";
import { Loading } from "../../shared/ui/Loading";
import { Failed } from "../../shared/ui/Problem";
import { useCollection } from "../../shared/queries/collection";
import { NO_FILTER, NO_PLACE } from "./arrange";
import { useTins, useTravel } from "./queries";

/** Where the pencils stand, and which tins are with her today. */
export function PlacesPage() {
  const { data, error } = useTins();
  const { data: context } = useCollection();
  const travel = useTravel();
  const navigate = useNavigate();
  if (error !== null) return <Failed error={error} />;
  if (data === undefined) return <Loading what="the places" />;
  const show = (tin: string) => {
    sessionStorage.setItem("tidy-filter", JSON.stringify({ ...NO_FILTER, place: tin || NO_PLACE }));
    sessionStorage.setItem("tidy-order", JSON.stringify("tin"));
    void navigate("/tidy");
  };
  return (
    <div className="station-page">
      <header>
        <p>
          <Link to="/tidy">Tidy</Link> /
        </p>
        <h1>Places</h1>
        <p>
          Mark the tins that are with you today; <kbd>m</kbd> then lets only those count, everywhere, stand-ins included.
          Pencils are moved in the tidy: select them, and say which tin.
        </p>
      </header>
      {data.tins.length === 0 && <p>You own no pencils yet, so there is no place to show.</p>}
      {data.tins.length > 0 && (
        <table className="table">
          <thead>
            <tr>
              <th scope="col">tin</th>
              <th scope="col">pencils</th>
              <th scope="col">stubs below {context?.stub_mm} mm</th>
              <th scope="col">lost</th>
              <th scope="col">with me today</th>
              <th scope="col">
                <span className="visually-hidden">show</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {data.tins.map((tin) => (
              <tr key={tin.name}>
                <th scope="row">{tin.name || NO_PLACE}</th>
                <td className="mono">{tin.pencils}</td>
                <td className="mono">{tin.stubs || "–"}</td>
                <td className="mono">{tin.lost || "–"}</td>
                <td>
                  {tin.name !== "" && (
                    <label className="row">
                      <input
                        type="checkbox"
                        checked={tin.travels}
                        disabled={travel.isPending}
                        onChange={(event) => travel.mutate({ tin: tin.name, along: event.currentTarget.checked })}
                      />
                      <span className="visually-hidden">{tin.name}</span> with me
                    </label>
                  )}
                </td>
                <td>
                  <button type="button" className="button" onClick={() => show(tin.name)}>
                    Show
                  </button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {travel.error !== null && <Failed error={travel.error} />}
    </div>
  );
}
