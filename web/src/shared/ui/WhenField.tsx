import { useId } from "react";
import { timeNow } from "@/shared/clock";
import { clockTime, untilText } from "@/shared/time";
import { readWhen, whichOf } from "@/shared/when";
import { word } from "@/shared/words";

/** As it is typed so that it is read the same again. */
const clockOf = (at: Date) =>
  `${String(at.getHours()).padStart(2, "0")}:${String(at.getMinutes()).padStart(2, "0")}`;

const AGO = ["10 min ago", "20 min ago", "1 h ago"];

/** When it was, in a person's own words, and how they were read. Empty is now. */
export function WhenField({
  text,
  setText,
  since,
}: {
  text: string;
  setText: (text: string) => void;
  since?: Date | null;
}) {
  const id = useId();
  const now = timeNow();
  const read = readWhen(text, now, since);
  const at = read?.at;
  const which = at ? null : whichOf(text, now);
  return (
    <div data-when>
      <label htmlFor={id} className="block text-sm font-semibold">
        {word("field.entry.at")}
      </label>
      <div className="flex flex-wrap gap-2">
        <input
          id={id}
          className="field min-h-11 min-w-40 flex-1"
          placeholder={word("looks.now")}
          value={text}
          aria-invalid={at ? undefined : true}
          aria-describedby={`${id}-read`}
          onChange={(e) => setText(e.target.value)}
        />
        {AGO.map((ago) => (
          <button
            key={ago}
            type="button"
            className="choice min-h-11"
            data-state={text === ago ? "on" : ""}
            aria-pressed={text === ago}
            onClick={() => setText(text === ago ? "" : ago)}
          >
            {ago}
          </button>
        ))}
      </div>
      <p id={`${id}-read`} className={`text-sm ${at ? "text-ink-2" : "font-semibold text-stop"}`}>
        {!at
          ? word(which ? "when.which" : "when.unread")
          : text.trim()
            ? `${clockTime(at, now)}, ${untilText(at, now)}${read.loose ? word("when.loose") : ""}`
            : word("when.example")}
      </p>
      {which && (
        <div className="mt-1 flex gap-2">
          {which.map((one) => (
            <button
              key={one.getTime()}
              type="button"
              className="choice min-h-11"
              onClick={() => setText(clockOf(one))}
            >
              {clockOf(one)}
            </button>
          ))}
        </div>
      )}
    </div>
  );
}
