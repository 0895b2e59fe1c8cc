import { QueryClient } from "@tanstack/react-query";
import { Problem } from "./client";

/** What has been fetched, for the whole interface. */
export const queryClient = new QueryClient({
  defaultOptions: {
    queries: {
      refetchOnWindowFocus: false,
      retry: (count, error) => count < 2 && !(error instanceof Problem && error.status >= 400),
    },
  },
});
