import "@fontsource/b612/latin-400.css";
import "@fontsource/b612/latin-700.css";
import "@fontsource/barlow/latin-600.css";
import "@fontsource/barlow/latin-700.css";
import "./look/tokens.css";
import "./look/base.css";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import type { ComponentType } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter } from "react-router";
import { Refusal } from "./api/client";
import { Themed } from "./look/Themed";
import { startLanguage } from "./shared/say";

const client = new QueryClient({
  defaultOptions: {
    queries: {
      retry: (failures, error) => !(error instanceof Refusal) && failures < 2,
      refetchOnWindowFocus: true,
      networkMode: "always",
    },
    mutations: { networkMode: "always" },
  },
});

if (navigator.maxTouchPoints > 0) document.documentElement.dataset.touch = "";

const root = document.getElementById("root");
if (!root) throw new Error("the page has no root");
// pages name what they show when they are read in: the language comes first
await startLanguage();
// two pages have no sign-in: a wall shows the shop by a key of its own, and a credential is checked by whoever is shown it
const OPEN: Record<string, () => Promise<{ default: ComponentType }>> = {
  "/wall": () => import("./pages/session/WallPage"),
  "/verify": () => import("./pages/skills/VerifyPage"),
};
const open = OPEN[location.pathname];
const App = open ? (await open()).default : (await import("./shell/App")).App;
createRoot(root).render(
  <QueryClientProvider client={client}>
    <BrowserRouter>
      <Themed>
        <App />
      </Themed>
    </BrowserRouter>
  </QueryClientProvider>,
);

if ("serviceWorker" in navigator && import.meta.env.PROD) {
  // without it everything works but a reload while the network is away
  navigator.serviceWorker.register("/sw.js", { type: "module" }).catch(() => undefined);
}
