import { describe, expect, it } from "vitest";
import { rowsWithout, zonesWithout } from "./zones";

const there = [
  { name: "1a", panel: 1 },
  { name: "1b", panel: 1 },
  { name: "1c", panel: 1 },
  { name: "2", panel: 2 },
  { name: "11", panel: 11 },
];

describe("zones given to another finish", () => {
  it("leaves the other parts of a panel that was painted whole", () => {
    expect(zonesWithout(["1", "2"], ["1b"], there)).toEqual(["1a", "1c", "2"]);
    expect(zonesWithout(["1", "11"], ["2"], there)).toEqual(["1", "11"]);
    expect(zonesWithout(["2"], ["2"], there)).toEqual([]);
  });
  it("drops a finish that keeps none, never the one for the rest", () => {
    const rows = [{ zones: ["2"] }, { zones: [] }, { zones: ["1"] }];
    expect(rowsWithout(rows, ["2"], there)).toEqual([{ zones: [] }, { zones: ["1"] }]);
    expect(rowsWithout(rows, ["2"], there, 2)).toEqual([{ zones: [] }, { zones: ["1", "2"] }]);
    expect(rowsWithout(rows, ["1a"], there, 1)).toEqual([{ zones: ["2"] }, { zones: [] }, { zones: ["1b", "1c"] }]);
  });
});
