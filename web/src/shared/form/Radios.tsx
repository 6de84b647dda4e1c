import { RadioGroup } from "radix-ui";
import { type ReactNode, useRef } from "react";
import type { Option } from "@/shared/words";

/** One of a few as buttons; an arrow key moves and picks at once.
 *  The library picks only while the key is still down, and moves a turn later: a quick press on
 *  a busy page moved without picking. Here the press is remembered until the focus arrives. */
export function Radios({
  labelledby,
  at,
  value,
  options,
  answered,
  onPick,
  children,
}: {
  labelledby: string;
  at: string;
  value: string;
  options: readonly Option[];
  answered?: boolean;
  onPick: (value: string) => void;
  children?: ReactNode;
}) {
  const byArrow = useRef(false);
  return (
    <RadioGroup.Root
      aria-labelledby={labelledby}
      value={value}
      onValueChange={onPick}
      onKeyDown={(event) => {
        byArrow.current = event.key.startsWith("Arrow");
      }}
      onPointerDown={() => {
        byArrow.current = false;
      }}
      className="flex flex-wrap items-center gap-1.5"
      data-pointer={at}
      data-answered={answered}
    >
      {options.map(([v, text]) => (
        <RadioGroup.Item
          key={v}
          value={v}
          className="choice"
          onFocus={(event) => {
            if (!byArrow.current) return;
            byArrow.current = false;
            event.preventDefault();
            event.currentTarget.click();
          }}
        >
          {text}
        </RadioGroup.Item>
      ))}
      {children}
    </RadioGroup.Root>
  );
}
