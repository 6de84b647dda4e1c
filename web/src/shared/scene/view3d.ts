import {
  BoxGeometry,
  BufferAttribute,
  BufferGeometry,
  ColorManagement,
  CylinderGeometry,
  DoubleSide,
  Group,
  Line,
  LinearSRGBColorSpace,
  LineBasicMaterial,
  LineLoop,
  LineSegments,
  Mesh,
  MeshBasicMaterial,
  type Object3D,
  PerspectiveCamera,
  Plane,
  Raycaster,
  Scene,
  TorusGeometry,
  Vector2,
  Vector3,
  WebGLRenderer,
} from "three";
import { OrbitControls } from "three/examples/jsm/controls/OrbitControls.js";
import type { SceneOut } from "@/shared/api/client";
import { rgb } from "./colour";
import { type Facets, ownerOf, regionOf } from "./facets";
import { halfAt, outlineAt, type Point } from "./shape";

export interface Picked {
  kind: "anode" | "piece";
  id: string;
  /** Value under the pointer, and the region there; only over the piece's map. */
  value?: number;
  face?: string;
}

// what is in the liquid keeps its colours: the map has to agree with its legend
const AFTER_LIQUID = 2;

ColorManagement.enabled = false; // colours go to the screen as the legend has them

const v3 = (p: Point, z: number) => new Vector3(p[0], p[1], z);

/** The tank in three dimensions: drawn when something changed, never in a loop. */
export class View3D {
  private renderer: WebGLRenderer;
  private scene = new Scene();
  private camera = new PerspectiveCamera(32, 1, 0.01, 60);
  private controls: OrbitControls;
  private tank = new Group();
  private scrap = new Group();
  private boxes = new Group();
  private map: Mesh<BufferGeometry, MeshBasicMaterial> | null = null;
  private facets: Facets | null = null;
  private top = 0;
  private shading = new Float32Array();
  private due = 0;
  private framed = "";
  private wanted: [SceneOut, string | null] | null = null;
  private around: ResizeObserver;

  constructor(
    private readonly canvas: HTMLCanvasElement,
    private readonly theme: () => Record<"ink" | "line" | "liquid" | "steel" | "rust", string>,
  ) {
    this.renderer = new WebGLRenderer({ canvas, antialias: true, alpha: true });
    this.renderer.outputColorSpace = LinearSRGBColorSpace;
    this.renderer.setPixelRatio(Math.min(window.devicePixelRatio || 1, 2));
    this.camera.up.set(0, 0, 1);
    this.controls = new OrbitControls(this.camera, canvas);
    this.controls.enableDamping = false;
    this.controls.maxPolarAngle = Math.PI * 0.56;
    this.controls.addEventListener("change", this.ask);
    this.scene.add(this.tank, this.scrap, this.boxes);
    this.around = new ResizeObserver(() => this.resize());
    this.around.observe(canvas);
    this.resize();
  }

  stop() {
    cancelAnimationFrame(this.due);
    this.around.disconnect();
    this.controls.dispose();
    this.clear(this.tank);
    this.clear(this.scrap);
    this.clear(this.boxes);
    this.map?.geometry.dispose();
    this.renderer.dispose();
  }

  /** Have it drawn with the next frame. */
  ask = () => {
    if (this.due || document.documentElement.dataset.rendering === "paused") return;
    this.due = requestAnimationFrame(() => {
      this.due = 0;
      if (this.wanted) this.build(...this.wanted);
      this.wanted = null;
      this.renderer.render(this.scene, this.camera);
      this.canvas.dataset.drawn = String(Number(this.canvas.dataset.drawn ?? 0) + 1);
    });
  };

  private resize() {
    const { clientWidth: w, clientHeight: h } = this.canvas;
    if (!w || !h) return;
    this.renderer.setSize(w, h, false);
    this.camera.aspect = w / h;
    this.camera.updateProjectionMatrix();
    this.ask();
  }

  /** Tank, liquid, scrap and (until the map is there) the pieces' boxes. */
  show(s: SceneOut, selected: string | null) {
    this.wanted = [s, selected];
    const frame = JSON.stringify([s.rim_x_m, s.rim_y_m, s.height_m, s.round]);
    if (frame !== this.framed) {
      this.framed = frame;
      this.look(s, -0.62, 0.42);
    }
    this.ask();
  }

  look(s: SceneOut, yaw: number, pitch: number) {
    const wide = Math.max(s.rim_x_m, 2 * halfAt(s, s.height_m)[1], s.height_m);
    const target = new Vector3(0, 0, s.height_m * 0.43);
    const far = wide * (this.camera.aspect < 1 ? 3.5 : 2.55);
    this.camera.position.set(
      target.x + far * Math.cos(pitch) * Math.sin(yaw),
      target.y - far * Math.cos(pitch) * Math.cos(yaw),
      target.z + far * Math.sin(pitch),
    );
    this.controls.target.copy(target);
    this.controls.update();
    this.ask();
  }

  private clear(group: Group) {
    for (const child of [...group.children]) {
      group.remove(child);
      child.traverse((o) => {
        if (o instanceof Mesh || o instanceof Line) {
          o.geometry.dispose();
          (o.material as MeshBasicMaterial).dispose();
        }
      });
    }
  }

  private build(s: SceneOut, selected: string | null) {
    const c = this.theme();
    this.clear(this.tank);
    this.clear(this.scrap);
    this.clear(this.boxes);
    const line = (points: Vector3[], colour: string, loop = true) =>
      new (loop ? LineLoop : LineSegments)(
        new BufferGeometry().setFromPoints(points),
        new LineBasicMaterial({ color: colour }),
      );
    const heights = s.wall.map((p) => p.z_m);
    const skin = (upTo: number, colour: string, opacity: number) => {
      const rings = [...heights.filter((z) => z < upTo), upTo].map((z) =>
        outlineAt(s, z).map((p) => v3(p, z)),
      );
      return new Mesh(
        loft(rings),
        new MeshBasicMaterial({
          color: colour,
          transparent: true,
          opacity,
          side: DoubleSide,
          depthWrite: false,
        }),
      );
    };
    const level = outlineAt(s, s.level_m).map((p) => v3(p, s.level_m));
    this.tank.add(
      skin(s.height_m, c.steel, 0.1),
      skin(s.level_m, c.liquid, 0.16),
      new Mesh(
        fan(level),
        new MeshBasicMaterial({
          color: c.liquid,
          transparent: true,
          opacity: 0.3,
          side: DoubleSide,
          depthWrite: false,
        }),
      ),
      line(level, c.liquid),
      line(
        outlineAt(s, s.height_m).map((p) => v3(p, s.height_m)),
        c.line,
      ),
      line(
        outlineAt(s, heights[0] ?? 0).map((p) => v3(p, heights[0] ?? 0)),
        c.line,
      ),
    );
    if (!s.round) {
      const [low, high] = [outlineAt(s, heights[0] ?? 0), outlineAt(s, s.height_m)];
      const ends =
        heights.length < 3
          ? low.flatMap((p, k) => [v3(p, 0), v3(high[k] as Point, s.height_m)])
          : [];
      this.tank.add(line(ends, c.line, false));
    }
    const bar = s.height_m + 0.012;
    const reach = s.rim_x_m / 2 + 0.02;
    this.tank.add(
      line(
        [
          new Vector3(-reach, 0, bar),
          new Vector3(reach, 0, bar),
          ...s.pieces.flatMap((p) => [
            new Vector3(p.x_m, p.y_m, p.bottom_m + p.size_z_m),
            new Vector3(p.x_m, p.y_m, bar),
          ]),
        ],
        c.line,
        false,
      ),
    );
    for (const r of s.rods) this.scrap.add(anode(r, s, r.id === selected ? c.ink : c.steel, c.ink));
    if (!this.facets)
      for (const p of s.pieces) {
        const box = new Mesh(
          new BoxGeometry(p.foot_x_m, p.foot_y_m, p.size_z_m),
          new MeshBasicMaterial({ color: c.rust }),
        );
        box.position.set(p.x_m, p.y_m, p.bottom_m + p.size_z_m / 2);
        box.rotation.z = (p.turn_deg * Math.PI) / 180;
        box.userData = { kind: "piece", id: p.id };
        this.boxes.add(box);
      }
  }

  /** The map on the piece: its corners where they are new, its colours always. */
  paint(f: Facets | null, top: number, shift: Point = [0, 0]) {
    if (!f) {
      if (this.map) this.scene.remove(this.map);
      this.map?.geometry.dispose();
      this.map = null;
      this.facets = null;
      this.ask();
      return;
    }
    if (f.mesh !== this.facets?.mesh || !this.map) this.meshed(f);
    const same = f.values === this.facets?.values && top === this.top;
    this.facets = f;
    this.top = top;
    const map = this.map as Mesh<BufferGeometry, MeshBasicMaterial>;
    map.position.set(f.place[0] + shift[0], f.place[1] + shift[1], 0);
    if (same) return this.ask();
    const colours = map.geometry.getAttribute("color") as BufferAttribute;
    const out = colours.array as Uint8Array;
    const pieces = f.corners.length / 12;
    for (let k = 0; k < pieces; k++) {
      const [r, g, b] = rgb(f.values[ownerOf(f, k)] ?? 0, top);
      const light = this.shading[k] as number;
      for (let v = k * 12; v < k * 12 + 12; v += 3) {
        out[v] = r * light;
        out[v + 1] = g * light;
        out[v + 2] = b * light;
      }
    }
    colours.needsUpdate = true;
    this.ask();
  }

  private meshed(f: Facets) {
    if (this.map) this.scene.remove(this.map);
    this.map?.geometry.dispose();
    this.clear(this.boxes);
    const n = f.corners.length / 12;
    const index = new Uint32Array(n * 6);
    this.shading = new Float32Array(n);
    const [a, b, c] = [new Vector3(), new Vector3(), new Vector3()];
    for (let k = 0; k < n; k++) {
      index.set(
        [0, 1, 2, 0, 2, 3].map((v) => 4 * k + v),
        6 * k,
      );
      a.fromArray(f.corners, 12 * k);
      b.fromArray(f.corners, 12 * k + 3).sub(a);
      c.fromArray(f.corners, 12 * k + 6).sub(a);
      b.cross(c).normalize();
      this.shading[k] = 0.86 + 0.14 * Math.max(0.35 * b.x - 0.5 * b.y + 0.79 * b.z, 0);
    }
    const geometry = new BufferGeometry();
    geometry.setAttribute(
      "position",
      new BufferAttribute(
        f.corners.map((x) => x / 1000),
        3,
      ),
    );
    geometry.setAttribute("color", new BufferAttribute(new Uint8Array(n * 12), 3, true));
    geometry.setIndex(new BufferAttribute(index, 1));
    this.map = new Mesh(
      geometry,
      new MeshBasicMaterial({ vertexColors: true, side: DoubleSide, transparent: true }),
    );
    this.map.renderOrder = AFTER_LIQUID;
    this.map.userData = { kind: "piece" };
    this.scene.add(this.map);
  }

  /** What lies under a spot of the canvas [px]. */
  pick(x: number, y: number): Picked | null {
    const ray = this.ray(x, y);
    const targets: Object3D[] = [...this.scrap.children, ...this.boxes.children];
    if (this.map) targets.push(this.map);
    const hit = ray.intersectObjects(targets, true)[0];
    if (!hit) return null;
    let at: Object3D | null = hit.object;
    while (at && !at.userData.kind) at = at.parent;
    if (!at) return null;
    const found: Picked = { kind: at.userData.kind, id: at.userData.id ?? "" };
    if (at === this.map && this.facets && hit.faceIndex != null) {
      const piece = hit.faceIndex >> 1;
      found.value = this.facets.values[ownerOf(this.facets, piece)];
      found.face = regionOf(this.facets, piece);
      found.id = found.face?.split(".")[0] ?? "";
    }
    return found;
  }

  /** Where a spot of the canvas meets the level plane at a height [m]. */
  onLevel(x: number, y: number, z: number): Point | null {
    const at = new Vector3();
    const met = this.ray(x, y).ray.intersectPlane(new Plane(new Vector3(0, 0, 1), -z), at);
    return met ? [at.x, at.y] : null;
  }

  turning(on: boolean) {
    this.controls.enabled = on;
  }

  private ray(x: number, y: number): Raycaster {
    const ray = new Raycaster();
    const at = new Vector2(
      (x / this.canvas.clientWidth) * 2 - 1,
      1 - (y / this.canvas.clientHeight) * 2,
    );
    ray.setFromCamera(at, this.camera);
    return ray;
  }
}

function anode(r: SceneOut["rods"][number], s: SceneOut, colour: string, ink: string): Object3D {
  const high = r.high_m ?? s.height_m + 0.01;
  const tall = Math.max(high - r.low_m, 0.002);
  const material = new MeshBasicMaterial({ color: colour, transparent: true });
  let made: Mesh;
  if (r.kind === "ring") {
    made = new Mesh(new TorusGeometry(r.half_x_m, r.diameter_m / 2, 8, 64), material);
  } else if (r.kind === "rod") {
    made = new Mesh(new CylinderGeometry(r.diameter_m / 2, r.diameter_m / 2, tall, 14), material);
    made.rotation.x = Math.PI / 2;
  } else {
    made = new Mesh(new BoxGeometry(2 * r.half_x_m, 2 * r.half_y_m, tall), material);
    made.rotation.z = (r.turn_deg * Math.PI) / 180;
  }
  const group = new Group();
  made.position.set(r.x_m, r.y_m, r.low_m + tall / 2);
  const plus = new Mesh(
    new BoxGeometry(0.012, 0.012, 0.004),
    new MeshBasicMaterial({ color: ink }),
  );
  plus.position.set(r.x_m, r.y_m, high + 0.004);
  made.renderOrder = AFTER_LIQUID;
  group.add(made);
  if (r.high_m == null) group.add(plus);
  group.userData = { kind: "anode", id: r.id };
  return group;
}

/** A skin between rings of equally many points. */
function loft(rings: Vector3[][]): BufferGeometry {
  const n = rings[0]?.length ?? 0;
  const index: number[] = [];
  for (let k = 0; k + 1 < rings.length; k++)
    for (let i = 0; i < n; i++) {
      const [a, b] = [k * n + i, k * n + ((i + 1) % n)];
      index.push(a, b, b + n, a, b + n, a + n);
    }
  const made = new BufferGeometry().setFromPoints(rings.flat());
  made.setIndex(index);
  return made;
}

function fan(ring: Vector3[]): BufferGeometry {
  const made = new BufferGeometry().setFromPoints(ring);
  made.setIndex(ring.slice(2).flatMap((_, k) => [0, k + 1, k + 2]));
  return made;
}
