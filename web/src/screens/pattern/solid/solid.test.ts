import { describe, expect, it } from "vitest";
import { hidden, onwards, withMeasure, type Solid } from "./solid";

const cone = { kind: "cone", lower: 120, upper: 0, sides: 0, folded: true, pieces: 1 } as Solid;

describe("measures of a solid", () => {
  it("hides what takes no part", () => {
    expect(hidden(cone, "slant")).toBe(true);
    expect(hidden(withMeasure(cone, "upper", 60), "slant")).toBe(false);
    expect(hidden(cone, "folded")).toBe(true);
    expect(hidden(withMeasure(cone, "sides", 6), "folded")).toBe(false);
    const sheath = {
      kind: "holder",
      outline: [
        [0, 0],
        [10, 0],
        [0, 10],
      ],
    } as unknown as Solid;
    expect(hidden(sheath, "wide")).toBe(true);
    expect(hidden(withMeasure(sheath, "outline", []), "wide")).toBe(false);
  });

  it("goes on as a tail went", () => {
    const next = onwards([
      { x: 0, y: 0, z: 0, wide: 100 },
      { x: 10, y: 50, z: -20, wide: 80 },
    ]);
    expect(next).toEqual({ x: 20, y: 100, z: -40, wide: 56 });
  });
});
