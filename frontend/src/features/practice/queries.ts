import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, data, type Schemas } from "../../api/client";

export type Round = Schemas["RoundOut"];
export type Question = Schemas["QuestionOut"];
export type Item = Schemas["AskedItemOut"];
export type Told = Schemas["ToldOut"];
export type Drill = Question["drill"];
export type DrillProgress = Schemas["DrillProgressOut"];

const ROUND = ["practice-round"] as const;
const PROGRESS = ["practice-progress"] as const;

/** The round that is on, with its question. */
export function useRound() {
  return useQuery({ queryKey: ROUND, queryFn: () => data(api.GET("/api/practice/round")) });
}

/** What all answers tell. */
export function useProgress() {
  return useQuery({ queryKey: PROGRESS, queryFn: () => data(api.GET("/api/practice/progress")) });
}

/** Begin a round, answer, end it. */
export function usePracticeActs() {
  const queries = useQueryClient();
  const shown = (round: Round) => queries.setQueryData(ROUND, round);
  return {
    begin: useMutation({ mutationFn: (drills: Drill[]) => data(api.POST("/api/practice/round", { body: { drills } })), onSuccess: shown }),
    answer: useMutation({
      mutationFn: (body: Schemas["AnswerIn"]) => data(api.POST("/api/practice/answers", { body })),
      onSuccess: () => queries.invalidateQueries({ queryKey: PROGRESS }),
    }),
    end: useMutation({ mutationFn: () => data(api.DELETE("/api/practice/round")), onSuccess: shown }),
    next: () => queries.invalidateQueries({ queryKey: ROUND }),
  };
}
