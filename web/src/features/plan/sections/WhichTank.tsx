import { useMutation, useQuery } from "@tanstack/react-query";
import { api, ask, keys } from "@/shared/api/client";
import { usePlan } from "@/shared/form/context";
import { putAt } from "@/shared/form/put";
import { Trouble } from "@/shared/ui/States";
import { takenUp } from "./FromKit";

/** The smallest sensible tank for the piece, and how it goes into those of the kit. */
export function WhichTank() {
  const { doc, replace } = usePlan();
  const kit = useQuery({
    queryKey: [...keys.kitOf("tank", ""), 100],
    queryFn: () => ask(api.GET("/api/kit", { params: { query: { kind: "tank", most: 100 } } })),
  });
  const found = useMutation({
    mutationFn: () => ask(api.POST("/api/plans/tanks", { body: { document: { ...doc } } })),
  });
  const posed = (next: typeof doc, hang: string, turn: number) =>
    putAt(putAt(next, "/pieces/*/hang", hang), "/pieces/*/turn_deg", turn);
  return (
    <div className="space-y-2" data-which-tank>
      <button type="button" className="btn btn-small" onClick={() => found.mutate()}>
        Which tank will do?
      </button>
      {found.error && <Trouble error={found.error} />}
      {found.data && (
        <ul className="text-sm">
          <li className="flex flex-wrap items-center gap-2 border-t border-hair py-1">
            <span className="flex-1">
              <b>Smallest that will do:</b> {found.data.smallest} inside
            </span>
            <button
              type="button"
              className="btn btn-small"
              onClick={() =>
                found.data &&
                replace(
                  posed(
                    { ...doc, tank: found.data.tank, typed: untanked(doc.typed) },
                    found.data.hang,
                    0,
                  ),
                )
              }
            >
              Plan on it
            </button>
          </li>
          {found.data.owned.map((t) => {
            const thing = kit.data?.items.find((k) => k.id === t.id);
            return (
              <li
                key={t.id}
                className="flex flex-wrap items-center gap-2 border-t border-hair py-1"
              >
                <span className="flex-1">
                  <b>{t.name}</b>
                  {t.word !== "free" && ` (${t.word})`}: {t.fits ? `fits, ${t.words}` : t.words},{" "}
                  {t.water}
                </span>
                {thing && t.fits && (
                  <button
                    type="button"
                    className="btn btn-small"
                    onClick={() => replace(posed(takenUp(doc, "tank", thing), t.hang, t.turn_deg))}
                  >
                    Take it
                  </button>
                )}
              </li>
            );
          })}
        </ul>
      )}
    </div>
  );
}

function untanked(typed: Record<string, string> | undefined) {
  return Object.fromEntries(Object.entries(typed ?? {}).filter(([at]) => !at.startsWith("/tank/")));
}
