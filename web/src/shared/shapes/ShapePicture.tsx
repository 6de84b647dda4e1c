import { lettered } from "./sizes";

/** A shape without letters, small, for choosing by. */
export function ShapeIcon({ shape }: { shape: string }) {
  return (
    <svg viewBox="0 0 200 110" className="h-11 w-full" aria-hidden="true">
      <g fill="var(--paper)" stroke="var(--ink)" strokeWidth="4">
        {PICTURES[shape]?.body}
      </g>
    </svg>
  );
}

/** What the tape goes along: a shape with the sizes that are asked, lettered in their order;
 *  ``names``: how each is called. */
export function ShapePicture({
  shape,
  sizes,
  names,
}: {
  shape: string;
  sizes: readonly string[];
  names: readonly string[];
}) {
  const draw = PICTURES[shape];
  if (!draw) return null;
  return (
    <figure className="m-0 flex flex-wrap items-center gap-x-4 gap-y-1">
      <svg viewBox="0 0 200 110" className="h-28 w-52 shrink-0" aria-hidden="true">
        <g fill="var(--paper)" stroke="var(--ink)" strokeWidth="1.8">
          {draw.body}
        </g>
        {lettered(shape, sizes).map(([letter, rule]) => {
          const at = draw.rules[rule];
          if (!at) return null;
          const [x1, y1, x2, y2] = at;
          const [mx, my] = [(x1 + x2) / 2, (y1 + y2) / 2];
          return (
            <g key={letter}>
              <path
                d={`M${x1} ${y1}L${x2} ${y2}`}
                stroke="var(--ink)"
                strokeWidth="1"
                strokeDasharray="3 2"
              />
              <circle cx={mx} cy={my} r="8" fill="var(--liquid)" stroke="var(--ink)" />
              <text
                x={mx}
                y={my + 4.5}
                textAnchor="middle"
                className="sign"
                fontSize="13"
                fill="var(--on-liquid)"
              >
                {letter}
              </text>
            </g>
          );
        })}
      </svg>
      <figcaption className="text-xs text-ink-2">
        {names.map((name, k) => (
          <span key={name} className="block" data-letter>
            {lettered(shape, sizes)[k]?.[0]}: {name}
          </span>
        ))}
      </figcaption>
    </figure>
  );
}

type Line = [number, number, number, number];

const PICTURES: Record<string, { body: React.ReactNode; rules: Line[] }> = {
  plate: {
    body: <path d="M20 40L150 40L180 20L50 20zM20 40V52H150V40M150 52L180 32V20" />,
    rules: [
      [20, 68, 150, 68],
      [158, 54, 188, 34],
      [10, 40, 10, 52],
    ],
  },
  bar: {
    body: (
      <>
        <path d="M30 35H170V65H30z" />
        <ellipse cx="170" cy="50" rx="8" ry="15" />
        <path d="M30 35a8 15 0 0 0 0 30" />
      </>
    ),
    rules: [
      [26, 85, 174, 85],
      [190, 35, 190, 65],
    ],
  },
  tube: {
    body: (
      <>
        <path d="M30 28H160V76H30zM30 28a12 24 0 0 0 0 48" />
        <ellipse cx="160" cy="52" rx="12" ry="24" />
        <ellipse cx="160" cy="52" rx="7" ry="15" />
      </>
    ),
    rules: [
      [26, 94, 164, 94],
      [186, 28, 186, 76],
      [160, 37, 160, 67],
    ],
  },
  box: {
    body: <path d="M20 40L140 40L175 18L55 18zM20 40V80H140V40M140 80L175 58V18" />,
    rules: [
      [20, 96, 140, 96],
      [150, 82, 184, 60],
      [9, 40, 9, 80],
    ],
  },
  angle: {
    body: <path d="M30 20H42V78H150V90H30z" />,
    rules: [
      [30, 102, 150, 102],
      [16, 20, 16, 90],
      [156, 84, 186, 66],
      [36, 8, 50, 30],
    ],
  },
  ring: {
    body: (
      <>
        <circle cx="90" cy="55" r="46" />
        <circle cx="90" cy="55" r="30" />
      </>
    ),
    rules: [
      [44, 55, 136, 55],
      [150, 55, 168, 55],
    ],
  },
  wheel: {
    body: (
      <>
        <circle cx="75" cy="55" r="48" />
        <circle cx="75" cy="55" r="39" />
        <circle cx="75" cy="55" r="12" />
        <path d="M75 16V43M75 67V94M36 55H63M87 55H114" />
        <path d="M160 8h22v94h-22zM154 40h34v30h-34z" />
      </>
    ),
    rules: [
      [140, 8, 140, 102],
      [160, 6, 182, 6],
      [118, 55, 126, 55],
      [56, 36, 50, 30],
      [92, 55, 112, 55],
      [75, 55, 75, 55],
      [154, 90, 188, 90],
    ],
  },
  wrench: {
    body: (
      <>
        <path d="M45 45H155V63H45z" />
        <circle cx="38" cy="54" r="26" />
        <circle cx="162" cy="54" r="26" />
        <circle cx="38" cy="54" r="12" />
        <circle cx="162" cy="54" r="12" />
      </>
    ),
    rules: [
      [12, 94, 188, 94],
      [100, 40, 100, 70],
      [124, 30, 138, 20],
      [38, 18, 38, 30],
      [162, 54, 162, 54],
    ],
  },
  stepped: {
    body: (
      <path d="M20 66L140 66L170 48L150 48V22L84 22L62 36V48L50 48zM20 66V90H140V66M140 90L170 72V48M62 36H128V48M128 36L150 22" />
    ),
    rules: [
      [20, 104, 140, 104],
      [146, 92, 178, 74],
      [8, 66, 8, 90],
      [62, 12, 128, 12],
      [158, 36, 172, 26],
      [50, 36, 50, 48],
    ],
  },
  pile: {
    body: (
      <>
        <path d="M20 38L150 38L180 20L50 20zM20 38V86H150V38M150 86L180 66V20" />
        <path d="M40 70l24 -10M58 78l26 -6M86 64l24 10M104 56l26 4M70 54l20 -8" strokeWidth="5" />
      </>
    ),
    rules: [
      [76, 76, 76, 76],
      [86, 58, 110, 70],
      [122, 66, 134, 54],
      [20, 102, 150, 102],
      [158, 86, 188, 66],
      [8, 38, 8, 86],
    ],
  },
  shell: {
    body: (
      <path d="M20 40L140 40L175 18L55 18zM20 40V84H140V40M140 84L175 62V18M34 37L132 37L156 22L62 22zM34 37V52M132 37V48" />
    ),
    rules: [
      [20, 98, 140, 98],
      [150, 86, 184, 64],
      [9, 40, 9, 84],
      [132, 33, 148, 33],
    ],
  },
  pan: {
    body: (
      <>
        <path d="M22 36v32a70 22 0 0 0 140 0V36" />
        <ellipse cx="92" cy="36" rx="70" ry="22" />
        <ellipse cx="92" cy="37" rx="61" ry="17" />
      </>
    ),
    rules: [
      [22, 102, 162, 102],
      [176, 36, 176, 74],
      [92, 37, 92, 37],
    ],
  },
  lattice: {
    body: (
      <path
        d="M20 20H160V88H20zM34 34V74H62V34zM76 34V74H104V34zM118 34V74H146V34z"
        fillRule="evenodd"
      />
    ),
    rules: [
      [20, 102, 160, 102],
      [174, 20, 174, 88],
      [153, 54, 153, 54],
      [186, 8, 198, 8],
      [69, 54, 69, 54],
    ],
  },
  tines: {
    body: (
      <>
        <path d="M30 20H44V92H30z" />
        <path d="M44 24H150v6H44zM44 45H150v6H44zM44 64H150v6H44zM44 83H150v6H44zM8 50H30v12H8z" />
      </>
    ),
    rules: [
      [18, 20, 18, 92],
      [44, 104, 150, 104],
      [166, 24, 166, 30],
      [104, 57, 104, 57],
      [37, 10, 37, 10],
    ],
  },
  anvil: {
    body: (
      <path d="M66 22H170V50H138C128 62 130 66 140 76L152 80V92H56V80L68 76C78 66 80 60 66 50C40 46 24 34 12 24z" />
    ),
    rules: [
      [12, 104, 170, 104],
      [118, 12, 118, 12],
      [182, 22, 182, 92],
    ],
  },
  weighed: {
    body: (
      <>
        <path d="M70 30c20 -14 48 -10 58 6s4 30 -14 34 -40 8 -52 -6 -10 -24 8 -34z" />
        <path d="M40 82H160L150 98H50zM88 82v-8h24v8" />
      </>
    ),
    rules: [
      [100, 90, 100, 90],
      [52, 14, 140, 14],
      [20, 24, 20, 72],
      [168, 24, 180, 72],
      [92, 52, 92, 52],
    ],
  },
};
