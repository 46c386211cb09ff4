import { describe, expect, it } from "vitest";
import { asCame, headOf, laidDown, onTable, takenUp, upOf, type Lie } from "./laying";

const lie = (panel: number, up = 0): Lie => ({ panel, at: [10, 20], around: 0.1, along: 1, up });

describe("places on the table", () => {
  it("go back to the panel as it came, however it was widened and shifted", () => {
    const came: [number, number] = [31.25, 74.5];
    const shown = onTable(came, [140, 6], 1.08);
    expect(shown[0]).toBeCloseTo(173.75);
    expect(shown[1]).toBeCloseTo(80.5);
    expect(asCame(shown, [140, 6], 1.08)).toEqual(came);
  });

  it("tell up clockwise, as a maker turns the sheet", () => {
    expect(upOf([0, 0], [0, 50])).toBe(0);
    expect(upOf([0, 0], [50, 0])).toBe(90);
    expect(upOf([5, 5], [-45, 5])).toBe(-90);
    for (const up of [-170, -33.5, 0, 12, 91, 180]) expect(upOf([7, -3], headOf([7, -3], up, 60))).toBeCloseTo(up, 1);
  });
});

describe("laying down", () => {
  it("keeps one place for each panel", () => {
    const all = laidDown(laidDown([lie(1)], lie(2)), lie(1, 45));
    expect(all.map((x) => [x.panel, x.up])).toEqual([
      [2, 0],
      [1, 45],
    ]);
    expect(takenUp(all, 2).map((x) => x.panel)).toEqual([1]);
  });
});
