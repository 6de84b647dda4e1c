import type { AnswerOut } from "@/shared/api/client";

/** End by end: what each dip covers of a piece that is longer than its bath is deep. */
export function Dips({ answer }: { answer: AnswerOut }) {
  const several = answer.scene.pieces.length > 1;
  return answer.dips.map((plan) => (
    <section
      key={plan.piece}
      aria-label="Dip plan"
      className="border-t border-hair bg-sheet px-4 py-3"
    >
      <h2 className="text-2xl">Dip plan{several && `: ${plan.piece}`}</h2>
      <p className="text-sm text-ink-2">
        The piece is longer than the liquid is deep, measured from the end that hangs down now.
      </p>
      <ol className="text-base">
        {plan.dips.map((d, k) => (
          <li key={d.words} className="border-t border-hair py-1">
            <span className="sign pr-2 text-lg">{k + 1}</span>
            {d.words}: covers {d.from_text} to {d.to_text}
            {d.time_text && `, about ${d.time_text} under power`}
          </li>
        ))}
      </ol>
      <p className="text-sm">
        {plan.dry_text
          ? `Two dips should overlap by a hand's breadth: ${plan.dry_text} is missing. Put in more water where there is room, take a deeper tank, or lay the piece across a longer one.`
          : `They overlap by ${plan.overlap_text}, which gets both doses${plan.time_text && `; about ${plan.time_text} under power together`}. A faint line may stay where the level stood.`}
      </p>
    </section>
  ));
}
