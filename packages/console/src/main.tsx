import { MutationCache, QueryCache, QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter } from "react-router";
import { App } from "./App.js";
import { applyDensity, applyTheme, storedDensity, storedTheme } from "./frame/theme.js";
import { isSignedOut, noteFailure } from "./service/connection.js";
import "./style.css";

applyTheme(storedTheme());
applyDensity(storedDensity());

const queries = new QueryClient({
  // Wherever a session ends or the service is away, the page says so, and goes on where it was.
  queryCache: new QueryCache({ onError: noteFailure }),
  mutationCache: new MutationCache({ onError: noteFailure }),
  defaultOptions: {
    queries: {
      // A wrong value stays wrong; only a service that cannot be reached is tried again.
      retry: (count, error) =>
        count < 2 && !isSignedOut(error) && "status" in error && error.status === 0,
      refetchOnWindowFocus: false,
      // The service may be on this machine, whatever the browser says of its connection.
      networkMode: "always",
    },
  },
});

const root = document.getElementById("root");
if (root === null) throw new Error("the page has no root");
createRoot(root).render(
  <StrictMode>
    <QueryClientProvider client={queries}>
      {/* At once: an act right after another goes on from what that one led to. */}
      <BrowserRouter useTransitions={false}>
        <App />
      </BrowserRouter>
    </QueryClientProvider>
  </StrictMode>,
);
