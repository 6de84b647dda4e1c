import createClient from "openapi-fetch";
import { practiceId, timeNow } from "../clock";
import type { components, paths } from "./schema";

export type Schemas = components["schemas"];
export type Plan = Schemas["Plan"];
export type ReadOut = Schemas["ReadOut"];
export type AnswerOut = Schemas["AnswerOut"];
export type PlanOut = Schemas["PlanOut"];
export type FigureOut = Schemas["FigureOut"];
export type FindingOut = Schemas["FindingOut"];
export type OutlookOut = Schemas["OutlookOut"];
export type SurfaceHoursOut = Schemas["SurfaceHoursOut"];
export type SceneOut = Schemas["SceneOut"];
export type RunOut = Schemas["RunOut"];
export type ActionOut = Schemas["ActionOut"];
export type RackItemOut = Schemas["RackItemOut"];
export type PageOut = Schemas["PageOut"];
export type ShopSettings = Schemas["ShopSettings"];
export type Tank = Schemas["Tank"];
export type ThingOut = Schemas["ThingOut"];
export type Thing = Schemas["Thing"];
export type Entry = Schemas["Entry"];
type Detailed = Entry["detail"];
/** What is entered: its kind, and what differs from its defaults, which the server knows. */
export type Detail = {
  [K in Detailed["kind"]]: Pick<Extract<Detailed, { kind: K }>, "kind"> &
    Partial<Extract<Detailed, { kind: K }>>;
}[Detailed["kind"]];
export type Problem = Schemas["Problem"];

export type Both = Schemas["BothOut"];
export type Choices = Record<string, "mine" | "theirs">;

const EARLY_MS = 20_000; // after which what was asked at the start says nothing of now

/** What `first.js` asked for already, each given out once. */
function early(request: Request): Promise<Response> | undefined {
  if (!window.early?.size) return undefined;
  if (practiceId() || performance.now() > EARLY_MS) window.early.clear();
  const { pathname, search } = new URL(request.url);
  const path = pathname + search;
  const found = request.method === "GET" ? window.early.get(path) : undefined;
  window.early.delete(path);
  return found;
}

declare global {
  interface Window {
    early?: Map<string, Promise<Response>>;
  }
}

export const api = createClient<paths>({
  baseUrl: "/",
  fetch: (request) => early(request) ?? fetch(request),
});

/** What this device takes the time to be: the shop tells entries by it, whoever's clock is right. */
export const deviceNow = () => ({ "Device-Now": timeNow().toISOString() });

api.use({
  onRequest({ request }) {
    for (const [name, value] of Object.entries(deviceNow())) request.headers.set(name, value);
    if (practiceId()) request.headers.set("Practice", practiceId());
    return request;
  },
});

/** What the server refused, in its own words. */
export class Refused extends Error {
  constructor(readonly problem: Problem) {
    super(problem.detail || problem.title);
  }
}

/** The server was reached and broke: a fault of Yellow Bath, which says nothing of what was sent. */
export class Broken extends Error {
  constructor(problem?: Partial<Problem>) {
    super(
      [problem?.title ?? "Something broke in Yellow Bath itself.", problem?.remedy]
        .filter(Boolean)
        .join(" "),
    );
  }
}

/** A hand ended what was waited for. */
export class Stopped extends Error {}

/** The server could not be reached. */
export class Away extends Error {
  constructor() {
    super("The shop's computer does not answer.");
  }
}

/** The shop asks for its passcode; the frame asks for it, and what was typed waits. */
export class Locked extends Away {
  constructor() {
    super();
    this.message = "The shop asks for its passcode.";
  }
}

/** Too much or too often: to be tried again later, and said so. */
export class Later extends Away {
  constructor(problem?: Problem) {
    super();
    if (problem?.detail) this.message = problem.detail;
  }
}

const listeners = new Set<() => void>();

/** Be told whenever the shop asks for its passcode. */
export function onLocked(tell: () => void): () => void {
  listeners.add(tell);
  return () => void listeners.delete(tell);
}

let openings = 0;

/** The passcode was given: what was asked before that says nothing of the door any more. */
export function opened() {
  openings += 1;
}

function locked(asked: number) {
  if (asked === openings) for (const tell of listeners) tell();
}

// answers that say "not now" and nothing about what was sent
const LATER = new Set([401, 429, 503, 507]);
// a door in between says these while the server is away
const NOBODY = new Set([0, 502, 504]);

/** What an answer that is none means: refused, broken, away or later. */
export function failure(status: number, problem?: Partial<Problem>): Error {
  if (LATER.has(status)) return new Later(problem as Problem | undefined);
  if (NOBODY.has(status)) return new Away();
  if (status >= 500) return new Broken(problem);
  if (problem?.title) return new Refused(problem as Problem);
  return new Error(`The shop's computer answered ${status}.`);
}

/** Unwrap a call: data, or a Refused/Away error. */
export async function ask<T>(
  call: Promise<{ data?: T; error?: unknown; response: Response }>,
  atDoor: "ask" | "stay" = "ask",
): Promise<T> {
  const asked = openings;
  let result: { data?: T; error?: unknown; response: Response };
  try {
    result = await call;
  } catch {
    throw new Away();
  }
  if (result.data !== undefined) return result.data;
  const problem = result.error as Problem | undefined;
  if (result.response.status === 401 && atDoor === "ask") {
    locked(asked);
    throw new Locked();
  }
  if (atDoor === "stay" && problem?.title) throw new Refused(problem);
  throw failure(result.response.status, problem);
}

/** The problem document in an answer, where it is one. */
export async function problemIn(response: Response): Promise<Partial<Problem> | undefined> {
  try {
    return (await response.json()) as Partial<Problem>;
  } catch {
    return undefined; // words of a door in between
  }
}

/** The same for a call that answers nothing. */
export async function sent(call: Promise<{ error?: unknown; response: Response }>): Promise<void> {
  await ask(call.then((made) => ({ ...made, ...(made.response.ok && { data: true }) })));
}

/** How soon the rack is asked for again [ms]: at once where a bath on it is still worked out. */
export const rackAgain = (query: { state: { data?: RackItemOut[] | undefined } }) =>
  query.state.data?.some((r) => r.checking) ? 1_000 : 20_000;

export const keys = {
  unread: ["unread"] as const,
  doubted: ["doubted"] as const,
  session: ["session"] as const,
  rack: ["rack"] as const,
  plans: ["plans"] as const,
  listed: (standing: string, find: string) => ["plans", "listed", standing, find] as const,
  plan: (id: string) => ["plans", "one", id] as const,
  run: (id: string) => ["runs", id] as const,
  link: (id: string) => ["links", id] as const,
  book: ["book"] as const,
  page: (id: string) => ["book", id] as const,
  settings: ["settings"] as const,
  kit: ["kit"] as const,
  kitOf: (kind: string, find: string) => ["kit", "of", kind, find] as const,
  tables: (system: string) => ["tables", system] as const,
};
