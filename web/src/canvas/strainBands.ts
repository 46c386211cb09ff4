import type { Panel, Schemas } from "@/api/client";

type Point = [number, number];
export interface Band {
  key: string;
  path: string;
  color: string;
  hatched: boolean;
}

const STRETCH = ["#dccbdc", "#b891b9", "#8d6490", "#5f3f64"];
const SQUEEZE = ["#cfe3de", "#92c4ba", "#559b90", "#2b6f66"];
const BEYOND = 1e9;

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
  const squeeze = [...scale.squeeze].map((from, i) => ({ from, color: SQUEEZE[i], hatched: i === 3, words: `squeeze over ${from.toFixed(1)} %` }));
  const stretch = scale.stretch.map((from, i) => ({ from, color: STRETCH[i], hatched: i === 3, words: `stretch over ${from.toFixed(1)} %` }));
  return [...squeeze.reverse(), { from: 0, color: "none", hatched: false, words: "none" }, ...stretch];
}

/** The strain picture as one path a band, cut exactly along the bands' limits inside each triangle. */
export function strainBands(panel: Panel, scale: Scale): Band[] {
  const out: Band[] = [];
  for (const [sign, limits, colors] of [
    [1, scale.stretch, STRETCH],
    [-1, scale.squeeze, SQUEEZE],
  ] as const) {
    limits.forEach((low, i) => {
      const high = limits[i + 1] ?? BEYOND;
      let path = "";
      for (const face of panel.faces) {
        const corners = face.map((v) => [...panel.vertices[v], panel.strain[v] * sign] as [number, number, number]);
        const cut = clip(clip(corners, (p) => p[2] - low), (p) => high - p[2]);
        if (cut.length > 2) path += `M${cut.map((p) => `${p[0].toFixed(1)},${(-p[1]).toFixed(1)}`).join("L")}Z`;
      }
      if (path) out.push({ key: `${sign}${i}`, path, color: colors[i], hatched: i === 3 });
    });
  }
  return out;
}

type Corner = [number, number, number];

/** Keep the part of a polygon where ``inside`` is not negative. */
function clip(polygon: Corner[], inside: (p: Corner) => number): Corner[] {
  const out: Corner[] = [];
  polygon.forEach((now, i) => {
    const next = polygon[(i + 1) % polygon.length];
    const [a, b] = [inside(now), inside(next)];
    if (a >= 0) out.push(now);
    if (a >= 0 !== b >= 0) {
      const t = a / (a - b);
      out.push([0, 1, 2].map((k) => now[k] + (next[k] - now[k]) * t) as Corner);
    }
  });
  return out;
}

/** Signed strain in per cent at a point of the panel, or null outside it. */
export function strainAt(panel: Panel, [x, y]: Point): number | null {
  for (const [i, j, k] of panel.faces) {
    const [a, b, c] = [panel.vertices[i], panel.vertices[j], panel.vertices[k]];
    const d = (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]);
    const v = ((x - a[0]) * (c[1] - a[1]) - (y - a[1]) * (c[0] - a[0])) / d;
    const w = ((b[0] - a[0]) * (y - a[1]) - (b[1] - a[1]) * (x - a[0])) / d;
    if (v >= 0 && w >= 0 && v + w <= 1) return panel.strain[i] * (1 - v - w) + panel.strain[j] * v + panel.strain[k] * w;
  }
  return null;
}
