import type { Detail } from "@/shared/api/client";
import { choices } from "@/shared/words";
import type { Enter } from "./useRun";

type Look = Extract<Detail, { kind: "look" }>;
type Bubbles = NonNullable<Look["bubbles"]>;

/** Where gas comes from: one press each. */
export function Gas({ enter, look }: { enter: Enter; look: string }) {
  return choices<Bubbles>("run.bubbles").map(([key, name]) => (
    <button
      key={key}
      type="button"
      className={`btn ${look}`}
      onClick={() => void enter({ kind: "look", bubbles: key, signs: [] })}
    >
      {name}
    </button>
  ));
}
