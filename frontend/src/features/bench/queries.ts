import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { api, data, type Schemas } from "../../api/client";
import { WATCHING } from "../../shared/queries/watching";
import { useChanged } from "../../shared/queries/collection";

export type Bench = Schemas["BenchOut"];
export type Step = Schemas["StepAtBenchOut"];
export type ToLay = Schemas["ToLayOut"];
export type Entry = Schemas["EntryOut"];
export type Clock = Schemas["ClockOut"];
export type Drying = Schemas["DryingOut"];
export type NewEntry = Partial<Schemas["EntryIn"]>;

// Two who work at one bench see each other within two seconds.
const PULSE_MS = 1500;
// The clock runs while something happens; it is told so often at most.
const ALIVE_MS = 20_000;

const path = (drawing: number) => ({ path: { drawing_id: drawing } });
const BENCH = "bench";

/** What holds the clock's own buttons. */
export const CLOCK = "[data-clock]";

/** The bench of a drawing, asked for anew as soon as anybody changes it. */
export function useBench(drawing: number) {
  const queries = useQueryClient();
  const bench = useQuery({
    queryKey: [BENCH, drawing],
    queryFn: () => data(api.GET("/api/drawings/{drawing_id}/bench", { params: path(drawing) })),
    placeholderData: keepPreviousData,
  });
  const pulse = useQuery({
    queryKey: [WATCHING, BENCH, drawing],
    queryFn: () => data(api.GET("/api/drawings/{drawing_id}/bench/pulse", { params: path(drawing) })),
    refetchInterval: PULSE_MS,
  });
  const [seen, now] = [bench.data?.version, pulse.data?.version];
  useEffect(() => {
    if (seen !== undefined && now !== undefined && now > seen) void queries.invalidateQueries({ queryKey: [BENCH] });
  }, [queries, seen, now]);
  return { ...bench, clock: pulse.data === undefined ? (bench.data?.clock ?? null) : pulse.data.clock };
}

/** A step that is looked at without going there. */
export function useLookAtStep(drawing: number, step: number | null) {
  return useQuery({
    queryKey: [BENCH, drawing, "step", step],
    queryFn: () =>
      data(api.GET("/api/drawings/{drawing_id}/bench/step", { params: { ...path(drawing), query: { step: step ?? 0 } } })),
    enabled: step !== null,
  });
}

/** What a code, a name or the tray's number means, asked once. */
export function useCalled(drawing: number) {
  const queries = useQueryClient();
  return (q: string) =>
    queries.query({
      queryKey: [BENCH, drawing, "called", q],
      queryFn: () => data(api.GET("/api/drawings/{drawing_id}/log/called", { params: { ...path(drawing), query: { q } } })),
    });
}

/** The whole log. */
export function useLog(drawing: number, wanted: boolean) {
  return useQuery({
    queryKey: [BENCH, drawing, "log"],
    queryFn: () => data(api.GET("/api/drawings/{drawing_id}/log", { params: path(drawing) })),
    enabled: wanted,
  });
}

/** What was done, as a recipe. */
export function useAsDone(drawing: number) {
  return useQuery({
    queryKey: [BENCH, drawing, "as done"],
    queryFn: () => data(api.GET("/api/drawings/{drawing_id}/as-done", { params: path(drawing) })),
    retry: false,
  });
}

/** Tells the clock that something happens, by key or tap; what lets it stand still or run is no such thing. */
export function useAlive(drawing: number, going: boolean) {
  useEffect(() => {
    if (!going) return;
    let last = 0;
    const alive = (event: Event) => {
      const clock = event instanceof KeyboardEvent ? /^z$/i.test(event.key) : event.target instanceof Element && event.target.closest(CLOCK) !== null;
      if (clock) return;
      if (performance.now() - last < ALIVE_MS && last > 0) return;
      last = performance.now();
      void api.POST("/api/drawings/{drawing_id}/clock/alive", { params: path(drawing) }).catch(() => undefined);
    };
    const on = ["keydown", "pointerdown"] as const;
    for (const event of on) window.addEventListener(event, alive);
    return () => {
      for (const event of on) window.removeEventListener(event, alive);
    };
  }, [drawing, going]);
}

/** Keeps the screen from going dark, where the browser can. */
export function useAwake(going: boolean) {
  useEffect(() => {
    if (!going || !("wakeLock" in navigator)) return;
    let lock: WakeLockSentinel | undefined;
    let over = false;
    const hold = () => {
      if (document.visibilityState !== "visible") return;
      navigator.wakeLock.request("screen").then(
        (held) => {
          if (over) void held.release();
          else lock = held;
        },
        () => undefined,
      );
    };
    hold();
    document.addEventListener("visibilitychange", hold);
    return () => {
      over = true;
      document.removeEventListener("visibilitychange", hold);
      void lock?.release();
    };
  }, [going]);
}

/** Whatever is done at the bench. */
export function useAtBench(drawing: number) {
  const changed = useChanged();
  const params = path(drawing);
  const done = { onSettled: () => changed() };
  return {
    begin: useMutation({ mutationFn: () => data(api.POST("/api/drawings/{drawing_id}/sittings", { params })), ...done }),
    end: useMutation({ mutationFn: () => data(api.POST("/api/drawings/{drawing_id}/sittings/end", { params })), ...done }),
    on: useMutation({
      mutationFn: (body: Schemas["StepIn"]) => data(api.POST("/api/drawings/{drawing_id}/bench/on", { params, body })),
      ...done,
    }),
    back: useMutation({ mutationFn: () => data(api.POST("/api/drawings/{drawing_id}/bench/back", { params })), ...done }),
    place: useMutation({
      mutationFn: (body: Schemas["PlaceIn"]) => data(api.PUT("/api/drawings/{drawing_id}/bench/place", { params, body })),
      ...done,
    }),
    log: useMutation({
      mutationFn: (entry: NewEntry) => {
        const body: Schemas["EntriesIn"] = { entries: [{ key: crypto.randomUUID(), kind: "pencil", pressure: "", layers: 0, note: "", ...entry }] };
        return data(api.POST("/api/drawings/{drawing_id}/log", { params, body }));
      },
      ...done,
    }),
    untick: useMutation({
      mutationFn: (body: Schemas["UntickIn"]) => data(api.POST("/api/drawings/{drawing_id}/log/untick", { params, body })),
      ...done,
    }),
    wet: useMutation({
      mutationFn: (body: Omit<Schemas["WetIn"], "key">) =>
        data(api.POST("/api/drawings/{drawing_id}/drying", { params, body: { key: crypto.randomUUID(), ...body } })),
      ...done,
    }),
    dry: useMutation({
      mutationFn: ({ id, ...body }: Schemas["DryIn"] & { id: number }) =>
        data(api.PUT("/api/drying/{drying_id}", { params: { path: { drying_id: id } }, body })),
      ...done,
    }),
    pause: useMutation({ mutationFn: () => data(api.POST("/api/drawings/{drawing_id}/clock/pause", { params })), ...done }),
    resume: useMutation({ mutationFn: () => data(api.POST("/api/drawings/{drawing_id}/clock/alive", { params })), ...done }),
    giveBack: useMutation({ mutationFn: () => data(api.POST("/api/drawings/{drawing_id}/clock/give-back", { params })), ...done }),
    tick: useMutation({
      mutationFn: (body: Schemas["PreparationTickIn"]) => data(api.PUT("/api/drawings/{drawing_id}/preparation", { params, body })),
      ...done,
    }),
    addTask: useMutation({ mutationFn: (words: string) => data(api.POST("/api/preparation", { body: { words } })), ...done }),
    removeTask: useMutation({
      mutationFn: (id: number) => data(api.DELETE("/api/preparation/{own_id}", { params: { path: { own_id: id } } })),
      ...done,
    }),
    correct: useMutation({
      mutationFn: ({ id, ...body }: Schemas["EntryEditIn"] & { id: number }) =>
        data(api.PUT("/api/log/{entry_id}", { params: { path: { entry_id: id } }, body })),
      ...done,
    }),
    remove: useMutation({
      mutationFn: (id: number) => data(api.DELETE("/api/log/{entry_id}", { params: { path: { entry_id: id } } })),
      ...done,
    }),
    section: useMutation({
      mutationFn: ({ id, ...body }: Schemas["SectionIn"] & { id: number }) =>
        data(api.PUT("/api/sections/{section_id}", { params: { path: { section_id: id } }, body })),
      ...done,
    }),
    keep: useMutation({
      mutationFn: (text: string) => data(api.POST("/api/drawings/{drawing_id}/as-done", { params, body: { text } })),
      ...done,
    }),
  };
}

export type AtBench = ReturnType<typeof useAtBench>;

/** The first thing that went wrong among all that is done here. */
export function problemOf(acts: AtBench): Error | null {
  return Object.values(acts).reduce<Error | null>((found, act) => found ?? act.error, null);
}
