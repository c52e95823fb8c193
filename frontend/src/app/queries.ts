import { QueryClient } from "@tanstack/react-query";

/** What was asked of the server and is kept. */
export const queries = new QueryClient({
  defaultOptions: {
    // The server is this machine: there is no network to wait for and no reason to ask three times.
    queries: { networkMode: "always", retry: false, staleTime: 5_000, refetchOnWindowFocus: true },
    mutations: { networkMode: "always" },
  },
});
