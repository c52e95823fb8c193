import type { Schemas } from "../api/client";
import { isMarkPressure } from "./vocabulary";

export type Layer = Schemas["CoatIn"];

/** Layers on the table, the lowest first, and whether solvent goes over them. */
export interface OnTable {
  layers: readonly Layer[];
  solvent: boolean;
}

/** How layers stand in an address: colour:pressure:layers, the lowest first. */
export function written(layers: readonly Layer[]): string[] {
  return layers.map((one) => `${one.colour_id}:${one.pressure}:${one.layers}`);
}

/** The page that shows these layers in both orders. */
export function tablePath(layers: readonly Layer[]): string {
  const query = new URLSearchParams(written(layers).map((one) => ["laid", one]));
  return `/layering?${query.toString()}`;
}

/** The layers of an address; what is not written as one is passed over. */
export function read(query: URLSearchParams): OnTable {
  const layers = query.getAll("laid").flatMap((one): Layer[] => {
    const [, colour, pressure, count] = /^(\d{1,15}):([a-z]+):(\d{1,2})$/.exec(one) ?? [];
    if (pressure !== "burnish" && !isMarkPressure(pressure)) return [];
    return [{ colour_id: Number(colour), pressure, layers: Number(count) }];
  });
  return { layers, solvent: query.get("solvent") === "yes" };
}

/** The address of what lies on the table. */
export function asQuery({ layers, solvent }: OnTable): URLSearchParams {
  const query = new URLSearchParams(written(layers).map((one) => ["laid", one]));
  if (solvent) query.set("solvent", "yes");
  return query;
}

/** Layers as an offer or an order has them, as they are asked for. */
export function asLayers(laid: readonly Schemas["CoatOut"][]): Layer[] {
  return laid.map(({ colour, pressure, layers }) => ({ colour_id: colour.id, pressure, layers }));
}

/** Which pencil is laid and which burnishes: the one that burnishes is always the last. */
export function burnisherOf(layers: readonly Layer[]): Layer | undefined {
  return layers.find((one) => one.pressure === "burnish");
}
