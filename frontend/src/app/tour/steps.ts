/** One stop of the tour: where it is, what is to be seen there, and one thing to try. */
export interface Stop {
  path: string;
  title: string;
  see: string;
  keys: string;
}

const FIRST: Stop = {
  path: "/tidy",
  title: "What you own, as it looks on this paper",
  see: "Every shelf is a range of pencils. A band is a mark: heavy at its left, light at its right. A solid line at its right end means measured, a dotted one predicted.",
  keys: "Press ], or choose another paper at the top, and watch: all marks change.",
};

/** In the order of the rail; each is read in a quarter of a minute. */
export const STOPS: readonly Stop[] = [
  FIRST,
  {
    path: "/tidy",
    title: "Ask for a colour as you would say it",
    see: "The field at the top knows codes, names, and how colours look.",
    keys: "Press /, or touch the field, type “dull green”, and look at what is found. Esc leaves it.",
  },
  {
    path: "/swatches",
    title: "How well each paper is known",
    see: "A few swatched pencils tell a whole paper. The board says for each how many of your pencils are measured there, and how far off the guesses about the others may be.",
    keys: "Go into a cell: it leads to the marks that are missing there.",
  },
  {
    path: "/reference",
    title: "A picture’s colours, each one alone",
    see: "A colour among others fools the eye. Here each stands by itself on grey, and under it what of yours comes nearest on your paper.",
    keys: "Press q, or Squint, and the small things go. Once more, and they are back.",
  },
  {
    path: "/recipes",
    title: "What to use instead",
    see: "A recipe calls for pencils that you do not have. For each, two layers or one pencil stand beside what is wanted, with how far off they will be.",
    keys: "Open a recipe, then go to a colour that is missing, with ↓ or by touch.",
  },
  {
    path: "/bench",
    title: "While you draw",
    see: "One step at a time, in letters that can be read from a metre away. It remembers what you used, and how long things take to dry.",
    keys: "Space, or the large button, is done; b goes back.",
  },
  {
    path: "/restock",
    title: "What is worth buying, and what will fade",
    see: "Three pencils that would bring your recipes nearer, what you can do without, tests of what the sun does, and practice for the eye.",
    keys: "Press u, or Undo below, after anything you did: it is taken back.",
  },
];

export const stopAt = (stop: number): Stop => STOPS[stop] ?? FIRST;
