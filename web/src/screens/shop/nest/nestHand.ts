/** Parts on a sheet under a hand: where one is moved to, turned, and what it would lie on. */

export type Point = readonly number[];
export type Ring = readonly Point[];

export interface Lying {
  key: string;
  turn: number;
  x: number;
  y: number;
  outline: Ring;
}

export interface Box {
  left: number;
  low: number;
  right: number;
  high: number;
}

export function boxOf(ring: Ring): Box {
  const box = { left: Infinity, low: Infinity, right: -Infinity, high: -Infinity };
  for (const [x, y] of ring) {
    box.left = Math.min(box.left, x!);
    box.right = Math.max(box.right, x!);
    box.low = Math.min(box.low, y!);
    box.high = Math.max(box.high, y!);
  }
  return box;
}

/** A part moved by so much, mm. */
export function moved<T extends Lying>(part: T, dx: number, dy: number): T {
  return { ...part, x: part.x + dx, y: part.y + dy, outline: part.outline.map(([x, y]) => [x! + dx, y! + dy]) };
}

/** A part turned to the left about the middle of what it covers, so that it stays where it lies. */
export function turnedBy<T extends Lying>(part: T, degrees: number): T {
  const { left, low, right, high } = boxOf(part.outline);
  const about: Point = [(left + right) / 2, (low + high) / 2];
  const [x, y] = turn([part.x, part.y], about, degrees);
  return {
    ...part,
    turn: (((part.turn + degrees) % 360) + 360) % 360,
    x: x!,
    y: y!,
    outline: part.outline.map((p) => turn(p, about, degrees)),
  };
}

function turn(p: Point, about: Point, degrees: number): Point {
  const a = (degrees * Math.PI) / 180;
  const [dx, dy] = [p[0]! - about[0]!, p[1]! - about[1]!];
  return [about[0]! + dx * Math.cos(a) - dy * Math.sin(a), about[1]! + dx * Math.sin(a) + dy * Math.cos(a)];
}

/** Parts that one would lie on, or come nearer to than it may. */
export function meets(part: Lying, others: readonly Lying[], clearance: number): string[] {
  const own = boxOf(part.outline);
  return others
    .filter((o) => o.key !== part.key && near(own, boxOf(o.outline), clearance))
    .filter((o) => apart(part.outline, o.outline) < clearance - 0.05)
    .map((o) => o.key);
}

/** Whether a part stays that far inside the edge of an upright sheet. */
export function within(part: Lying, sheet: Ring, edge: number): boolean {
  const [own, room] = [boxOf(part.outline), boxOf(sheet)];
  const by = edge - 0.05;
  return (
    own.left >= room.left + by && own.low >= room.low + by && own.right <= room.right - by && own.high <= room.high - by
  );
}

const near = (a: Box, b: Box, by: number) =>
  a.left < b.right + by && b.left < a.right + by && a.low < b.high + by && b.low < a.high + by;

/** mm between two outlines; 0 where they meet or one is in the other. */
function apart(a: Ring, b: Ring): number {
  if (inside(a[0]!, b) || inside(b[0]!, a)) return 0;
  let least = Infinity;
  for (let i = 0; i < a.length; i++) {
    const [p, q] = [a[i]!, a[(i + 1) % a.length]!];
    for (let j = 0; j < b.length; j++) {
      const [r, s] = [b[j]!, b[(j + 1) % b.length]!];
      if (cross(p, q, r, s)) return 0;
      least = Math.min(least, toLine(p, r, s), toLine(r, p, q));
    }
  }
  return least;
}

function toLine(p: Point, a: Point, b: Point): number {
  const [dx, dy] = [b[0]! - a[0]!, b[1]! - a[1]!];
  const long = dx * dx + dy * dy;
  const t = long ? Math.max(0, Math.min(1, ((p[0]! - a[0]!) * dx + (p[1]! - a[1]!) * dy) / long)) : 0;
  return Math.hypot(p[0]! - a[0]! - t * dx, p[1]! - a[1]! - t * dy);
}

const side = (a: Point, b: Point, c: Point) => (b[0]! - a[0]!) * (c[1]! - a[1]!) - (b[1]! - a[1]!) * (c[0]! - a[0]!);

const cross = (p: Point, q: Point, r: Point, s: Point) =>
  side(p, q, r) * side(p, q, s) < 0 && side(r, s, p) * side(r, s, q) < 0;

function inside(p: Point, ring: Ring): boolean {
  let odd = false;
  for (let i = 0, j = ring.length - 1; i < ring.length; j = i++) {
    const [a, b] = [ring[i]!, ring[j]!];
    if (a[1]! > p[1]! !== b[1]! > p[1]! && p[0]! < ((b[0]! - a[0]!) * (p[1]! - a[1]!)) / (b[1]! - a[1]!) + a[0]!)
      odd = !odd;
  }
  return odd;
}
