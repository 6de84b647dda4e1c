import type { AnswerOut } from "@/shared/api/client";

// a phone has the rest a thumb away; what stands in the way is never left out
const ON_A_PHONE = new Set(["put_in", "amps", "clean"]);

/** The answer that a person came for, always in sight: what goes in, what to expect, when it is
 * done, and whether it may be switched on. It leads to what lies behind it. */
export function OneAnswer({
  answer,
  quick,
  className,
}: {
  answer: AnswerOut;
  quick: boolean;
  className: string;
}) {
  // nobody looks at a bath that must not be switched on
  const stopped = answer.line.some((p) => p.stop);
  const line = answer.line.filter((p) => !(stopped && p.part === "look"));
  return (
    <a
      href="#expect"
      data-line
      data-quick={quick || undefined}
      className={`${className} flex-wrap items-baseline gap-x-4 lg:gap-x-3 border-y-2 border-line bg-sheet px-3 py-1.5 lg:flex-nowrap`}
    >
      {line.map((p) => (
        <span
          key={p.part}
          data-part={p.part}
          className={`${ON_A_PHONE.has(p.part) || p.stop ? "" : "hidden lg:inline"} ${
            p.part === "scrap" ? "lg:min-w-0 lg:truncate" : "lg:shrink-0"
          }`}
        >
          <span className="mr-1 hidden text-sm text-ink-2 lg:inline">{p.name}</span>
          <span
            className={`sign text-lg lg:text-base 2xl:text-lg ${p.stop ? "bg-stop px-1.5 text-on-stop" : ""}`}
          >
            {p.text}
          </span>
        </span>
      ))}
    </a>
  );
}
