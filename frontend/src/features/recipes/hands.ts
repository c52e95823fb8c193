import { useQuery } from "@tanstack/react-query";
import { api, data, type Schemas } from "../../api/client";

/** With which pencils a plan is made: her own at hand, only a range, or a box. */
export type Hands = "mine" | `range ${number}` | `box ${number}`;

export type AllOtherHands = Schemas["AllOtherHandsOut"];

/** The ranges and boxes into which recipes can be put. */
export function useOtherHands() {
  return useQuery({ queryKey: ["shelves", "other hands"], queryFn: () => data(api.GET("/api/other-hands")) });
}

/** The hands that a text names; her own where it names none. */
export function handsIn(text: string | null): Hands {
  const named = /^(range|box) (\d+)$/.exec(text ?? "");
  return named === null ? "mine" : named[1] === "range" ? `range ${Number(named[2])}` : `box ${Number(named[2])}`;
}

/** The number of the range, and of the box, as the server asks for them. */
export function supposedBy(hands: Hands): { only_range?: number; only_set?: number } {
  const [kind, number] = hands.split(" ");
  if (kind === "range") return { only_range: Number(number) };
  if (kind === "box") return { only_set: Number(number) };
  return {};
}

/** What these hands are called. */
export function called(hands: Hands, all: AllOtherHands | undefined): string {
  const [kind, number] = hands.split(" ");
  const one = (kind === "range" ? all?.ranges : all?.boxes)?.find(({ id }) => id === Number(number));
  if (one === undefined) return hands === "mine" ? "my pencils at hand" : "other pencils";
  return kind === "range" ? `only ${one.name}` : `the box ${one.name}`;
}
