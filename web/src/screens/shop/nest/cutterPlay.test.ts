import { describe, expect, it } from "vitest";
import { at, before, saidAt, UP } from "./cutterPlay";

const events = [
  [0, 0, 0, UP],
  [2, 100, 0, UP],
  [4, 100, 50, 6],
  [5, 0, 50, 6],
];

describe("what the cutter does", () => {
  it("is on its way between two places", () => {
    expect(at(events, 1)).toEqual({ x: 50, y: 0, depth: UP, next: 1 });
    expect(at(events, 3)).toEqual({ x: 100, y: 25, depth: 6, next: 2 });
  });
  it("stands with its tool up at the end", () => {
    expect(at(events, 9)).toEqual({ x: 0, y: 50, depth: UP, next: 4 });
    expect(before(events, 4)).toBe(3);
  });
  it("shows the last thing that was said", () => {
    const remarks = [
      { at: 0, words: "first" },
      { at: 3, words: "second" },
    ];
    expect(saidAt(remarks, 2.9)).toBe("first");
    expect(saidAt(remarks, 3)).toBe("second");
    expect(saidAt([], 3)).toBe("");
  });
});
