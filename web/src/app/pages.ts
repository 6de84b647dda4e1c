import type { ComponentType } from "react";
import type { RouteObject } from "react-router";
import { Away } from "@/shared/api/client";

type Page = { Component: ComponentType };

const front = async () => ({
  Component: (await import("./FrontPage")).FrontPage,
});
const runPage = async () => ({ Component: (await import("@/features/run/RunPage")).RunPage });

const book = () => import("@/features/book/BookPage");

/** Each page by its path, with what brings its code: it comes with its first visit. */
const PAGES: readonly [path: string, load: () => Promise<Page>][] = [
  ["/", front],
  ["/runs/:runId", runPage],
  [
    "/plans/new",
    async () => ({ Component: (await import("@/features/start/StartPage")).StartPage }),
  ],
  [
    "/plans/:planId",
    async () => ({ Component: (await import("@/features/plan/PlanPage")).PlanPage }),
  ],
  [
    "/plans/:planId/run",
    async () => ({ Component: (await import("@/features/plan/RunOfPlan")).RunOfPlan }),
  ],
  ["/book", async () => ({ Component: (await book()).BookPage })],
  ["/book/:runId", async () => ({ Component: (await book()).BookEntryPage })],
  ["/kit", async () => ({ Component: (await import("@/features/kit/KitPage")).KitPage })],
  ["/guide", async () => ({ Component: (await import("@/features/causes/GuidePage")).GuidePage })],
  [
    "/practice",
    async () => ({ Component: (await import("@/features/practice/DeckPage")).DeckPage }),
  ],
  [
    "/practice/debrief",
    async () => ({ Component: (await import("@/features/practice/DebriefPage")).DebriefPage }),
  ],
  [
    "/tables",
    async () => ({ Component: (await import("@/features/tables/TablesPage")).TablesPage }),
  ],
  [
    "/settings",
    async () => ({ Component: (await import("@/features/settings/SettingsPage")).SettingsPage }),
  ],
  ["*", front],
];

const ANEW = "yb.anew"; // when the page began anew for want of its code
const AGAIN_MS = 60_000; // not sooner than so much later: code may be gone for good

/** A page's code. Where the shop is away that is said; after an update of it the page, whose files
 * are gone, begins anew. */
async function fetched(load: () => Promise<Page>): Promise<Page> {
  try {
    return await load();
  } catch (error) {
    const shop = await fetch("/icon.svg", { cache: "no-store" }).catch(() => undefined);
    if (!shop?.ok) throw new Away();
    if (Date.now() - Number(sessionStorage.getItem(ANEW) ?? 0) < AGAIN_MS) throw error;
    sessionStorage.setItem(ANEW, String(Date.now()));
    location.reload();
    return new Promise(() => {});
  }
}

export const pages: RouteObject[] = PAGES.map(([path, load]) => ({
  path,
  lazy: () => fetched(load),
}));

const REST_MS = 4_000; // after everything of the first page has come

/** The code of a bath's page while nothing else is wanted: in the shed it is there at once, also
 * where the shop's computer no longer answers. */
export function fetchAtRest() {
  const fetchRun = () => void runPage().catch(() => undefined);
  window.addEventListener("load", () => setTimeout(fetchRun, REST_MS));
}
