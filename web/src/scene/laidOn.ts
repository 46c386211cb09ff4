import {
  BufferGeometry,
  DoubleSide,
  Float32BufferAttribute,
  FrontSide,
  Mesh,
  MeshLambertMaterial,
  ShapeUtils,
  Vector2,
  type Scene,
} from "three";

export interface Worn {
  key: string;
  detail: { shape?: { form?: string } | null };
  worn: number[][][];
}

const LIFT = 1.006;
/** What covers a whole panel lies lowest, then strips and plates, and rivets on them all. */
const HEIGHT = ["scales", "links", "segments", "border", "plate", "damage", "row"];
const STUDS = ["row", "scales", "links", "damage"];
/** Straight faces between the points of a rim would sink into the round foam: drawn after it, where they face. */
const ON_TOP = { side: FrontSide, depthTest: false };

/** What lies on the foam, as it is worn: a mesh a part, made anew only where the part changed. */
export class LaidOn {
  private parts = new Map<string, { worn: number[][][]; mesh: Mesh }>();
  private readonly held = new MeshLambertMaterial({ color: "#3f9c94", ...ON_TOP });
  private readonly strip = new MeshLambertMaterial({ color: "#8a8f96", ...ON_TOP });
  /** What goes on from an edge stands free of the foam, and is seen from both sides. */
  private readonly free = new MeshLambertMaterial({ color: "#8a8f96", side: DoubleSide });
  private readonly freeHeld = new MeshLambertMaterial({ color: "#3f9c94", side: DoubleSide });
  private readonly stud = new MeshLambertMaterial({ color: "#d9b779", ...ON_TOP });

  constructor(private readonly scene: Scene) {}

  show(rows: readonly Worn[], held: string) {
    const there = new Set(rows.map((r) => r.key));
    for (const key of this.parts.keys()) if (!there.has(key)) this.drop(key);
    for (const row of rows) {
      if (this.parts.get(row.key)?.worn !== row.worn) this.make(row);
      const form = row.detail.shape?.form ?? "";
      const own = STUDS.includes(form) ? this.stud : this.strip;
      const [still, moving] = form === "cuff" ? [this.free, this.freeHeld] : [own, this.held];
      this.parts.get(row.key)!.mesh.material = row.key === held ? moving : still;
    }
  }

  private make(row: Worn) {
    this.drop(row.key);
    const rings = row.worn.filter((ring) => ring.length > 3);
    const form = row.detail.shape?.form ?? "";
    const mesh = new Mesh(form === "cuff" ? ruled(rings) : filled(rings));
    mesh.renderOrder = 1 + HEIGHT.indexOf(form);
    this.parts.set(row.key, { worn: row.worn, mesh });
    this.scene.add(mesh);
  }

  private drop(key: string) {
    const old = this.parts.get(key);
    if (!old) return;
    this.scene.remove(old.mesh);
    old.mesh.geometry.dispose();
    this.parts.delete(key);
  }

  dispose() {
    for (const key of [...this.parts.keys()]) this.drop(key);
    for (const m of [this.held, this.strip, this.stud, this.free, this.freeHeld]) m.dispose();
  }
}

/** Strips between two edges, each ring the one edge on and the other back, ended where it began. */
export function ruled(rings: number[][][]): BufferGeometry {
  const places: number[] = [];
  const triangles: number[] = [];
  for (const ring of rings) {
    const first = places.length / 3;
    const n = (ring.length - 1) / 2;
    for (const point of ring.slice(0, -1)) places.push(...point);
    for (let k = 1; k < n; k++) {
      const [a, b, c, d] = [k - 1, k, 2 * n - 1 - k, 2 * n - k].map((i) => first + i);
      triangles.push(a, b, c, a, c, d);
    }
  }
  return geometryOf(places, triangles);
}

/** Closed lines on a body, each filled with triangles, which are found where it is unrolled about the body's axis. */
function filled(rings: number[][][]): BufferGeometry {
  const places: number[] = [];
  const triangles: number[] = [];
  for (const ring of rings) {
    const points = ring.slice(0, -1);
    const first = places.length / 3;
    let turn = 0;
    const flat = points.map(([x, y, z], k) => {
      const [a, b] = points[Math.max(0, k - 1)];
      turn += Math.atan2(a * y - b * x, a * x + b * y);
      return new Vector2(turn * Math.hypot(points[0][0], points[0][1]), z);
    });
    for (const [x, y, z] of points) places.push(x * LIFT, y * LIFT, z);
    for (const corner of ShapeUtils.triangulateShape(flat, []).flat()) triangles.push(first + corner);
  }
  return geometryOf(places, triangles);
}

function geometryOf(places: number[], triangles: number[]): BufferGeometry {
  const geometry = new BufferGeometry();
  geometry.setAttribute("position", new Float32BufferAttribute(places, 3));
  geometry.setIndex(triangles);
  geometry.computeVertexNormals();
  return geometry;
}
