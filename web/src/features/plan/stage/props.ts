import type { SceneOut } from "@/shared/api/client";
import type { Facets } from "@/shared/scene/facets";
import type { Side } from "@/shared/scene/flat";
import type { Grip } from "./moves";

/** What a true-scale drawing of the bath is given. */
export interface OrthoProps {
  side: Side;
  scene: SceneOut;
  /** The map, and how far the piece has moved since it was solved [m]. */
  facets: Facets | null;
  shift: { x: number; y: number; z: number };
  top: number;
  system: string | undefined;
  selected: Grip | null;
  select: (grip: Grip | null) => void;
  /** Something stands inside something else. */
  alarm: boolean;
}
