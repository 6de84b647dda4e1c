import type { Plan, SceneOut } from "@/shared/api/client";

/** A box of 40 by 30 cm, liquid 25 cm deep, two rods opposite and a plate between. */
export function box(): SceneOut {
  return {
    round: false,
    floor_x_m: 0.4,
    floor_y_m: 0.3,
    rim_x_m: 0.4,
    rim_y_m: 0.3,
    wall: [
      { z_m: 0, half_y_m: 0.15 },
      { z_m: 0.35, half_y_m: 0.15 },
    ],
    height_m: 0.35,
    level_m: 0.25,
    rods: [rod("a1", 0, -0.13), rod("a2", 0, 0.13)],
    pieces: [
      {
        id: "p1",
        x_m: 0,
        y_m: 0,
        bottom_m: 0.1,
        size_x_m: 0.2,
        size_y_m: 0.006,
        size_z_m: 0.08,
        foot_x_m: 0.2,
        foot_y_m: 0.006,
        turn_deg: 0,
      },
    ],
    gap_text: "",
    level_text: "",
    wall_text: "",
  } as unknown as SceneOut;
}

function rod(id: string, x_m: number, y_m: number) {
  const half = { half_x_m: 0.006, half_y_m: 0.006 };
  const upright = { low_m: 0.02, high_m: null, turn_deg: 0 };
  return { id, kind: "rod", x_m, y_m, diameter_m: 0.012, ...half, ...upright };
}

/** The plan that is drawn so. */
export function plan(): Plan {
  return {
    schema_version: 3,
    pieces: [{ id: "p1", x_m: 0, y_m: 0, shape: { kind: "plate" } }],
    anodes: [
      { id: "a1", kind: "rod", x_m: 0, y_m: -0.13 },
      { id: "a2", kind: "rod", x_m: 0, y_m: 0.13 },
    ],
    layout: { arrangement: "opposite" },
    tank: { shape: { kind: "box" } },
    typed: {},
  } as unknown as Plan;
}
