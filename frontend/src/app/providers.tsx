import { MantineProvider } from "@mantine/core";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { RouterProvider } from "react-router/dom";
import { theme } from "../theme/theme";
import { router } from "./router";

const queries = new QueryClient({
  defaultOptions: {
    // The server is this machine: there is no network to wait for and no reason to ask three times.
    queries: { networkMode: "always", retry: false, staleTime: 5_000, refetchOnWindowFocus: true },
    mutations: { networkMode: "always" },
  },
});

/** Everything that the pages need round them. */
export function Providers() {
  return (
    <MantineProvider theme={theme} forceColorScheme="light">
      <QueryClientProvider client={queries}>
        <RouterProvider router={router} />
      </QueryClientProvider>
    </MantineProvider>
  );
}
