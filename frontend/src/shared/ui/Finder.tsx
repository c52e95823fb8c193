import { useMediaQuery } from "@mantine/hooks";
import { Fragment, useDeferredValue, useEffect, useId, useRef, useState, type KeyboardEvent, type RefObject } from "react";
import { useNavigate } from "react-router";
import type { Schemas } from "../../api/client";
import { useFind, useFindNow, type Hit } from "../queries/collection";
import { Barrel } from "./Barrel";
import { ColourName } from "./ColourName";
import { Mark } from "./Mark";
import classes from "./Finder.module.css";

type Colour = Schemas["ColourOut"];

/** The finder in the context line: from what is typed to a colour's place in the tidy. */
export function Finder({ field }: { field: RefObject<HTMLInputElement | null> }) {
  const navigate = useNavigate();
  // As in shell.module.css: on a phone the field has room for a word.
  const phone = useMediaQuery("(max-width: 700px)", false, { getInitialValueInEffect: false });
  return (
    <div className={classes.finder}>
      <ColourFinder
        field={field}
        label="Find a colour"
        placeholder={phone ? "Find" : "Find a code or a name"}
        hint="/"
        onPick={(colour) => navigate(`/tidy?colour=${colour.id}`)}
      />
    </div>
  );
}

/** A field that finds a colour by code or name; arrows and Enter pick one, Escape leaves. */
export function ColourFinder({ id, field, label, placeholder, hint, onPick }: {
  id?: string | undefined;
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
  const hits = open && text.trim() !== "" ? inOrder(found) : [];
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
      if (text.trim() !== "") void findNow(text).then((now) => pick((inOrder(now)[at] ?? inOrder(now)[0])?.card.colour, input));
    }
    else if (event.key === "Escape") event.currentTarget.blur();
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  return (
    <div className={classes.box}>
      <input
        id={id}
        ref={field}
        className={`field ${classes.input ?? ""}`}
        value={text}
        placeholder={placeholder}
        role="combobox"
        aria-label={label}
        aria-expanded={shown}
        aria-controls={list}
        aria-autocomplete="list"
        aria-activedescendant={hits[at] ? `${list}-${hits[at].card.colour.id}` : undefined}
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
        {hits.map((hit, i) => (
          <Fragment key={hit.card.colour.id}>
            {hit === found?.by_look[0] && (
              <div className={classes.message} role="presentation">
                By value, chroma and hue: {found.look.join(" ")}
              </div>
            )}
            <Option
              id={`${list}-${hit.card.colour.id}`}
              hit={hit}
              current={i === at}
              onPick={(input) => pick(hit.card.colour, input)}
            />
          </Fragment>
        ))}
      </div>
    </div>
  );
}

/** Those by code and name first, then those that look as the words say. */
function inOrder(found: { hits: Hit[]; by_look: Hit[] } | undefined): readonly Hit[] {
  return found === undefined ? [] : [...found.hits, ...found.by_look];
}

/** A colour that may be meant: its barrel and its mark on the paper at hand before its code and name. */
function Option({ id, hit, current, onPick }: { id: string; hit: Hit; current: boolean; onPick: (from: HTMLInputElement) => void }) {
  const { colour, mark } = hit.card;
  const row = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (current) row.current?.scrollIntoView({ block: "nearest" });
  }, [current]);
  return (
    <div
      ref={row}
      id={id}
      role="option"
      aria-selected={current}
      className={classes.option}
      onPointerDown={(event) => {
        event.preventDefault();
        const input = event.currentTarget.parentElement?.parentElement?.querySelector("input");
        if (input) onPick(input);
      }}
    >
      <Barrel owning={hit.owning} />
      <span className={classes.mark}>
        <Mark mark={mark} seed={colour.id} height={22} />
      </span>
      <span className={classes.name}>
        <ColourName colour={colour} />
      </span>
      <span className={classes.range}>
        {colour.range}
        <span className="visually-hidden">, {hit.owning}</span>
      </span>
    </div>
  );
}
