import { useState } from "react";
import { useNavigate } from "react-router";
import { useSetting } from "../../shared/queries/collection";
import { usePutInTray } from "../tray/queries";
import { useAct, useOwned, useTins } from "./queries";
import { Failed } from "../../shared/ui/Problem";
import classes from "./BulkBar.module.css";

/** What can be done with several colours at once; each is one change with one undo. */
export function BulkBar({ ids, onClear }: { ids: readonly number[]; onClear: () => void }) {
  const [tin, setTin] = useState("");
  const owned = useOwned();
  const act = useAct();
  const put = usePutInTray();
  const { data: tins } = useTins();
  const navigate = useNavigate();
  const setting = useSetting();
  const colour_ids = [...ids];
  const error = owned.error ?? act.error ?? put.error;
  return (
    <div className={classes.bar} role="toolbar" aria-label={`${ids.length} selected`}>
      <strong role="status">{ids.length} selected</strong>
      <button type="button" className="button" onClick={() => owned.mutate({ colour_ids, owned: true })}>
        Owned
      </button>
      <button type="button" className="button" onClick={() => owned.mutate({ colour_ids, owned: false })}>
        I own them no more
      </button>
      <button type="button" className="button" onClick={() => act.mutate({ colour_ids, act: "lost", tin: "" })}>
        Lost
      </button>
      <button type="button" className="button" onClick={() => act.mutate({ colour_ids, act: "found", tin: "" })}>
        Found
      </button>
      <button type="button" className="button" onClick={() => put.mutate({ colour_ids, into: true })}>
        Into the tray
      </button>
      <button
        type="button"
        className="button"
        onClick={() => navigate(`/swatches/begin?paper=${setting?.paper.id ?? ""}`, { state: { colours: colour_ids } })}
      >
        Swatch these
      </button>
      <form
        className={classes.move}
        onSubmit={(event) => {
          event.preventDefault();
          act.mutate({ colour_ids, act: "move", tin });
        }}
      >
        <input
          className="field"
          aria-label="Tin to move them to"
          placeholder="tin"
          list="tins-known"
          value={tin}
          maxLength={60}
          onChange={(event) => setTin(event.currentTarget.value)}
        />
        <datalist id="tins-known">{tins?.tins.map((t) => <option key={t.name} value={t.name} />)}</datalist>
        <button type="submit" className="button">
          Move there
        </button>
      </form>
      <button type="button" className="button" onClick={onClear}>
        Clear <kbd>Esc</kbd>
      </button>
      {error !== null && <Failed error={error} />}
    </div>
  );
}
