import { describe, expect, it } from "vitest";
import { boxOf, meets, moved, turnedBy, within, type Lying } from "./nestHand";

const square = (key: string, x: number, y: number, side = 10): Lying => ({
  key,
  turn: 0,
  x,
  y,
  outline: [
    [x, y],
    [x + side, y],
    [x + side, y + side],
    [x, y + side],
  ],
});

describe("parts under a hand", () => {
  it("tells what a part comes too near to, and what lies in another", () => {
    const here = square("a", 0, 0);
    expect(meets(here, [square("b", 12, 0)], 3)).toEqual(["b"]);
    expect(meets(here, [square("b", 13.1, 0)], 3)).toEqual([]);
    expect(meets(here, [square("b", 2, 2, 3)], 3)).toEqual(["b"]);
    expect(meets(here, [here], 3)).toEqual([]);
    expect(meets(square("c", 9, 9), [here], 0.1)).toEqual(["a"]);
  });

  it("turns a part where it lies, and four times is as it was", () => {
    const long: Lying = {
      ...square("a", 5, 5),
      outline: [
        [5, 5],
        [45, 5],
        [45, 15],
        [5, 15],
      ],
    };
    const upright = turnedBy(long, 90);
    const box = boxOf(upright.outline);
    expect([box.left, box.low, box.right, box.high].map(Math.round)).toEqual([20, -10, 30, 30]);
    expect(upright.turn).toBe(90);
    const back = turnedBy(turnedBy(turnedBy(upright, 90), 90), 90);
    expect(back.turn).toBe(0);
    expect(back.x).toBeCloseTo(5);
    expect(back.outline[2]![0]).toBeCloseTo(45);
  });

  it("keeps a part within its sheet", () => {
    const sheet = square("s", 0, 0, 100).outline;
    expect(within(square("a", 3, 3), sheet, 3)).toBe(true);
    expect(within(square("a", 2, 3), sheet, 3)).toBe(false);
    expect(within(moved(square("a", 3, 3), 0, 84.5), sheet, 3)).toBe(false);
  });
});
