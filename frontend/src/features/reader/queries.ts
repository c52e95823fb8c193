import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, data, type Schemas } from "../../api/client";

export type Reader = Schemas["ReaderOut"];
export type Fault = Schemas["FaultIn"]["kind"];

const READER = ["reader"] as const;

/** What is known of the colour reader now. */
export function useReader() {
  return useQuery({ queryKey: READER, queryFn: () => data(api.GET("/api/reader")) });
}

/** Something that the reader is told; its answer is how it stands then. */
function useTell<Body>(send: (body: Body) => Promise<Reader>) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: send,
    onSuccess: (reader) => queries.setQueryData(READER, reader),
    onError: () => queries.invalidateQueries({ queryKey: READER }),
  });
}

/** Connect to a reader on this machine. */
export function useConnect() {
  return useTell((port: number) => data(api.POST("/api/reader/connect", { body: { port } })));
}

/** Start the simulated reader and connect to it. */
export function useStartSimulated() {
  return useTell(() => data(api.POST("/api/reader/simulated")));
}

/** Let go of the reader. */
export function useDisconnect() {
  return useTell(() => data(api.DELETE("/api/reader")));
}

/** Calibrate on the white tile. */
export function useCalibrate() {
  return useTell(() => data(api.POST("/api/reader/calibration")));
}

/** Let the simulated reader follow the session, or not. */
export function useFollow() {
  return useTell((follows: boolean) => data(api.PUT("/api/reader/follow", { body: { follows } })));
}

/** Say what lies under the simulated reader. */
export function useUnder() {
  return useTell((body: Schemas["UnderIn"]) => data(api.PUT("/api/reader/under", { body })));
}

/** Let the simulated reader fail at its next reading. */
export function useFault() {
  return useTell((kind: Fault) => data(api.POST("/api/reader/fault", { body: { kind } })));
}

/** Read once what lies under it; nothing is stored. */
export function useReadOnce() {
  return useMutation({ mutationFn: () => data(api.POST("/api/reader/reading")) });
}
