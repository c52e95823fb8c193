import { useMutation } from "@tanstack/react-query";
import { api, data } from "../../api/client";

/** The Lab of a colour as a screen has it; the server works it out. */
export function useFromHex() {
  return useMutation({ mutationFn: (hex: string) => data(api.GET("/api/lab", { params: { query: { hex } } })) });
}
