import { keepPreviousData, useMutation, useQuery } from "@tanstack/react-query";
import { api, data, type Schemas } from "../../api/client";
import { useChanged, useCollection } from "../../shared/queries/collection";

export type Buys = Schemas["BuysOut"];
export type Buy = Schemas["BuyOut"];
export type Listed = Schemas["ListedOut"];
export type Near = Schemas["NearOut"];
export type Lasts = Schemas["LastsOut"];
export type RunningOut = Schemas["RunningOutOut"];

// While something is worked out it is asked for again.
const SOON_MS = 700;
const soon = (query: { state: { data?: { ended: boolean } | undefined } }) => (query.state.data?.ended === false ? SOON_MS : false);

/** The paper at hand: of recipes that belong to no drawing, and of the marks that are shown. */
function usePaper(): number {
  return useCollection().data?.paper_id ?? 0;
}

/** What one wants to buy, as the page holds it. */
export interface Wish {
  most: number;
  lasting: boolean;
  dry: boolean;
  budget: string;
  range: number;
  putAway: boolean;
}

/** The few colours that bring most of what is missing closer. */
export function useBuys(wish: Wish) {
  const budget = Number(wish.budget.replace(",", "."));
  const query = {
    most: wish.most, lasting: wish.lasting, dry: wish.dry, ranges: wish.range === 0 ? "" : String(wish.range),
    put_away: wish.putAway ? 1 : 0.25,
    ...(wish.budget.trim() !== "" && Number.isFinite(budget) && budget >= 0 ? { budget } : {}),
  };
  return useQuery({
    queryKey: ["buys", usePaper(), query],
    queryFn: () => data(api.GET("/api/restock/buys", { params: { query } })),
    refetchInterval: soon,
    placeholderData: keepPreviousData,
  });
}

/** What could go and nothing would be missed. */
export function useSpare() {
  return useQuery({
    queryKey: ["spare", usePaper()],
    queryFn: () => data(api.GET("/api/restock/spare")),
    refetchInterval: soon,
  });
}

/** Owned colours that nobody would tell apart. */
export function useTwins() {
  return useQuery({ queryKey: ["owned-twins", usePaper()], queryFn: () => data(api.GET("/api/restock/twins")) });
}

/** The tin of so many pencils for some recipes. */
export function usePacking(recipes: readonly number[], count: number) {
  return useQuery({
    queryKey: ["packing", usePaper(), recipes, count],
    queryFn: () => data(api.GET("/api/restock/packing", { params: { query: { recipes: recipes.join(" "), count } } })),
    refetchInterval: soon,
    enabled: recipes.length > 0 && count >= 1 && count <= 200,
    placeholderData: keepPreviousData,
  });
}

/** What is to be bought. */
export function useShoppingList() {
  return useQuery({ queryKey: ["shopping-list", usePaper()], queryFn: () => data(api.GET("/api/restock/list")) });
}

/** Prices of ranges and boxes. */
export function usePrices() {
  return useQuery({ queryKey: ["prices"], queryFn: () => data(api.GET("/api/restock/prices")) });
}

/** What runs out next; of one drawing alone where it is given. */
export function useRunningOut(drawing?: number) {
  return useQuery({
    queryKey: ["running-out", drawing ?? 0],
    queryFn: () => data(api.GET("/api/restock/running-out", { params: { query: drawing === undefined ? {} : { drawing } } })),
  });
}

/** What one does at this station. */
export function useRestockActs() {
  const onSuccess = useChanged();
  const done = { onSuccess: () => onSuccess() };
  return {
    list: useMutation({ mutationFn: (body: Schemas["ListIn"]) => data(api.POST("/api/restock/list", { body })), ...done }),
    say: useMutation({
      mutationFn: ({ id, ...body }: Schemas["ListedIn"] & { id: number }) =>
        data(api.PUT("/api/restock/list/{wanted_id}", { params: { path: { wanted_id: id } }, body })),
      ...done,
    }),
    strike: useMutation({
      mutationFn: (id: number) => data(api.DELETE("/api/restock/list/{wanted_id}", { params: { path: { wanted_id: id } } })),
      ...done,
    }),
    bought: useMutation({ mutationFn: () => data(api.POST("/api/restock/bought")), ...done }),
    price: useMutation({ mutationFn: (body: Schemas["PriceIn"]) => data(api.PUT("/api/restock/prices", { body })), ...done }),
    currency: useMutation({ mutationFn: (currency: string) => data(api.PUT("/api/restock/currency", { body: { currency } })), ...done }),
    pack: useMutation({ mutationFn: (body: Schemas["PackIn"]) => data(api.POST("/api/restock/packing", { body })), ...done }),
    measure: useMutation({
      mutationFn: ({ pencil, length }: { pencil: number; length: number }) =>
        data(api.PUT("/api/pencils/{pencil_id}/length", { params: { path: { pencil_id: pencil } }, body: { length_mm: length } })),
      ...done,
    }),
  };
}
