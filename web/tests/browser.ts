/** What of a browser the page's modules lean on, so that Node can run them. */

type Answer = (request: Request) => Response | Promise<Response>;

const held = new Map<string, string>();
let answer: Answer = () => new Response(null, { status: 404 });

/** What the server would say from now on. */
export function serve(next: Answer) {
  answer = next;
}

export const json = (body: unknown, status = 200): Response =>
  new Response(JSON.stringify(body), {
    status,
    headers: { "content-type": status < 400 ? "application/json" : "application/problem+json" },
  });

function storage(of: Map<string, string>) {
  return {
    getItem: (key: string) => of.get(key) ?? null,
    setItem: (key: string, value: string) => void of.set(key, value),
    removeItem: (key: string) => void of.delete(key),
    key: (n: number) => [...of.keys()][n] ?? null,
    get length() {
      return of.size;
    },
  };
}

const Plain = globalThis.Request;

/** A request of the page's own address, where none is named. */
class OwnRequest extends Plain {
  constructor(input: Request | URL | string, init?: RequestInit) {
    super(typeof input === "string" ? new URL(input, "http://shop.test") : input, init);
  }
}

Object.assign(globalThis, {
  Request: OwnRequest,
  window: new EventTarget(),
  addEventListener: () => undefined,
  localStorage: storage(held),
  sessionStorage: storage(new Map()),
  // what beats on its own keeps no test waiting
  setInterval: () => 0,
  fetch: async (input: Request | string, init?: RequestInit) => {
    return answer(input instanceof Plain ? input : new OwnRequest(input, init));
  },
});
