import type { Flat, Schemas } from "@/api/client";

const STRETCH = ["#dccbdc", "#b891b9", "#8d6490", "#5f3f64"];
const SQUEEZE = ["#cfe3de", "#92c4ba", "#559b90", "#2b6f66"];

export interface Scale {
  stretch: number[];
  squeeze: number[];
}

/** Band limits in per cent: a trace, what cold foam takes, comfortably warm, the limit. */
export function scaleOf(give: Schemas["AllowanceOut"]): Scale {
  return {
    stretch: [0.8, give.cold, give.stretch, give.stretch_limit],
    squeeze: [0.8, Math.min(give.cold, give.squeeze * 0.66), give.squeeze, give.squeeze_limit],
  };
}

export function legend(scale: Scale): { from: number; color: string; hatched: boolean; words: string }[] {
  const side = (limits: number[], colors: string[], way: string) =>
    limits.map((from, i) => ({ from, color: colors[i], hatched: i === 3, words: `${way} over ${from.toFixed(1)} %` }));
  const none = { from: 0, color: "none", hatched: false, words: "none" };
  return [...side(scale.squeeze, SQUEEZE, "squeeze").reverse(), none, ...side(scale.stretch, STRETCH, "stretch")];
}

/** Colours by strain from -reach to +reach per cent, perCent entries for each; 0 paints nothing. */
export interface ColorTable {
  paint: Uint32Array;
  over: Uint8Array;
  reach: number;
  perCent: number;
  last: number;
}

/** Made once for a sheet of foam, not for every picture. */
export function colorTable(give: Schemas["AllowanceOut"]): ColorTable {
  const scale = scaleOf(give);
  const [reach, perCent] = [20, 40];
  const last = 2 * reach * perCent;
  const table = { paint: new Uint32Array(last + 1), over: new Uint8Array(last + 1), reach, perCent, last };
  for (let at = 0; at <= last; at++) {
    const strain = at / perCent - reach;
    const [limits, colors] = strain < 0 ? [scale.squeeze, SQUEEZE] : [scale.stretch, STRETCH];
    const band = limits.filter((limit) => Math.abs(strain) >= limit).length - 1;
    if (band < 0) continue;
    const [r, g, b] = [1, 3, 5].map((k) => Number.parseInt(colors[band].slice(k, k + 2), 16));
    table.paint[at] = ((255 << 24) | (b << 16) | (g << 8) | r) >>> 0;
    table.over[at] = band === 3 ? 1 : 0;
  }
  return table;
}

/** The face under a point of the flat panel with the point's weights, or null outside it. */
function faceAt(panel: Flat, [x, y]: [number, number]): { corners: number[]; weights: number[] } | null {
  for (const corners of panel.faces) {
    const [a, b, c] = corners.map((n) => panel.vertices[n]);
    const d = (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]);
    const v = ((x - a[0]) * (c[1] - a[1]) - (y - a[1]) * (c[0] - a[0])) / d;
    const w = ((b[0] - a[0]) * (y - a[1]) - (b[1] - a[1]) * (x - a[0])) / d;
    if (v >= 0 && w >= 0 && v + w <= 1) return { corners, weights: [1 - v - w, v, w] };
  }
  return null;
}

/** Signed strain in per cent at a point of the panel, or null outside it. */
export function strainAt(panel: Flat, at: [number, number]): number | null {
  const face = faceAt(panel, at);
  return face && face.corners.reduce((sum, n, i) => sum + face.weights[i] * panel.strain[n], 0);
}

/** (around, along) on the body under a point of the panel, or null outside it. */
export function bodyAt(panel: Flat, at: [number, number]): [number, number] | null {
  const face = faceAt(panel, at);
  return (
    face &&
    ([0, 1].map((axis) => face.corners.reduce((sum, n, i) => sum + face.weights[i] * panel.uv[n][axis], 0)) as [
      number,
      number,
    ])
  );
}

/** (around, along) of the vertex nearest to a point of the panel. */
export function nearestOnBody(panel: Flat, at: readonly number[]): [number, number] {
  return panel.uv[nearest(panel.vertices, at)] as [number, number];
}

/**
 * (around, along) of the place nearest to a point where a dart can open: the panel's edge, but no leg of a dart or
 * hole.
 */
export function nearestOnEdge(panel: Flat, at: readonly number[]): [number, number] {
  // Edges are drawn through the vertices on them.
  return nearestOnBody(panel, edgeNear(panel, at));
}

/** How far a point lies from that edge, mm. */
export function edgeAway(panel: Flat, at: readonly number[]): number {
  const [x, y] = edgeNear(panel, at);
  return Math.hypot(x - at[0], y - at[1]);
}

function edgeNear(panel: Flat, at: readonly number[]): readonly number[] {
  const edge = panel.edges.filter((e) => e.kind !== "dart").flatMap((e) => e.points);
  return edge[nearest(edge, at)];
}

function nearest(points: readonly (readonly number[])[], [x, y]: readonly number[]): number {
  let best = 0;
  let least = Infinity;
  points.forEach((p, i) => {
    const away = Math.hypot(p[0] - x, p[1] - y);
    if (away < least) [best, least] = [i, away];
  });
  return best;
}
