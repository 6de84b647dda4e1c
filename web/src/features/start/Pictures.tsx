const LINE = { fill: "none", stroke: "var(--ink)", strokeWidth: 2.4 } as const;
const LEVEL = { fill: "var(--liquid)" } as const;

/** A vessel by its outline, filled as for a bath. */
export function VesselIcon({ vessel }: { vessel: string }) {
  return (
    <svg viewBox="0 0 72 56" className="h-12 w-full" aria-hidden="true">
      {VESSELS[vessel]}
    </svg>
  );
}

const VESSELS: Record<string, React.ReactNode> = {
  bucket: (
    <>
      <path d="M20.5 24H51.5L49 52H23Z" {...LEVEL} />
      <path d="M19 12L23 52H49L53 12M19 12C22 -2 50 -2 53 12" {...LINE} />
    </>
  ),
  tub: (
    <>
      <path d="M14 30H58L54 52H18Z" {...LEVEL} />
      <path d="M10 20L18 52H54L62 20M10 20H62M12 20q-4 -8 4 -8M60 20q4 -8 -4 -8" {...LINE} />
    </>
  ),
  bin: (
    <>
      <path d="M23 22H49L47 53H25Z" {...LEVEL} />
      <path d="M21 8L25 53H47L51 8ZM17 8H55M22.5 22H20M49.5 22H52" {...LINE} />
    </>
  ),
  barrel: (
    <>
      <path d="M20 16H52V53H20Z" {...LEVEL} />
      <path d="M20 5V53H52V5M20 20H52M20 37H52M20 5H52" {...LINE} />
    </>
  ),
  lying: (
    <>
      <path d="M9 26H63V46H9Z" {...LEVEL} />
      <path d="M9 18V46H63V18M27 18V46M45 18V46M16 46v6M56 46v6" {...LINE} />
    </>
  ),
  box: (
    <>
      <path d="M11 26H61L58 48H14Z" {...LEVEL} />
      <path d="M9 14L14 48H58L63 14M5 14H67" {...LINE} />
    </>
  ),
  crate: (
    <>
      <path d="M8 26H64V46H8Z" {...LEVEL} />
      <path d="M8 16V46H64V16ZM22 22h28M8 16H4M64 16h4" {...LINE} />
    </>
  ),
  tray: (
    <>
      <path d="M9 34H63L60 44H12Z" {...LEVEL} />
      <path d="M6 28L12 44H60L66 28H6" {...LINE} />
    </>
  ),
  wheeled: (
    <>
      <path d="M21 22H50L47 49H26Z" {...LEVEL} />
      <path d="M18 8L25 49H48L53 8ZM14 8H58" {...LINE} />
      <circle cx="46" cy="49" r="4.5" {...LINE} fill="var(--sheet)" />
    </>
  ),
};

/** What feeds the bath, by what is seen of it. */
export function SupplyIcon({ kind }: { kind: string }) {
  return (
    <svg viewBox="0 0 72 56" className="h-12 w-full" aria-hidden="true">
      {SUPPLIES[kind]}
    </svg>
  );
}

const CASE = <rect x="10" y="8" width="52" height="42" {...LINE} />;
const POSTS = (
  <>
    <circle cx="26" cy="42" r="3" fill="var(--ink)" />
    <circle cx="46" cy="42" r="3" {...LINE} />
  </>
);

const SUPPLIES: Record<string, React.ReactNode> = {
  // a needle, as plain ones have
  transformer: (
    <>
      {CASE}
      <path d="M20 30a16 14 0 0 1 32 0M36 30l9 -9" {...LINE} />
      {POSTS}
    </>
  ),
  selector: (
    <>
      {CASE}
      <circle cx="36" cy="24" r="9" {...LINE} />
      <path d="M36 24l5 -7M21 17l-3 -3M51 17l3 -3M36 12v-3" {...LINE} />
      {POSTS}
    </>
  ),
  laboratory: (
    <>
      {CASE}
      <path d="M16 14h18v12H16zM40 14h16v12H40z" {...LINE} />
      <circle cx="22" cy="35" r="3" {...LINE} />
      <circle cx="50" cy="35" r="3" {...LINE} />
      {POSTS}
    </>
  ),
  // lamps that tell of a battery, as those have that look for one
  smart: (
    <>
      {CASE}
      <path d="M20 15h32v11H20zM24 15v-0M52 18h3v5h-3" {...LINE} />
      <path d="M24 18v5M30 18v5M36 18v5" {...LINE} />
      <circle cx="24" cy="33" r="2" fill="var(--ink)" />
      <circle cx="32" cy="33" r="2" {...LINE} />
      <circle cx="40" cy="33" r="2" {...LINE} />
      {POSTS}
    </>
  ),
  fixed: (
    <>
      {CASE}
      <path d="M16 14h40M16 19h40M16 24h40M16 29h40" {...LINE} />
      {POSTS}
    </>
  ),
  battery: (
    <>
      <rect x="10" y="18" width="52" height="32" {...LINE} />
      <path d="M18 18v-7h10v7M44 18v-7h10v7M18 30h10M44 30h10M49 25v10" {...LINE} />
    </>
  ),
  unknown: (
    <>
      {CASE}
      <path d="M29 20a7 7 0 1 1 9 7c-2 1 -2 3 -2 5M36 36v2" {...LINE} />
    </>
  ),
};
