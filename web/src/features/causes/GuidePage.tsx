import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useSearchParams } from "react-router";
import { api, ask, keys, type Schemas } from "@/shared/api/client";
import { Labelled } from "@/shared/form/Labelled";
import { Causes, type Mode } from "@/shared/ui/Causes";
import { Loading, Trouble } from "@/shared/ui/States";
import { word } from "@/shared/words";

type Question = Schemas["QuestionOut"];
type Seen = Schemas["SeenIn"];

/** What people ask of a bath, answered for a plan's bath without a run. Nothing is written down. */
export function GuidePage() {
  const [params, setParams] = useSearchParams();
  const plan = params.get("plan") ?? "";
  const [question, setQuestion] = useState<Question | null>(null);
  const [hours, setHours] = useState("3");
  const questions = useQuery({
    queryKey: ["questions"],
    queryFn: () => ask(api.GET("/api/causes/questions")),
    staleTime: Number.POSITIVE_INFINITY,
  });
  const plans = useQuery({
    queryKey: [...keys.plans, "guide"],
    queryFn: () => ask(api.GET("/api/plans", { params: { query: { most: 100 } } })),
  });
  if (questions.error)
    return <Trouble error={questions.error} again={() => void questions.refetch()} />;
  if (!questions.data) return <Loading what={word("matter.guide")} />;
  return (
    <div className="mx-auto grid max-w-[1280px] gap-5 p-3 sm:p-5 lg:grid-cols-[minmax(0,24rem)_minmax(0,1fr)]">
      <div className="space-y-4">
        <h1 className="text-3xl">{word("matter.guide")}</h1>
        <p>{word("matter.guide_intro")}</p>
        <p>
          <Link className="underline" to="/practice">
            {word("practice.link")}
          </Link>
        </p>
        <div className="grid grid-cols-[minmax(0,1fr)_6rem] gap-3">
          <label className="block text-sm font-semibold">
            {word("matter.which")}
            <select
              className="field mt-1 min-h-11"
              value={plan}
              onChange={(e) => setParams(e.target.value ? { plan: e.target.value } : {})}
            >
              <option value="">{word("matter.usual")}</option>
              {plans.data?.items.map((p) => (
                <option key={p.id} value={p.id}>
                  {p.title}
                </option>
              ))}
            </select>
          </label>
          <div>
            <Labelled
              label={word("matter.hours")}
              className="field mt-1 min-h-11"
              inputMode="decimal"
              value={hours}
              onChange={(e) => setHours(e.target.value)}
            />
          </div>
        </div>
        <section aria-label={word("matter.see")}>
          <h2 className="text-xl">{word("matter.see")}</h2>
          <ul className="mt-1 divide-y divide-hair border-y border-hair">
            {questions.data.map((q) => (
              <li key={q.id}>
                <button
                  type="button"
                  className="min-h-12 w-full px-2 py-2 text-left text-lg aria-pressed:bg-iron aria-pressed:text-on-iron"
                  aria-pressed={q.id === question?.id}
                  onClick={() => setQuestion(q)}
                >
                  {q.title}
                </button>
              </li>
            ))}
          </ul>
        </section>
      </div>
      {question && (
        <Answered key={`${question.id} ${plan}`} question={question} plan={plan} hours={hours} />
      )}
    </div>
  );
}

function Answered({ question, plan, hours }: { question: Question; plan: string; hours: string }) {
  const [seen, setSeen] = useState<Seen[]>(() => question.seen as unknown as Seen[]);
  const [tried, setTried] = useState<string[]>([]);
  const [over, setOver] = useState("");
  const [mode, setMode] = useState<Mode>("mend");
  const ran = Number(hours.replace(",", "."));
  const body = {
    plan_id: plan,
    seen,
    tried,
    hours: Number.isFinite(ran) ? Math.min(Math.max(ran, 0), 2000) : 3,
    mode,
    first: question.first,
  };
  const found = useQuery({
    queryKey: ["guide", body],
    queryFn: () => ask(api.POST("/api/causes", { body })),
    placeholderData: keepPreviousData,
  });
  const changed = seen.length !== question.seen.length || tried.length > 0;
  return (
    <section className="bg-iron p-4 text-on-iron" aria-label={question.title} data-guide>
      <h2 className="text-2xl">{question.title}</h2>
      <p className="mt-1 text-lg">{question.says}</p>
      {over && <p className="mt-3 border-l-4 border-liquid pl-3 text-lg">{over}</p>}
      {found.error && <Trouble error={found.error} again={() => void found.refetch()} />}
      {found.data && !over && (
        <Causes
          found={found.data}
          mode={mode}
          setMode={setMode}
          busy={found.isPlaceholderData}
          answer={(what, outcome) =>
            setSeen([
              ...seen.filter((s) => s.ask !== what || s.before),
              { ask: what, outcome, before: false },
            ])
          }
          mended={(cause, helped) =>
            helped ? setOver(word("matter.glad")) : setTried([...tried, cause])
          }
        />
      )}
      {(changed || over) && (
        <button
          type="button"
          className="mt-3 min-h-11 underline"
          onClick={() => {
            setSeen(question.seen as unknown as Seen[]);
            setTried([]);
            setOver("");
          }}
        >
          {word("matter.again")}
        </button>
      )}
    </section>
  );
}
