import { QueryClient } from "@tanstack/react-query";
import { type Kind, Problem } from "./client";

/** What has been fetched, for the whole interface. */
export const queryClient = new QueryClient({
  defaultOptions: {
    queries: {
      refetchOnWindowFocus: false,
      retry: (count, error) => count < 2 && !(error instanceof Problem && error.status >= 400),
    },
  },
});

/** The kinds of line, where no component is there to ask for them; the bench shows once they are fetched. */
export const knownKinds = () => queryClient.getQueryData<Kind[]>(["kinds"]);
