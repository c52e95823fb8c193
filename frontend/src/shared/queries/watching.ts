/** How the keys of queries begin that only watch: they make no page busy. */
export const WATCHING = "watching";
