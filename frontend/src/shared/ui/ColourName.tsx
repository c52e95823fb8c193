import type { Schemas } from "../../api/client";

/** A colour's code and name; the style sheet puts first what the artist prefers, and cuts a long name in its middle. */
export function ColourName({ colour, range = false }: { colour: Schemas["ColourOut"]; range?: boolean }) {
  const [name, grade] = parted(colour.name);
  return (
    <span className="colour-name">
      <code>
        {range && `${colour.range} `}
        {colour.code}
      </code>{" "}
      <span className="graded">
        <span>{name}</span>
        {grade !== "" && <span>&nbsp;{grade}</span>}
      </span>
    </span>
  );
}

/** A name, and what tells its tints apart at its end: “30 %”, “4”, “II”, which is never cut off. */
function parted(name: string): [string, string] {
  const found = /^(.*\S)\s+(\d+\s?%?|[IVX]+)$/.exec(name);
  return [found?.[1] ?? name, found?.[2] ?? ""];
}
