import { Away, ask, deviceNow, problemIn } from "./client";

/** Post something that is answered line by line; whoever aborts ends it on the server too. */
export async function lines<T>(
  path: string,
  {
    body,
    kind = "application/json",
    signal,
  }: { body: BodyInit; kind?: string; signal: AbortSignal },
  each: (line: T) => void,
): Promise<void> {
  const response = await fetch(path, {
    method: "POST",
    headers: { "Content-Type": kind, ...deviceNow() },
    body,
    signal,
  });
  // told as everywhere: the passcode is asked for, "not now" is no refusal
  if (!response.ok) await ask(problemIn(response).then((error) => ({ error, response })));
  if (!response.body) throw new Away();
  const reader = response.body.pipeThrough(new TextDecoderStream()).getReader();
  let rest = "";
  for (;;) {
    const { done, value } = await reader.read();
    if (done) return;
    const parts = (rest + value).split("\n");
    rest = parts.pop() ?? "";
    for (const part of parts) each(JSON.parse(part) as T);
  }
}
