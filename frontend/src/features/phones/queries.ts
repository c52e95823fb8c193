import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, data, type Schemas } from "../../api/client";

export type Phones = Schemas["PhonesOut"];

const PHONES = ["phones"] as const;
const LOOK_MS = 2000;

/** Whether phones may come in; looked at again and again while they may. */
export function usePhones() {
  return useQuery({
    queryKey: PHONES,
    queryFn: () => data(api.GET("/api/phones")),
    refetchInterval: (query) => (query.state.data?.is_open === true ? LOOK_MS : false),
  });
}

function useAnswer() {
  const queries = useQueryClient();
  return { onSuccess: (now: Phones) => queries.setQueryData(PHONES, now) };
}

/** Let phones in, shut them out, or ask for another code. */
export function usePhonesStep() {
  return useMutation({
    mutationFn: (step: "open" | "close" | "code") =>
      step === "open"
        ? data(api.POST("/api/phones/open"))
        : step === "close"
          ? data(api.POST("/api/phones/close"))
          : data(api.POST("/api/phones/code")),
    ...useAnswer(),
  });
}

/** Forget one phone. */
export function useSendAway() {
  return useMutation({
    mutationFn: (id: number) => data(api.DELETE("/api/phones/{phone_id}", { params: { path: { phone_id: id } } })),
    ...useAnswer(),
  });
}
