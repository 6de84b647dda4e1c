import type { SceneOut } from "@/shared/api/client";

export type Point = [number, number];

/** Half the tank's extent [m] along x and y at a height. */
export function halfAt(scene: SceneOut, z: number): Point {
  const share = Math.min(Math.max(z / scene.height_m, 0), 1);
  const x = (scene.floor_x_m + (scene.rim_x_m - scene.floor_x_m) * share) / 2;
  const over = scene.wall.findIndex((p) => p.z_m >= z - 1e-9);
  const b = scene.wall.at(over);
  const a = scene.wall[Math.max(over - 1, 0)];
  if (!a || !b) return [x, 0];
  if (over < 0 || b.z_m <= a.z_m) return [x, b.half_y_m];
  return [x, a.half_y_m + ((b.half_y_m - a.half_y_m) * (z - a.z_m)) / (b.z_m - a.z_m)];
}

/** The tank's outline [m] at a height, counter-clockwise. */
export function outlineAt(scene: SceneOut, z: number): Point[] {
  const [x, y] = halfAt(scene, z);
  if (!scene.round)
    return [
      [-x, -y],
      [x, -y],
      [x, y],
      [-x, y],
    ];
  return Array.from({ length: 64 }, (_, k) => {
    const turn = (k / 64) * 2 * Math.PI;
    return [x * Math.cos(turn), x * Math.sin(turn)];
  });
}

/** The nearest spot [m] at which something this wide [m] is inside the tank, floor to liquid. */
export function keptInside(scene: SceneOut, at: Point, half: Point): Point {
  const [fx, fy] = halfAt(scene, 0);
  const [lx, ly] = halfAt(scene, scene.level_m);
  const x = Math.max(Math.min(fx, lx) - half[0], 0);
  const y = Math.max((fy > 0 ? Math.min(fy, ly) : ly) - half[1], 0);
  if (scene.round) {
    const room = Math.max(Math.min(fx, lx) - Math.max(...half), 0);
    const far = Math.hypot(...at);
    return far <= room ? at : [(at[0] * room) / far, (at[1] * room) / far];
  }
  return [Math.min(Math.max(at[0], -x), x), Math.min(Math.max(at[1], -y), y)];
}

/** A length [m] as a rule shows it: whole millimetres, or inches and sixteenths. */
export function ruled(m: number, system: string | undefined): string {
  if (system !== "us" && system !== "imperial")
    return Math.abs(m) < 9.9995 ? `${Math.round(m * 1000)} mm` : `${m.toFixed(2)} m`;
  const sixteenths = Math.round((Math.abs(m) / 0.0254) * 16);
  const [whole, part] = [Math.floor(sixteenths / 16), sixteenths % 16];
  const by = part ? 16 / gcd(part, 16) : 1;
  const inches = part ? `${whole || ""} ${(part * by) / 16}/${by}`.trim() : `${whole}`;
  return `${m < 0 && sixteenths ? "−" : ""}${inches} in`;
}

function gcd(a: number, b: number): number {
  return b ? gcd(b, a % b) : a;
}
