import { describe, expect, it } from "vitest";
import { sizeOf, together, totals } from "./cutList";

const row = (code: string, thickness: number, more = {}) =>
  ({ code, kind: "armour", thickness, count: 2, size: "", area: 12_345, ...more }) as never;
const sheet = (thickness: number, parts: number, minutes: number) =>
  ({ kind: "armour", thickness, parts, minutes }) as never;
const list = {
  pieces: [
    {
      piece: 1,
      name: "Greaves",
      rows: [row("GV 1 L", 6), row("GV T1.1 L", 4, { size: "300 mm x 12 mm" })],
      trouble: "",
    },
    { piece: 2, name: "Gorget", rows: [row("GO 1", 6)], trouble: "" },
    { piece: 3, name: "Belt", rows: [], trouble: "Nobody is measured" },
  ],
  sheets: [sheet(6, 4, 20), sheet(4, 2, 5)],
  lefts: [],
} as never;

describe("the cut list", () => {
  it("holds every row once, by piece and by sheet", () => {
    expect(together(list, "piece").map((g) => [g.word, g.told, g.rows.length, g.trouble])).toEqual([
      ["Greaves", "4 parts", 2, ""],
      ["Gorget", "2 parts", 1, ""],
      ["Belt", "", 0, "Nobody is measured"],
    ]);
    expect(together(list, "sheet").map((g) => [g.word, g.rows.map((r) => r.code)])).toEqual([
      ["6 mm armour foam", ["GV 1 L", "GO 1"]],
      ["4 mm armour foam", ["GV T1.1 L"]],
    ]);
  });

  it("sums what is cut, and says how large each is", () => {
    expect(totals(list)).toEqual({ parts: 6, minutes: 25 });
    expect(sizeOf(row("a", 6))).toBe("123 cm²");
    expect(sizeOf(row("a", 6, { size: "300 mm x 12 mm" }))).toBe("300 mm x 12 mm, by ruler");
  });
});
