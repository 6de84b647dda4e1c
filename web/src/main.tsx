import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { createBrowserRouter, RouterProvider } from "react-router";
import { Broken, Frame } from "@/app/Frame";
import { Worded } from "@/app/Worded";
import { BookEntryPage, BookPage } from "@/features/book/BookPage";
import { GuidePage } from "@/features/causes/GuidePage";
import { KitPage } from "@/features/kit/KitPage";
import { PlanPage } from "@/features/plan/PlanPage";
import { RunOfPlan } from "@/features/plan/RunOfPlan";
import { DebriefPage } from "@/features/practice/DebriefPage";
import { DeckPage } from "@/features/practice/DeckPage";
import { RunPage } from "@/features/run/RunPage";
import { SettingsPage } from "@/features/settings/SettingsPage";
import { Intro, StartPage } from "@/features/start/StartPage";
import { TablesPage } from "@/features/tables/TablesPage";
import { TodayPage } from "@/features/today/TodayPage";
import { Away } from "@/shared/api/client";
import "./styles.css";

const queries = new QueryClient({
  defaultOptions: {
    queries: {
      retry: (count, error) => error instanceof Away && count < 2,
      staleTime: 2_000,
      networkMode: "always",
    },
    mutations: { networkMode: "always" },
  },
});

// an empty shop begins with the first question
const today = <TodayPage empty={<StartPage intro={<Intro />} />} />;

const router = createBrowserRouter([
  {
    element: <Frame />,
    errorElement: <Broken />,
    children: [
      { path: "/", element: today },
      { path: "/plans/new", element: <StartPage /> },
      { path: "/plans/:planId", element: <PlanPage /> },
      { path: "/plans/:planId/run", element: <RunOfPlan /> },
      { path: "/runs/:runId", element: <RunPage /> },
      { path: "/book", element: <BookPage /> },
      { path: "/book/:runId", element: <BookEntryPage /> },
      { path: "/kit", element: <KitPage /> },
      { path: "/guide", element: <GuidePage /> },
      { path: "/practice", element: <DeckPage /> },
      { path: "/practice/debrief", element: <DebriefPage /> },
      { path: "/tables", element: <TablesPage /> },
      { path: "/settings", element: <SettingsPage /> },
      { path: "*", element: today },
    ],
  },
]);

const root = document.getElementById("root");
if (!root) throw new Error("no root");
createRoot(root).render(
  <StrictMode>
    <QueryClientProvider client={queries}>
      <Worded>
        <RouterProvider router={router} />
      </Worded>
    </QueryClientProvider>
  </StrictMode>,
);
