import { Popover } from "radix-ui";
import type { FigureOut } from "@/shared/api/client";

/** A number that opens to its formula, with this plan's figures in it, and its source. */
export function Num({
  f,
  className = "",
  text,
}: {
  f: FigureOut;
  className?: string;
  text?: string;
}) {
  const visible = text ?? `${f.text} ${f.unit}`.trim();
  return (
    <Popover.Root>
      <Popover.Trigger
        className={`number ${className}`}
        data-figure={f.key}
        data-value={f.value_si}
        aria-label={`${visible}, ${f.name}. Show how it is worked out.`}
      >
        {visible}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          collisionPadding={12}
          sideOffset={6}
          className="z-50 max-h-[min(70vh,var(--radix-popover-content-available-height))] w-[min(26rem,calc(100vw-24px))] overflow-auto border-2 border-line bg-sheet p-4 text-sm text-ink"
          data-testid="trace"
        >
          <Trace f={f} />
          <Popover.Arrow className="fill-line" />
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

function Trace({ f }: { f: FigureOut }) {
  return (
    <div className="space-y-3">
      <div>
        <h3 className="text-xl">{f.name}</h3>
        <p className="sign text-2xl">
          {f.text} {f.unit}
        </p>
        {f.low_text !== null && (
          <p className="text-ink-2">
            likely {f.low_text} to {f.high_text} {f.unit}
          </p>
        )}
      </div>
      <p className="break-words border-l-4 border-liquid-deep bg-paper px-2 py-1 font-mono text-xs">
        {pretty(f.expression)}
      </p>
      <table className="w-full border-collapse">
        <caption className="sr-only">The figures that went in</caption>
        <tbody>
          {f.inputs.map((i) => (
            <tr key={i.symbol} className="border-t border-hair align-top">
              <th scope="row" className="py-1 pr-2 text-left font-mono text-xs font-semibold">
                {i.symbol}
              </th>
              <td className="py-1 pr-2">
                {i.name}
                <span className="block text-xs text-ink-2">{i.source}</span>
              </td>
              <td className="sign whitespace-nowrap py-1 text-right text-base">{i.text}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {f.note && <p>{f.note}</p>}
      <p className="text-xs text-ink-2">Formula in SI units. Source: {f.source}</p>
    </div>
  );
}

function pretty(expression: string): string {
  return expression
    .replaceAll("**2", "²")
    .replaceAll("**3", "³")
    .replaceAll("*", " · ")
    .replaceAll("/", " / ")
    .replaceAll("pi", "π")
    .replaceAll("rho", "ρ");
}

/** A figure's window as words: "2.1 to 4.8 A". */
export function windowText(f: FigureOut): string {
  return f.low_text === null ? `${f.text} ${f.unit}` : `${f.low_text} to ${f.high_text} ${f.unit}`;
}
