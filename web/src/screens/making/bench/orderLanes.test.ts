import { describe, expect, it } from "vitest";
import { chipLines, layLanes, WITH_NUMBERS, WITH_WORDS } from "./orderLanes";
import type { Bench } from "./useBench";

const STAGES = ["prepare", "cut", "shape", "join", "smooth", "fit", "paint", "finish"];
const bench = (id: number, count: number) =>
  ({
    piece_id: id,
    name: `Piece ${id}`,
    steps: Array.from({ length: count }, (_, k) => ({
      key: `s${k}`,
      title: `Step ${k}`,
      stage: STAGES[Math.floor((k * STAGES.length) / count)],
      place: k % 3 ? "indoors" : "ventilated",
    })),
  }) as unknown as Bench;

describe("the order in one picture", () => {
  it("holds every step of a piece once, in order, inside the width, none over another", () => {
    for (const width of [360, 700, 1050, 1600])
      for (const count of [1, 24, 45]) {
        const made = layLanes([bench(1, count)], "stage", width, WITH_WORDS);
        expect(made.chips.map((c) => c.number).sort((a, b) => a - b)).toEqual(
          Array.from({ length: count }, (_, k) => k + 1),
        );
        const places = new Set(made.chips.map((c) => `${c.x} ${c.y}`));
        expect(places.size).toBe(count);
        for (const c of made.chips) {
          expect(c.x + WITH_WORDS.wide).toBeLessThanOrEqual(Math.max(width, WITH_WORDS.label + WITH_WORDS.wide));
          expect(c.y + WITH_WORDS.high).toBeLessThanOrEqual(made.height);
          const lane = made.lanes.find((l) => c.y > l.y && c.y < l.y + l.height);
          expect(lane).toBeDefined();
        }
      }
  });

  it("shows a piece of 45 steps without scrolling where a laptop has room for it", () => {
    const made = layLanes([bench(1, 45)], "stage", 1050, WITH_WORDS);
    expect(made.height).toBeLessThan(560);
  });

  it("gives every piece of a costume its own lane", () => {
    const made = layLanes([bench(1, 24), bench(2, 38)], "piece", 1050, WITH_NUMBERS);
    expect(made.lanes.map((l) => l.name)).toEqual(["Piece 1", "Piece 2"]);
    const second = made.chips.filter((c) => c.piece === 2);
    expect(Math.min(...second.map((c) => c.y))).toBeGreaterThan(made.lanes[1].y);
  });
});

describe("words on a chip", () => {
  it("takes two lines at most, and says by dots that there is more", () => {
    expect(chipLines("Cut out")).toEqual(["Cut out"]);
    expect(chipLines("Number the parts, draw their marks")).toHaveLength(2);
    const long = chipLines("Something to hold each part by while it is painted");
    expect(long).toHaveLength(2);
    expect(long[1]).toMatch(/…$/);
    for (const line of chipLines("Incomprehensibilities everywhere")) expect(line.length).toBeLessThanOrEqual(18);
  });
});
