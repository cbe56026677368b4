import "virtual:faces";
import "./theme.css";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter } from "react-router";
import { keepsPage } from "../device/keepsPage";
import { App } from "./App";
import { SettingsProvider } from "../ui/settings";

// Asked also without a connection: what was last answered is kept on the device.
const queries = new QueryClient({ defaultOptions: { queries: { retry: 1, staleTime: 5000, networkMode: "always" } } });

// A new version comes once every page of the one before is closed: never in the middle of a run.
if (keepsPage() && import.meta.env.PROD) void navigator.serviceWorker.register("/sw.js").catch(() => null);

createRoot(document.getElementById("root")!).render(
  <StrictMode>
    <QueryClientProvider client={queries}>
      <BrowserRouter>
        <SettingsProvider>
          <App />
        </SettingsProvider>
      </BrowserRouter>
    </QueryClientProvider>
  </StrictMode>,
);
