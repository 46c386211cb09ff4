import type { Flat } from "@/api/client";

type Points = readonly (readonly number[])[];

/** SVG path of a line in mm, y up. */
export function path(points: Points, close = false): string {
  return `M${points.map((p) => `${p[0]},${-p[1]}`).join("L")}${close ? "Z" : ""}`;
}

export function rim(flat: Flat): [number, number][] {
  return flat.edges.flatMap((e) => e.points.slice(0, -1)) as [number, number][];
}

/** All that the knife follows: the outline with its darts, and every hole. */
export function cutPath(flat: Flat): string {
  return [path(rim(flat), true), ...flat.holes.map((h) => path(h.points, true))].join("");
}

export function extent(flat: Flat) {
  const points = rim(flat);
  const xs = points.map((p) => p[0]);
  const ys = points.map((p) => p[1]);
  return { left: Math.min(...xs), right: Math.max(...xs), low: Math.min(...ys), high: Math.max(...ys) };
}
