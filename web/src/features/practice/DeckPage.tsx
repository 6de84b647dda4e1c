import { useMutation, useQuery } from "@tanstack/react-query";
import { api, ask, type Schemas } from "@/shared/api/client";
import { setPractice } from "@/shared/clock";
import { Loading, Trouble } from "@/shared/ui/States";
import { word } from "@/shared/words";

type Card = Schemas["CardOut"];

const STORE = "yb.cards";

/** Which cards were played on this device, and what each was. */
export function played(): Record<string, string> {
  try {
    return JSON.parse(localStorage.getItem(STORE) ?? "{}") as Record<string, string>;
  } catch {
    return {};
  }
}

export function rememberCard(card: string, title: string) {
  try {
    localStorage.setItem(STORE, JSON.stringify({ ...played(), [card]: title }));
  } catch {
    // no room: the card can be played again
  }
}

/** The deck: the first five minutes, then faults face down, by how hard they are to find. */
export function DeckPage() {
  const deck = useQuery({
    queryKey: ["deck"],
    queryFn: () => ask(api.GET("/api/practice/deck")),
    staleTime: Number.POSITIVE_INFINITY,
  });
  const begin = useMutation({
    mutationFn: (body: { card: string; own_plan: boolean }) =>
      ask(api.POST("/api/practice", { body })),
    onSuccess: (made) => {
      setPractice(made.id, new Date(made.now));
      // the page begins anew in the practice's own shop
      window.location.assign(made.run_id ? `/runs/${made.run_id}` : "/plans/new");
    },
  });
  if (deck.error) return <Trouble error={deck.error} again={() => void deck.refetch()} />;
  if (!deck.data) return <Loading what={word("practice.deck")} />;
  const done = played();
  return (
    <div className="mx-auto max-w-4xl space-y-6 p-3 sm:p-5">
      <header className="space-y-2">
        <h1 className="text-3xl">{word("practice.deck")}</h1>
        <p className="max-w-2xl">{word("practice.intro")}</p>
      </header>
      {begin.error && <Trouble error={begin.error} />}
      <section className="flex flex-wrap items-center gap-4 bg-iron p-4 text-on-iron">
        <div className="mr-auto">
          <h2 className="text-2xl">{word("practice.first")}</h2>
          <p>{word("practice.first_text")}</p>
        </div>
        <button
          type="button"
          className="btn btn-main min-h-14 text-xl"
          disabled={begin.isPending}
          onClick={() => begin.mutate({ card: "first", own_plan: false })}
        >
          {begin.isPending ? "One moment …" : word("practice.begin")}
        </button>
      </section>
      {[1, 2, 3].map((grade) => (
        <section key={grade} aria-label={word(`practice.grade_${grade}`)}>
          <h2 className="text-2xl">{word(`practice.grade_${grade}`)}</h2>
          <ul className="mt-2 grid grid-cols-2 gap-3 sm:grid-cols-3 lg:grid-cols-4">
            {deck.data
              .filter((c) => c.grade === grade)
              .map((c) => (
                <Face
                  key={c.id}
                  card={c}
                  title={done[c.id]}
                  busy={begin.isPending}
                  begin={(own_plan) => begin.mutate({ card: c.id, own_plan })}
                />
              ))}
          </ul>
        </section>
      ))}
    </div>
  );
}

function Face({
  card,
  title,
  busy,
  begin,
}: {
  card: Card;
  title: string | undefined;
  busy: boolean;
  begin: (ownPlan: boolean) => void;
}) {
  return (
    <li className="flex flex-col gap-2 border-2 border-line bg-sheet p-3">
      <p className="sign text-xl">
        {word("practice.card", { number: card.number })}{" "}
        <span aria-hidden="true" className="text-ink-2">
          {"▮".repeat(card.grade)}
        </span>
      </p>
      {title && <p className="text-sm">{word("practice.done", { title })}</p>}
      <span className="mt-auto grid gap-1">
        <button type="button" className="btn min-h-11" disabled={busy} onClick={() => begin(false)}>
          {word("practice.begin")}
        </button>
        <button
          type="button"
          className="min-h-11 text-sm underline"
          disabled={busy}
          onClick={() => begin(true)}
        >
          {word("practice.own")}
        </button>
      </span>
    </li>
  );
}
