import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { createBrowserRouter, RouterProvider } from "react-router";
import { Broken, Frame } from "@/app/Frame";
import { fetchAtRest, pages } from "@/app/pages";
import { WORDS, Worded } from "@/app/Worded";
import { Away, api, ask, keys } from "@/shared/api/client";
import { Loading } from "@/shared/ui/States";
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

// what every page wants, asked for beside its code and not after it
void queries.prefetchQuery(WORDS);
void queries.prefetchQuery({
  queryKey: keys.settings,
  queryFn: () => ask(api.GET("/api/shop")),
});
void queries.prefetchQuery({ queryKey: keys.rack, queryFn: () => ask(api.GET("/api/runs")) });

const router = createBrowserRouter([
  {
    element: <Frame />,
    errorElement: <Broken />,
    hydrateFallbackElement: <Loading what="the page" />,
    children: pages.map((page) => ({ ...page, errorElement: <Broken /> })),
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
fetchAtRest();
