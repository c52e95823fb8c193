import type { Context } from "../../shared/queries/collection";
import type { Role } from "../../shared/vocabulary";

/** What is asked of the answers to a picture's colours. */
export interface Wish {
  mapped: boolean;
  role: Role | "";
}

export const NO_WISH: Wish = { mapped: false, role: "" };

/** The wish as it is asked for, on the paper at hand. */
export function asked(context: Context, { mapped, role }: Wish) {
  return { paper: context.paper_id, closest: context.closest, mapped, ...(role === "" ? {} : { role }) };
}

/** The same for an address. */
export function askedFor(context: Context, wish: Wish): string {
  const entries = Object.entries(asked(context, wish)).map(([name, value]) => [name, String(value)]);
  return new URLSearchParams(entries).toString();
}
