import { QueryClient } from "@tanstack/react-query";
import { type Basics, Problem } from "./client";

/** What has been fetched, for the whole interface. */
export const queryClient = new QueryClient({
  defaultOptions: {
    queries: {
      refetchOnWindowFocus: false,
      retry: (count, error) => count < 2 && !(error instanceof Problem && error.status >= 400),
    },
  },
});

/** What designs are made of, where no component is there to ask for it. */
export const knownBasics = () => queryClient.getQueryData<Basics>(["basics"]);
export const knownKinds = () => knownBasics()?.kinds;
