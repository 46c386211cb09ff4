import { describe, expect, it } from "vitest";
import {
  drawn,
  held,
  onMiddle,
  PER_SPAN,
  SheetMap,
  snap,
  strokeLine,
  type CastSheet,
  type Ink,
  type Pair,
  type Stroke,
} from "./sheetMap";

/** A cone: 300 round at the wrist, 400 at the elbow, 200 mm up. */
const cast = {
  along: [0, 0.5, 1],
  levels: [0, 100, 200],
  girths: [300, 350, 400],
  stations: [
    { name: "wrist", mm: 0 },
    { name: "elbow", mm: 200 },
  ],
  around: [],
  points: [],
  normals: [],
} as unknown as CastSheet;
const stroke = (points: Pair[], more: Partial<Stroke> = {}) =>
  ({ key: "k", name: "hem", kind: "outline", curve: "smooth", closed: false, points, ...more }) as Stroke;
const ink = (...strokes: Stroke[]) => ({ strokes, symmetric: false }) as unknown as Ink;

describe("the unrolled sheet", () => {
  it("takes a place to the sheet and back, in both turns", () => {
    for (const turned of [false, true])
      for (let u = -0.49; u < 0.5; u += 0.07)
        for (const v of [0, 0.3, 0.77, 1]) {
          const map = new SheetMap(cast, turned);
          const back = map.at(map.place([u, v]), u);
          expect(back[0]).toBeCloseTo(u, 9);
          expect(back[1]).toBeCloseTo(v, 9);
        }
  });

  it("is as wide as the ring is round", () => {
    const map = new SheetMap(cast, false);
    expect(map.place([0.25, 0.5])).toEqual([0.25 * 350, 100]);
    expect(new SheetMap(cast, true).place([0.5, 0.5])[0]).toBeCloseTo(0, 9);
  });

  it("breaks a line that runs over the edge and draws an area at both", () => {
    const map = new SheetMap(cast, false);
    const over: Pair[] = [
      [0.45, 0.5],
      [0.49, 0.5],
      [0.53, 0.5],
      [0.57, 0.5],
    ];
    expect(map.path(over).match(/M/g)).toHaveLength(2);
    expect(map.area([...over, [0.5, 0.9]]).match(/Z/g)).toHaveLength(2);
  });
});

describe("a stroke", () => {
  it("runs through its points", () => {
    const points: Pair[] = [
      [0, 0],
      [0.1, 0.4],
      [0.3, 0.2],
      [0.4, 0.9],
    ];
    const line = strokeLine(stroke(points));
    points.forEach((p, k) => expect(line[k * PER_SPAN]).toEqual([expect.closeTo(p[0], 9), expect.closeTo(p[1], 9)]));
    expect(line).toHaveLength(3 * PER_SPAN + 1);
  });

  it("is straight where it was drawn so, and comes back to its start where it is closed", () => {
    const line = strokeLine(
      stroke([
        [0, 0],
        [0.2, 0.4],
      ]),
    );
    for (const [u, v] of line) expect(v).toBeCloseTo(2 * u, 9);
    const ring = strokeLine(
      stroke(
        [
          [0, 0],
          [0.2, 0],
          [0.1, 0.3],
        ],
        { closed: true },
      ),
    );
    expect(ring[ring.length - 1]).toEqual(ring[0]);
  });

  it("has a mirror image unless it lies on the middle", () => {
    const middle = stroke([
      [0, 0],
      [0, 1],
    ]);
    const aside = stroke([
      [0.1, 0],
      [0.2, 1],
    ]);
    expect([onMiddle(middle), onMiddle(aside)]).toEqual([true, false]);
    const both = drawn({ ...ink(middle, aside), symmetric: true } as Ink);
    expect(both.map((d) => d.image)).toEqual([false, false, true]);
    expect(both[2].stroke.points[0][0]).toBeCloseTo(-0.1, 9);
  });
});

describe("where a point likes to go", () => {
  const map = new SheetMap(cast, false);

  it("goes to a line's end first, then to columns and stations, and stays where nothing is near", () => {
    const lines = ink(
      stroke([
        [0.1, 0.3],
        [0.2, 0.35],
      ]),
    );
    expect(snap(map, lines, [0.102, 0.302], 6, null)).toEqual({
      at: [expect.closeTo(0.1, 9), expect.closeTo(0.3, 9)],
      to: "hem",
    });
    expect(snap(map, ink(), [0.253, 0.6], 6, null).at[0]).toBe(0.25);
    expect(snap(map, ink(), [0.12, 0.99], 6, null)).toEqual({ at: [expect.closeTo(0.1197, 4), 1], to: "elbow" });
    expect(snap(map, ink(), [0.12, 0.6], 6, null)).toEqual({ at: [0.12, 0.6], to: "" });
  });

  it("does not go to itself", () => {
    const lines = ink(
      stroke([
        [0.1, 0.3],
        [0.2, 0.35],
      ]),
    );
    expect(snap(map, lines, [0.102, 0.302], 2, { key: "k", index: 0 }).to).toBe("");
  });

  it("stays on the cast", () => {
    expect(held(cast, [3, 0.5])[0]).toBe(1.4);
  });
});
