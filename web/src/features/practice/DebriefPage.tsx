import { useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { Link } from "react-router";
import { api, ask, type Schemas } from "@/shared/api/client";
import { usePending } from "@/shared/api/outbox";
import { practiceId } from "@/shared/clock";
import { clockTime } from "@/shared/time";
import { Loading, Trouble } from "@/shared/ui/States";
import { useNow } from "@/shared/useNow";
import { word } from "@/shared/words";
import { Leave } from "./Bar";
import { rememberCard } from "./DeckPage";

type Debrief = Schemas["DebriefOut"];

/** What it was, what was known when, and what would have told soonest. */
export function DebriefPage() {
  const id = practiceId();
  const waiting = usePending().length;
  const told = useQuery({
    queryKey: ["practice", id, "debrief"],
    // what was just written down is part of the story
    enabled: id !== "" && waiting === 0,
    queryFn: async () => {
      const params = { params: { path: { practice_id: id } } };
      const practice = await ask(api.GET("/api/practice/{practice_id}", params));
      const made = await ask(api.POST("/api/practice/{practice_id}/debrief", params));
      return { card: practice.card.id, made };
    },
    retry: false,
    gcTime: 0,
  });
  const card = told.data?.card;
  const title = told.data?.made.title;
  useEffect(() => {
    if (card && title) rememberCard(card, title);
  }, [card, title]);
  if (!id)
    return (
      <p className="p-5">
        {word("practice.over")}{" "}
        <Link className="underline" to="/practice">
          {word("practice.deck")}
        </Link>
      </p>
    );
  if (told.error) return <Trouble error={told.error} again={() => void told.refetch()} />;
  if (!told.data) return <Loading what={word("practice.end")} />;
  return <Told d={told.data.made} id={id} />;
}

function Told({ d, id }: { d: Debrief; id: string }) {
  const now = useNow();
  const at = (time: string) => clockTime(new Date(time), now);
  return (
    <article className="mx-auto max-w-4xl space-y-5 p-3 sm:p-5" data-debrief={d.cause}>
      <header className="bg-iron p-4 text-on-iron">
        <p className="text-on-iron-2">{word(`practice.grade_${d.grade}`)}</p>
        <h1 className="text-3xl">{word("practice.was", { title: d.title })}</h1>
        <p className="mt-1 text-lg">
          {d.came ? word("practice.came", { time: at(d.came) }) : word("practice.start")}{" "}
          {d.gone ? word("practice.gone", { time: at(d.gone) }) : word("practice.never")}.
        </p>
        <p className="mt-2">{d.mend}</p>
      </header>
      <ul className="space-y-1 text-lg">
        {d.says.map((s) => (
          <li key={s} className="border-l-4 border-liquid pl-3">
            {s}
          </li>
        ))}
      </ul>
      <section aria-label={word("practice.story")}>
        <h2 className="text-xl">{word("practice.story")}</h2>
        <ol>
          {d.moments.map((m, k) => (
            <li
              // biome-ignore lint/suspicious/noArrayIndexKey: a story that is told once
              key={k}
              className="grid grid-cols-[5.5rem_minmax(0,1fr)_7rem] items-center gap-3 border-t border-hair py-1"
            >
              <span className="sign text-lg">{at(m.at)}</span>
              <span>{m.text}</span>
              {m.percent !== null && (
                <span>
                  <span className="sign block text-right text-lg leading-none">
                    {word("matter.chance", { percent: m.percent })}
                  </span>
                  <span className="mt-1 block h-1.5 bg-hair" aria-hidden="true">
                    <span className="block h-full bg-liquid" style={{ width: `${m.percent}%` }} />
                  </span>
                </span>
              )}
            </li>
          ))}
        </ol>
      </section>
      <p className="flex gap-4">
        <Leave id={id} to="/practice" words={word("practice.again")} />
      </p>
    </article>
  );
}
