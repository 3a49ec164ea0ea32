import "@fontsource-variable/atkinson-hyperlegible-next";
import "@fontsource-variable/bricolage-grotesque";
import { CssBaseline, ThemeProvider } from "@mui/material";
import { MutationCache, QueryCache, QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter } from "react-router";
import { App } from "./App";
import { Refused } from "./api/client";
import { queries } from "./api/queries";
import { keepTold } from "./api/told";
import { theme } from "./theme";

/** A device that was signed out is asked to sign in again where it stands. */
function askWhoIsHere(error: Error) {
  if (error instanceof Refused && error.status === 401) cache.invalidateQueries({ queryKey: ["session"] });
}

// Always asked, also without the network: the service worker then gives what the household last answered. What was answered
// is kept as long as the page is open: a clean may be left alone for hours without a line.
const cache = new QueryClient({
  queryCache: new QueryCache({ onError: askWhoIsHere }),
  mutationCache: new MutationCache({ onError: askWhoIsHere }),
  defaultOptions: {
    queries: { retry: 1, staleTime: 5_000, gcTime: Number.POSITIVE_INFINITY, networkMode: "always" },
  },
});

// What came with the page is known before anything is drawn, so that it is drawn once.
keepTold("/api/session", (answer) => cache.setQueryData(queries.session().queryKey, answer));
keepTold("/api/household", (answer) => cache.setQueryData(queries.household().queryKey, answer));
keepTold("/api/counter", (answer) => cache.setQueryData(queries.counter().queryKey, answer));

if ("serviceWorker" in navigator && import.meta.env.PROD) navigator.serviceWorker.register("/worker.js");

const root = document.getElementById("root");
if (root) {
  createRoot(root).render(
    <StrictMode>
      <ThemeProvider theme={theme} defaultMode="system">
        <CssBaseline />
        <QueryClientProvider client={cache}>
          <BrowserRouter>
            <App />
          </BrowserRouter>
        </QueryClientProvider>
      </ThemeProvider>
    </StrictMode>,
  );
}
