import { freshId } from "./outbox";

/**
 * A write is made once: pressed twice, or sent again after a connection that was lost in the middle,
 * it goes by the key it had, and the server keeps it once.
 */
interface Press {
  key: string;
  content: string;
  /** When it was done [ms]; until then every press is the same one. */
  done?: number;
}

const presses = new Map<string, Press>();
const TWICE = 1200; // ms within which a second press is the first one's

/** The header by which a write of ``what`` is known; another content is another write. */
export function onceKey(what: string, content: unknown, now = Date.now()) {
  const text = JSON.stringify(content);
  const last = presses.get(what);
  const same = last?.content === text && (last.done === undefined || now - last.done < TWICE);
  const press = same ? last : { key: freshId(), content: text };
  presses.set(what, press);
  return { "Idempotency-Key": press.key };
}

/** The write of ``what`` was made: the next press but a double one is another. */
export function onceDone(what: string, now = Date.now()) {
  const last = presses.get(what);
  if (last) last.done ??= now;
}

/** Make a write once, by the header that it is handed. */
export async function once<T>(
  what: string,
  content: unknown,
  make: (headers: { "Idempotency-Key": string }) => Promise<T>,
): Promise<T> {
  const made = await make(onceKey(what, content));
  onceDone(what);
  return made;
}
