import { useId } from "react";
import { Marks } from "@/shared/form/Marks";
import { Radios } from "@/shared/form/Radios";
import { type Option, options, word } from "@/shared/words";
import type { First } from "./useFirst";

type Several = "coats" | "parts" | "metals";
type One = "side" | "use" | "vessel_of";

const CHOICES: Readonly<Record<Several | One, () => readonly Option[]>> = {
  coats: () => options("begin.coats"),
  parts: () => options("piece.parts"),
  metals: () => options("begin.metals"),
  side: () => options("begin.side"),
  use: () => options("piece.use"),
  vessel_of: () => options("tank.material"),
};

/** A question that is asked only where shape, name or vessel makes it likely. */
export function Likely({
  name,
  told,
  first,
  say,
}: {
  name: Several | One;
  told: readonly string[] | undefined;
  first: First;
  say: (more: Partial<First>) => void;
}) {
  const id = useId();
  // what was answered stays in sight
  if (!told?.includes(name) && first[name] == null) return null;
  return (
    <div data-likely={name}>
      <h3 id={id} className="mb-1 text-sm font-semibold">
        {word(`begin.field.${name}`)}
      </h3>
      {name === "side" || name === "use" || name === "vessel_of" ? (
        <Radios
          labelledby={id}
          at={name}
          value={first[name] ?? ""}
          options={CHOICES[name]()}
          onPick={(value) => say({ [name]: value })}
        />
      ) : (
        <fieldset aria-labelledby={id}>
          <Marks
            value={first[name] ?? null}
            options={CHOICES[name]()}
            none={word("begin.none")}
            onPick={(value) => say({ [name]: value })}
          />
        </fieldset>
      )}
    </div>
  );
}
