import { type ReactNode, useState } from "react";
import { api, ask, keys, type ThingOut } from "@/shared/api/client";
import { usePaged } from "@/shared/api/paged";
import { useRested } from "@/shared/useRested";
import { word } from "@/shared/words";

const SHOWN = 24;

/** Things of a kind to pick from; where the kit has many of it, a field to find one by its name. */
export function useKit(kind: string): { things: ThingOut[]; find: ReactNode } {
  const [typed, setTyped] = useState("");
  const find = useRested(typed, 250);
  const { rows, count } = usePaged(keys.kitOf(kind, find), () =>
    ask(api.GET("/api/kit", { params: { query: { kind, find, most: SHOWN } } })),
  );
  const [many, setMany] = useState(false);
  if (count > SHOWN && !many) setMany(true);
  const field = many && (
    <input
      type="search"
      className="field !w-44 min-h-9 text-sm"
      aria-label={word("field.kit.find")}
      placeholder={word("field.kit.find")}
      value={typed}
      onChange={(e) => setTyped(e.target.value)}
    />
  );
  return { things: rows ?? [], find: field };
}
