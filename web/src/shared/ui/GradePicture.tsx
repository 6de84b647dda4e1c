import { word } from "@/shared/words";

/** Own drawings of the four rust grades: how much of a patch is rust, and how deep it sits. */
export function GradePicture({ grade }: { grade: string }) {
  return (
    <svg
      viewBox="0 0 120 84"
      className="w-full border border-line"
      role="img"
      aria-label={word(`choice.piece.grade.${grade}`)}
    >
      <GradeDrawing grade={grade} />
    </svg>
  );
}

/** The same for choosing by: its name stands beside it. */
export function GradeIcon({ grade }: { grade: string }) {
  return (
    <svg viewBox="0 0 120 84" className="w-full" aria-hidden="true">
      <GradeDrawing grade={grade} />
    </svg>
  );
}

function GradeDrawing({ grade }: { grade: string }) {
  const draw = GRADES[grade];
  return (
    <>
      <rect width="120" height="50" fill="var(--steel)" />
      <g fill="var(--rust)">{draw}</g>
      <line x1="0" y1="50" x2="120" y2="50" stroke="var(--line)" />
      <Section grade={grade} />
    </>
  );
}

/** Spots on a fixed lattice, so that the picture is the same each time. */
const spots = (count: number, size: number) =>
  Array.from({ length: count }, (_, k) => {
    const x = (k * 47) % 120;
    const y = (k * 29) % 50;
    return <circle key={`${x}-${y}`} cx={x} cy={y} r={size * (0.6 + ((k * 13) % 10) / 14)} />;
  });

const GRADES: Record<string, React.ReactNode> = {
  light: spots(24, 2),
  moderate: spots(70, 6),
  heavy: <rect width="120" height="50" />,
  scaled: (
    <g>
      <rect width="120" height="50" />
      <path d="M12 8h46v10H12zM64 24h42v12H64zM8 32h30v12H8z" fill="var(--ink)" opacity="0.35" />
    </g>
  ),
};

/** The same from the side: metal below, what lies on it above. */
function Section({ grade }: { grade: string }) {
  const edge: Record<string, string> = {
    light: "M0 70H120",
    moderate: "M0 70q10 3 20 0t20 0 20 0 20 0 20 0 20 0",
    heavy: "M0 69h14q6 8 12 0h18q7 10 14 0h20q5 7 10 0h32",
    scaled: "M0 68h8q8 13 17 1h14q9 15 18 0h12q7 12 15 0h36",
  };
  const thick: Record<string, number> = { light: 1.5, moderate: 4, heavy: 8, scaled: 14 };
  const t = thick[grade] ?? 2;
  return (
    <g>
      <path d={`${edge[grade]}V84H0Z`} fill="var(--steel)" />
      <path
        d={edge[grade]}
        fill="none"
        stroke="var(--rust)"
        strokeWidth={t}
        transform={`translate(0 ${-t / 2})`}
      />
      {grade === "scaled" && (
        <path d="M0 58h40l6-3h30l5 4h39" fill="none" stroke="var(--sheet)" strokeWidth={1.5} />
      )}
    </g>
  );
}
