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
  localStorage: {
    getItem: (key: string) => held.get(key) ?? null,
    setItem: (key: string, value: string) => void held.set(key, value),
    removeItem: (key: string) => void held.delete(key),
  },
  fetch: async (input: Request | string, init?: RequestInit) => {
    return answer(input instanceof Plain ? input : new OwnRequest(input, init));
  },
});
