import type { Schemas } from "../../api/client";

/** A colour's code and name; the style sheet puts first what the artist prefers. */
export function ColourName({ colour, range = false }: { colour: Schemas["ColourOut"]; range?: boolean }) {
  return (
    <span className="colour-name">
      <code>
        {range && `${colour.range} `}
        {colour.code}
      </code>{" "}
      <span>{colour.name}</span>
    </span>
  );
}
