import { useDeferredValue, useId, useState, type KeyboardEvent, type RefObject } from "react";
import { useNavigate } from "react-router";
import type { Schemas } from "../../api/client";
import { useFind, useFindNow } from "../queries/collection";
import classes from "./Finder.module.css";

type Colour = Schemas["ColourOut"];

/** The finder in the context line: from what is typed to a colour's place in the tidy. */
export function Finder({ field }: { field: RefObject<HTMLInputElement | null> }) {
  const navigate = useNavigate();
  return (
    <div className={classes.finder}>
      <ColourFinder
        field={field}
        label="Find a colour"
        placeholder="Find a code or a name"
        hint="/"
        onPick={(colour) => navigate(`/tidy?colour=${colour.id}`)}
      />
    </div>
  );
}

/** A field that finds a colour by code or name; arrows and Enter pick one, Escape leaves. */
export function ColourFinder({ field, label, placeholder, hint, onPick }: {
  field?: RefObject<HTMLInputElement | null>;
  label: string;
  placeholder: string;
  hint?: string;
  onPick: (colour: Colour) => void;
}) {
  const [text, setText] = useState("");
  const [at, setAt] = useState(0);
  const [open, setOpen] = useState(false);
  const list = useId();
  const asked = useDeferredValue(text);
  const { data: found } = useFind(asked);
  const findNow = useFindNow();
  const hits = open && text.trim() !== "" ? (found?.hits ?? []) : [];
  const shown = open && text.trim() !== "" && found !== undefined;

  const pick = (colour: Colour | undefined, from: HTMLInputElement) => {
    if (colour === undefined) return;
    setText("");
    setOpen(false);
    from.blur();
    onPick(colour);
  };
  const onKey = (event: KeyboardEvent<HTMLInputElement>) => {
    if (event.key === "ArrowDown") setAt((i) => Math.min(i + 1, hits.length - 1));
    else if (event.key === "ArrowUp") setAt((i) => Math.max(i - 1, 0));
    else if (event.key === "Enter") {
      // What is shown may still be the answer to fewer letters.
      const input = event.currentTarget;
      if (text.trim() !== "") void findNow(text).then((now) => pick(now.hits[at] ?? now.hits[0], input));
    }
    else if (event.key === "Escape") event.currentTarget.blur();
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  return (
    <div className={classes.box}>
      <input
        ref={field}
        className={`field ${classes.input ?? ""}`}
        value={text}
        placeholder={placeholder}
        role="combobox"
        aria-label={label}
        aria-expanded={shown}
        aria-controls={list}
        aria-autocomplete="list"
        aria-activedescendant={hits[at] ? `${list}-${hits[at].id}` : undefined}
        onChange={(event) => {
          setText(event.currentTarget.value);
          setAt(0);
          setOpen(true);
        }}
        onFocus={() => setOpen(true)}
        onBlur={() => setOpen(false)}
        onKeyDown={onKey}
      />
      {hint !== undefined && <kbd className={classes.hint}>{hint}</kbd>}
      <div id={list} role="listbox" aria-label="Colours found" className={classes.list} hidden={!shown}>
        {found?.message && (
          <div className={classes.message} role="option" aria-selected={false} aria-disabled="true">
            {found.message}
          </div>
        )}
        {shown && hits.length === 0 && (
          <div className={classes.message} role="option" aria-selected={false} aria-disabled="true">
            No chart here has “{text.trim()}”.
          </div>
        )}
        {hits.map((colour, i) => (
          <div
            key={colour.id}
            id={`${list}-${colour.id}`}
            role="option"
            aria-selected={i === at}
            className={classes.option}
            onPointerDown={(event) => {
              event.preventDefault();
              const input = event.currentTarget.parentElement?.parentElement?.querySelector("input");
              if (input) pick(colour, input);
            }}
          >
            <code>{colour.code}</code> {colour.name}
            <span className={classes.range}>
              {colour.maker} {colour.range}
            </span>
          </div>
        ))}
      </div>
    </div>
  );
}
