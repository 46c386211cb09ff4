import type { Schemas } from "@/api/client";

export type CastSheet = Schemas["CastSheetOut"];
export type Stroke = Schemas["Stroke-Output"];
export type Ink = Schemas["InkSheet-Output"];
export type InkIn = Schemas["InkSheet-Input"];
/** (around, along) on the body, or (x, y) in mm of sheet. */
export type Pair = [number, number];

export const PER_SPAN = 12;

function between(x: readonly number[], y: readonly number[], at: number): number {
  const n = x.length - 1;
  let low = 0;
  let high = n;
  while (high - low > 1) {
    const mid = (low + high) >> 1;
    if (x[mid] <= at) low = mid;
    else high = mid;
  }
  return y[low] + ((y[high] - y[low]) * (at - x[low])) / (x[high] - x[low]);
}

/**
 * The unrolled cast: every ring laid straight about the middle line, so widths are true and the body's own outline
 * shows. y grows up the body. ``turned`` puts the back in the middle.
 */
export class SheetMap {
  readonly half: number;
  constructor(
    readonly cast: CastSheet,
    readonly turned: boolean,
  ) {
    this.half = Math.max(...cast.girths) / 2;
  }

  mm(along: number): number {
    return between(this.cast.along, this.cast.levels, along);
  }

  alongAt(mm: number): number {
    return between(this.cast.levels, this.cast.along, mm);
  }

  girth(mm: number): number {
    return Math.max(between(this.cast.levels, this.cast.girths, mm), 20);
  }

  /** ``around`` seen from the sheet's middle, in the turn that is drawn. */
  seen(around: number): number {
    const from = this.turned ? around - 0.5 : around;
    return from - Math.round(from);
  }

  place([u, v]: Pair, near?: number): Pair {
    const mm = this.mm(v);
    let s = this.turned ? u - 0.5 : u;
    if (near === undefined) s = this.seen(u);
    else s += Math.round(near - s);
    return [s * this.girth(mm), mm];
  }

  at([x, y]: Pair, like = 0): Pair {
    const s = x / this.girth(y) + (this.turned ? 0.5 : 0);
    return [s + Math.round(like - s), this.alongAt(y)];
  }

  /** A dense line as SVG path pieces; it breaks where it runs over the sheet's edge and goes on at the other. */
  path(line: readonly Pair[], closed = false): string {
    let out = "";
    let last: number | undefined;
    for (const p of closed && line.length ? [...line, line[0]] : line) {
      const s = this.seen(p[0]);
      const jump = last !== undefined && Math.abs(s - last) > 0.5;
      const [x, y] = this.place(p);
      out += `${last === undefined || jump ? "M" : "L"}${x.toFixed(1)} ${(-y).toFixed(1)}`;
      last = s;
    }
    return out;
  }

  /** A filled ring as a closed path; one that runs over the sheet's edge is drawn again at the other, to be clipped. */
  area(ring: readonly Pair[]): string {
    let out = "";
    for (const turns of [-2, -1, 0, 1, 2]) {
      const at = ring.map(([u, v]) => [u + turns - (this.turned ? 0.5 : 0), v] as Pair);
      if (Math.min(...at.map((p) => p[0])) > 0.5 || Math.max(...at.map((p) => p[0])) < -0.5) continue;
      const drawn = at.map(([s, v]) => [s * this.girth(this.mm(v)), -this.mm(v)]);
      out += `M${drawn.map(([x, y]) => `${x.toFixed(1)} ${y.toFixed(1)}`).join("L")}Z`;
    }
    return out;
  }

  /** A point of the cast in three dimensions, lifted ``off`` mm from the skin. */
  space([u, v]: Pair, off: number): [number, number, number] {
    const { along, around, points, normals } = this.cast;
    const columns = around.length;
    const s = u - Math.round(u);
    const c = Math.min(Math.max((s + 0.5) * (columns - 1), 0), columns - 1.0001);
    const rowAt = between(
      along,
      along.map((_, i) => i),
      v,
    );
    const r = Math.min(Math.max(rowAt, 0), along.length - 1.0001);
    const [i, j] = [Math.floor(r), Math.floor(c)];
    const [a, b] = [r - i, c - j];
    const out: [number, number, number] = [0, 0, 0];
    for (const [row, column, share] of [
      [i, j, (1 - a) * (1 - b)],
      [i, j + 1, (1 - a) * b],
      [i + 1, j, a * (1 - b)],
      [i + 1, j + 1, a * b],
    ] as const) {
      const k = (row * columns + column) * 3;
      for (let axis = 0; axis < 3; axis++) out[axis] += share * (points[k + axis] + off * normals[k + axis]);
    }
    return out;
  }
}

/** A stroke as a dense line: the same uniform Catmull-Rom curve that the core draws. */
export function strokeLine(stroke: Pick<Stroke, "points" | "curve" | "closed">): Pair[] {
  const own = stroke.points as Pair[];
  const p = stroke.closed && own.length > 2 ? [...own, own[0]] : own;
  const out: Pair[] = [];
  const straight = stroke.curve === "straight" || p.length === 2;
  const ring = stroke.closed && p.length > 3;
  const far = (a: Pair, b: Pair): Pair => [2 * a[0] - b[0], 2 * a[1] - b[1]];
  const q = straight
    ? p
    : [ring ? p[p.length - 2] : far(p[0], p[1]), ...p, ring ? p[1] : far(p[p.length - 1], p[p.length - 2])];
  for (let k = 0; k < p.length - 1; k++)
    for (let i = 0; i < PER_SPAN; i++) {
      const t = i / PER_SPAN;
      if (straight) out.push([p[k][0] + t * (p[k + 1][0] - p[k][0]), p[k][1] + t * (p[k + 1][1] - p[k][1])]);
      else
        out.push([0, 1].map((axis) => spline(q[k][axis], q[k + 1][axis], q[k + 2][axis], q[k + 3][axis], t)) as Pair);
    }
  out.push(p[p.length - 1]);
  return out;
}

function spline(a: number, b: number, c: number, d: number, t: number): number {
  return 0.5 * (2 * b + (c - a) * t + (2 * a - 5 * b + 4 * c - d) * t * t + (3 * b - 3 * c + d - a) * t * t * t);
}

export const mirrored = (s: Stroke): Stroke => ({ ...s, points: s.points.map(([u, v]) => [-u, v] as Pair) });

/** Whether a stroke is its own mirror image. */
export function onMiddle(s: Stroke): boolean {
  return s.points.every(([u]) => u % 0.5 === 0) && new Set(s.points.map(([u]) => u)).size === 1;
}

/** Every stroke on the cast, mirror images too, each as it is drawn. */
export function drawn(ink: Ink): { stroke: Stroke; image: boolean }[] {
  const kept = ink.strokes.map((stroke) => ({ stroke, image: false }));
  if (!ink.symmetric) return kept;
  return [...kept, ...ink.strokes.filter((s) => !onMiddle(s)).map((s) => ({ stroke: mirrored(s), image: true }))];
}

/**
 * The places a drawn point likes to go, within ``reach`` mm of sheet: other lines' ends and lines, columns, stations.
 */
export function snap(
  map: SheetMap,
  ink: Ink,
  at: Pair,
  reach: number,
  except: { key: string; index: number } | null,
): { at: Pair; to: string } {
  const [x, y] = map.place(at);
  let best: Pair | null = null;
  let nearest = reach;
  let to = "";
  const offer = (p: Pair, word: string, eager = 1) => {
    const away = Math.hypot(p[0] - x, p[1] - y) * eager;
    if (away < nearest) [best, nearest, to] = [p, away, word];
  };
  for (const { stroke, image } of drawn(ink)) {
    const own = except?.key === stroke.key && !image;
    stroke.points.forEach((p, i) => {
      if (!own || i !== except!.index) offer(map.place(p as Pair), stroke.name || stroke.kind, 0.6);
    });
    if (!own) for (const p of strokeLine(stroke)) offer(map.place(p), stroke.name || stroke.kind);
  }
  for (const u of [0, 0.25, 0.5, -0.25, -0.5]) {
    const s = map.seen(u) * map.girth(y);
    if (Math.abs(s - x) < nearest) [best, nearest, to] = [[s, best ? best[1] : y], Math.abs(s - x), COLUMNS[String(u)]];
  }
  for (const st of map.cast.stations)
    if (Math.abs(st.mm - y) < nearest)
      [best, nearest, to] = [[best ? best[0] : x, st.mm], Math.abs(st.mm - y), st.name];
  if (!best) return { at, to: "" };
  const exact = map.at(best, at[0]);
  const column = [0, 0.25, 0.5, -0.25, -0.5].find((u) => Math.abs(exact[0] - u) < 1e-6);
  const station = map.cast.stations.findIndex((s) => Math.abs(s.mm - best![1]) < 1e-6);
  return { at: [column ?? exact[0], station >= 0 ? station : exact[1]], to };
}

const COLUMNS: Record<string, string> = {
  "0": "front",
  "0.25": "left side",
  "0.5": "back",
  "-0.25": "right side",
  "-0.5": "back",
};

/** How far a station coordinate may run: the cast's own reach. */
export const held = (cast: CastSheet, [u, v]: Pair): Pair => [
  Math.min(1.4, Math.max(-1.4, u)),
  Math.min(cast.along[cast.along.length - 1], Math.max(cast.along[0], v)),
];
