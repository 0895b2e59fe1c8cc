import "./styles.css";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { Tooltip } from "radix-ui";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter } from "react-router";
import { App } from "./app";
import { Problem } from "./api/client";

const client = new QueryClient({
  defaultOptions: {
    queries: {
      refetchOnWindowFocus: false,
      retry: (count, error) => count < 2 && !(error instanceof Problem && error.status >= 400),
    },
  },
});

const root = document.getElementById("root");
if (root) {
  createRoot(root).render(
    <StrictMode>
      <QueryClientProvider client={client}>
        <Tooltip.Provider delayDuration={400}>
          <BrowserRouter>
            <App />
          </BrowserRouter>
        </Tooltip.Provider>
      </QueryClientProvider>
    </StrictMode>,
  );
}
