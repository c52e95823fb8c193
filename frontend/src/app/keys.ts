/** What every key does, as the help shows it. */
export const KEY_HELP: readonly { where: string; keys: readonly [string, string][] }[] = [
  {
    where: "Everywhere",
    keys: [
      ["/", "find a colour by code or name"],
      ["1  2  3  4", "go to a station"],
      ["d", "choose the drawing at hand"],
      ["[  ]", "paper before, paper after"],
      ["g", "all colours as values, in grey"],
      ["s", "mid grey or the paper behind marks"],
      ["h", "the layering table: pencils over one another"],
      ["m", "only what is with me today"],
      ["u", "undo the last change"],
      ["?", "this help"],
    ],
  },
  {
    where: "Tidy",
    keys: [
      ["← ↑ → ↓", "move among the colours"],
      ["Home End", "first, last colour of the shelf"],
      ["PgUp PgDn", "shelf before, shelf after"],
      ["space  o", "owned or not"],
      ["Enter", "all about the colour"],
      ["x", "select, or take out of the selection"],
      ["Shift arrows", "select as you move"],
      ["l", "lost, or found again"],
      ["p", "into the tray, or out of it"],
      ["w", "why a predicted colour is thought to be so"],
      ["t", "type codes, such as 101-118, 122"],
    ],
  },
  {
    where: "Swatching",
    keys: [
      ["space", "read, and on to the next mark"],
      ["c", "calibrate on the white tile"],
      ["k", "keep a doubted reading"],
      ["a", "read the mark again"],
      ["x", "leave the mark out"],
      ["↑ ↓", "mark before, mark after"],
    ],
  },
  {
    where: "Photos of a sheet",
    keys: [
      ["← →", "cell before, cell after"],
      ["t  l", "take it, leave it, and on"],
    ],
  },
  {
    where: "Reference",
    keys: [
      ["arrows", "move the loupe; with Shift a little"],
      ["+  −", "widen it, narrow it"],
      ["Enter", "pick what it sees"],
      ["k", "find the main colours"],
      ["← →", "pick before, pick after; space marks several"],
      ["j  Del", "make one of them; drop them"],
      ["i", "where the colour is in the picture"],
      ["q  z  w", "squint, value zones, warm and cool"],
      ["R  r", "upside down; grid"],
      ["c", "the picture as it came"],
      ["p", "the answer's pencils into the tray"],
    ],
  },
  {
    where: "Layering",
    keys: [
      ["↑ ↓", "layer below, layer above"],
      ["← →", "lighter, heavier"],
      ["+  −", "one layer more, one less"],
      ["Shift ↑ ↓", "move it in the order"],
      ["Del", "take it out"],
      ["r", "turn the order round"],
      ["f", "finish: dry, burnished, solvent"],
      ["t", "try it on scrap"],
    ],
  },
  {
    where: "On a scrap",
    keys: [
      ["space  b", "read the strip; the other way round"],
      ["p  y", "print the strip; copy it as text"],
    ],
  },
  {
    where: "Recipes",
    keys: [
      ["n", "paste a new recipe"],
      ["↑ ↓", "call before, call after; stand-in before, after"],
      ["Enter", "from a call to its stand-ins; use the stand-in"],
      ["v", "mark beside mark, or layered in the passage"],
      ["Esc", "back to the calls"],
      ["t  b", "try the layers on scrap; both orders on the table"],
    ],
  },
];
