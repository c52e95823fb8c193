/** How the keys of queries begin that only watch: they make no page busy, and a change asks for nothing anew in them. */
export const WATCHING = "watching";
