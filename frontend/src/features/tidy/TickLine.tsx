import { Menu } from "@mantine/core";
import { useState, type RefObject } from "react";
import { Link } from "react-router";
import { Failed } from "../../shared/ui/Problem";
import { useOwnSet, useTick } from "./queries";
import classes from "./TickLine.module.css";
import type { Shelf } from "../../shared/queries/shelves";

const WAYS = [
  ["/tidy/places", "Places and what is with me"],
  ["/tidy/what", "What is this? A worn stamp"],
  ["/tidy/paste", "Paste a list of what I own"],
  ["/tidy/write", "Write a chart from a list"],
  ["/tidy/charts", "Charts and sets, corrected"],
  ["/tidy/catalogue", "Bring in a catalogue (CSV)"],
] as const;

/** Typed codes of the shelf in focus, owned or not; a whole set at once; the way to a new catalogue. */
export function TickLine({ shelf, field, onLeave }: {
  shelf: Shelf;
  field: RefObject<HTMLInputElement | null>;
  onLeave: () => void;
}) {
  const [text, setText] = useState("");
  const tick = useTick();
  const send = (owned: boolean) => {
    if (text.trim() === "") return;
    tick.mutate({ range_id: shelf.range_id, text, owned }, { onSuccess: (done) => setText(done.unknown.join(", ")) });
  };
  return (
    <div className={classes.line}>
      <form
        className={classes.form}
        onSubmit={(event) => {
          event.preventDefault();
          send(true);
        }}
      >
        <label htmlFor="codes" aria-hidden="true">
          Tick on <strong>{shelf.name}</strong>
        </label>
        <input
          id="codes"
          ref={field}
          className={`field mono ${classes.codes ?? ""}`}
          value={text}
          placeholder={example(shelf)}
          aria-label={`Tick on ${shelf.name}`}
          autoComplete="off"
          aria-describedby="ticked"
          onChange={(event) => setText(event.currentTarget.value)}
          onKeyDown={(event) => {
            if (event.key === "Escape") onLeave();
          }}
        />
        <kbd>t</kbd>
        <button type="submit" className="button" disabled={tick.isPending}>
          Owned
        </button>
        <button type="button" className="button" disabled={tick.isPending} onClick={() => send(false)}>
          Own them no more
        </button>
      </form>
      <Sets shelf={shelf} />
      <Menu transitionProps={{ duration: 0 }} position="bottom-end">
        <Menu.Target>
          <button type="button" className="button">
            More
          </button>
        </Menu.Target>
        <Menu.Dropdown>
          {WAYS.map(([to, name]) => (
            <Menu.Item key={to} component={Link} to={to}>
              {name}
            </Menu.Item>
          ))}
        </Menu.Dropdown>
      </Menu>
      <p id="ticked" role="status" className={classes.answer}>
        {tick.data !== undefined && <Answer {...tick.data} range={shelf.name} />}
      </p>
      {tick.error !== null && <Failed error={tick.error} />}
    </div>
  );
}

function Answer({ newly, already, unknown, range }: { newly: number; already: number; unknown: string[]; range: string }) {
  return (
    <>
      {newly} changed{already > 0 && `, ${already} ticked before`}.
      {unknown.length > 0 && (
        <strong>
          {" "}
          Not on the chart of {range}: {unknown.join(", ")}.
        </strong>
      )}
    </>
  );
}

function Sets({ shelf }: { shelf: Shelf }) {
  const own = useOwnSet();
  if (shelf.sets.length === 0) return null;
  return (
    <>
      <Menu transitionProps={{ duration: 0 }}>
        <Menu.Target>
          <button type="button" className="button">
            Own a set
          </button>
        </Menu.Target>
        <Menu.Dropdown>
          {shelf.sets.map((set) => (
            <Menu.Item key={set.id} disabled={set.owned === set.colours} onClick={() => own.mutate(set.id)}>
              <strong>{set.name}</strong>
              <span className={classes.of}>
                {set.owned === set.colours ? "all owned" : `${set.colours - set.owned} of ${set.colours} new`}
              </span>
            </Menu.Item>
          ))}
        </Menu.Dropdown>
      </Menu>
      {own.error !== null && <Failed error={own.error} />}
    </>
  );
}

/** Codes of this very chart, so that the hint can be typed as it stands. */
function example(shelf: Shelf): string {
  const codes = shelf.colours.map((c) => c.card.colour.code);
  const [first, third, later] = [codes[0], codes[2], codes[4]];
  if (first === undefined || third === undefined || later === undefined) return "codes";
  return `${first}-${third}, ${later}`;
}
