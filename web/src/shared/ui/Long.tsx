import { useState } from "react";
import { Labelled } from "@/shared/form/Labelled";
import { useRested } from "@/shared/useRested";
import { word } from "@/shared/words";

/** What is looked for in a long list, and the field it is typed into; none while the list is short. */
export function useFind(label: string) {
  const [typed, setTyped] = useState("");
  const [long, setLong] = useState(false);
  const find = useRested(typed, 250).trim();
  const field = (count: number) => {
    if (count > MANY && !long) setLong(true);
    return (
      long && (
        <div className="mb-2 max-w-sm">
          <Labelled
            label={label}
            type="search"
            value={typed}
            onChange={(e) => setTyped(e.target.value)}
          />
        </div>
      )
    );
  };
  return { find, field };
}

const MANY = 8; // rows from which they are looked for and not only through

/** The next page of a long list. */
export function More({
  shown,
  count,
  more,
}: {
  shown: number;
  count: number;
  more: (() => void) | undefined;
}) {
  if (!more) return null;
  return (
    <button type="button" className="btn mt-2" onClick={more}>
      {word("list.more", { shown: `${shown}`, count: `${count}` })}
    </button>
  );
}

/** Something was taken out of a list; one press brings it back. */
export function Undone({
  name,
  back,
  error,
}: {
  name: string;
  back: () => void;
  error?: Error | null;
}) {
  return (
    <p role="status" className="mb-3 flex items-center gap-3 border-2 border-line bg-sheet p-2">
      {word("list.archived", { name })}
      <button type="button" className="btn btn-small" onClick={back}>
        {word("list.back")}
      </button>
      {error && <span className="font-semibold text-stop">{error.message}</span>}
    </p>
  );
}
