import { keepPreviousData, useMutation, useQuery, useQueryClient, type Query } from "@tanstack/react-query";
import { api, data, type Schemas } from "../../api/client";
import type { Closest } from "../vocabulary";

export type Context = Schemas["ContextOut"];
export type Paper = Schemas["PaperOut"];

const CONTEXT = ["collection"] as const;

/** How the shelves' queries begin. */
export const SHELVES = ["tidy"] as const;

/** What holds everywhere, as a question to the server. */
export const COLLECTION = { queryKey: CONTEXT, queryFn: () => data(api.GET("/api/collection")) };

/** What holds everywhere: papers, the one at hand, closest, counts. */
export function useCollection() {
  return useQuery(COLLECTION);
}

/** The paper at hand and what closest means; undefined until they are known. */
export function useSetting(): { paper: Paper; closest: Closest } | undefined {
  const { data: context } = useCollection();
  const paper = context?.papers.find((p) => p.id === context.paper_id);
  if (context === undefined || paper === undefined) return undefined;
  return { paper, closest: context.closest };
}

/** Change the paper at hand or closest; the page follows at once, before the server has answered. */
export function useSettings() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (body: Schemas["SettingsIn"]) => data(api.PUT("/api/settings", { body })),
    onMutate: (body) => {
      queries.setQueryData<Context>(CONTEXT, (old) =>
        old === undefined
          ? old
          : {
              ...old,
              paper_id: body.paper_id ?? old.paper_id,
              closest: body.closest ?? old.closest,
              leads: body.leads ?? old.leads,
            },
      );
    },
    onSuccess: async (context, body) => {
      queries.setQueryData(CONTEXT, context);
      // What is owned, at hand or a stub is another matter now.
      if (body.with_me != null || body.stub_mm != null) await queries.invalidateQueries();
    },
    onError: () => queries.invalidateQueries({ queryKey: CONTEXT }),
  });
}

/** What is shown of something that is being removed: its page is about to be left, and nobody asks for it any more. */
export const leaving = new WeakSet<Query>();

/** After a change: ask anew for all that may have changed. `gone` names what was removed and would not be found. */
export function useChanged() {
  const queries = useQueryClient();
  return async (gone: readonly string[] = []) => {
    await queries.invalidateQueries({ predicate: ({ queryKey }) => gone.includes(String(queryKey[0])), refetchType: "none" });
    await queries.invalidateQueries({ predicate: ({ queryKey }) => !gone.includes(String(queryKey[0])) });
  };
}

/** What says what there still is, and how it stands, before anything is asked about one of them. */
const FIRST = [SHELVES, ["recipe"]];

/** Take back a change. What it had added is gone from the page before anything is asked about it again. */
export function useUndo() {
  const queries = useQueryClient();
  const changed = useChanged();
  return useMutation({
    mutationFn: (id: number) =>
      data(api.POST("/api/changes/{change_id}/undo", { params: { path: { change_id: id } } })),
    onSuccess: async () => {
      await Promise.all(FIRST.map((queryKey) => queries.refetchQueries({ queryKey, type: "active" })));
      await new Promise((drawn) => requestAnimationFrame(() => setTimeout(drawn)));
      await changed();
    },
  });
}

export type Hit = Schemas["HitOut"];

function finding(text: string, paper: number) {
  return {
    queryKey: ["find", text, paper],
    queryFn: () => data(api.GET("/api/find", { params: { query: { q: text, paper } } })),
  };
}

/** The paper whose marks the finder shows. */
function usePaperAtHand(): number {
  return useCollection().data?.paper_id ?? 0;
}

/** The answer for exactly this text, for whoever presses Enter before it is shown. */
export function useFindNow() {
  const queries = useQueryClient();
  const paper = usePaperAtHand();
  return (text: string) => queries.query(finding(text, paper));
}

/** What a text in the finder can mean. */
export function useFind(text: string) {
  const paper = usePaperAtHand();
  return useQuery({
    ...finding(text, paper),
    enabled: text.trim() !== "" && paper !== 0,
    placeholderData: keepPreviousData,
  });
}
