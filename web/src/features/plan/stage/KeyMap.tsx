const KEYS: readonly (readonly [string, string])[] = [
  ["Tab", "from one thing in the tank to the next"],
  ["← → ↑ ↓", "1 mm; with Shift 10 mm"],
  ["[ ]", "turn the piece 1°; with Shift 15°"],
  ["Delete", "take this scrap out"],
  ["Escape", "let go"],
  ["Alt, dragging", "off the snap lines"],
  ["Ctrl Z, Ctrl Y", "undo, redo"],
  ["Ctrl S", "save the plan"],
  ["?", "this list"],
];

/** Which keys do what, where they are used. */
export function KeyMap() {
  return (
    <dl className="mb-2 grid grid-cols-[auto_1fr] gap-x-4 gap-y-0.5 border border-line p-3 text-sm sm:grid-cols-[auto_1fr_auto_1fr]">
      {KEYS.map(([key, what]) => (
        <div key={key} className="contents">
          <dt className="sign text-base">{key}</dt>
          <dd>{what}</dd>
        </div>
      ))}
    </dl>
  );
}
