import { expect, it } from "vitest";
import { ruled } from "./laidOn";

it("stands between two edges where it goes on from one", () => {
  const foot = [0, 1, 2].map((k) => [k, 0, 0]);
  const head = [2, 1, 0].map((k) => [k, 0, 40]);
  const strip = ruled([[...foot, ...head, foot[0]]]);
  expect(Array.from(strip.index!.array)).toEqual([0, 1, 4, 0, 4, 5, 1, 2, 3, 1, 3, 4]);
});
