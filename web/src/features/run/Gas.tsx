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

/** Where plus is: by fresh crust, or by the sign that a voltmeter shows. */
export function Poles({ ask, enter }: { ask: "crust" | "poles"; enter: Enter }) {
  return (
    <div className="mt-3 grid gap-2 sm:grid-cols-3">
      {choices(`run.${ask}`).map(([outcome, name]) => (
        <button
          key={outcome}
          type="button"
          className="btn min-h-14 !px-2"
          onClick={() => void enter({ kind: "asked", ask, outcome })}
        >
          {name}
        </button>
      ))}
    </div>
  );
}
