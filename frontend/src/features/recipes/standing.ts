import { counted } from "../../shared/words";
import type { Card } from "./queries";

/** How the calls of a recipe stand, in words: "9 colours: 6 owned, 2 stand-ins, 1 open". */
export function standing(card: Card): string {
  const parts = [
    `${card.owned} owned`,
    card.stand_ins > 0 ? counted(card.stand_ins, "stand-in") : "",
    card.open > 0 ? `${card.open} open` : "",
    card.unsettled > 0 ? `${card.unsettled} to settle` : "",
    card.to_look_through > 0 ? `${counted(card.to_look_through, "line")} to look through` : "",
  ];
  return `${counted(card.calls, "call")}: ${parts.filter((part) => part !== "").join(", ")}`;
}
