import type { Flat } from "@/api/client";
import { extent, rim } from "./flatPaths";

type Place = readonly number[];
/** Room that a label takes round its middle as drawn, mm: with all its words, and with the panel's code alone. */
const WHOLE = { wide: 92, high: 44, smaller: [1, 0.88, 0.78] };
const CODE = { wide: 46, high: 15, smaller: [1, 0.85, 0.7, 0.55, 0.4, 0.3] };
/** From the label's own corner to its middle, as drawn, mm. */
const TO_MIDDLE = [25, 4];
/** Small words are this high, mm; on the screen never less than this, px. */
export const TEXT = 6.6;
const LEAST_SHOWN = 9;
/** Edges are told by points this far from each other, mm. */
const STEP = 5;

export interface Standing {
  at: Place;
  scale: number;
  whole: boolean;
}

/**
 * Where a panel's label stands: clear of its edges, its darts and the figure at its worst place, as near as can be to
 * where it stood. grown: how much larger than drawn words should be; fit: px a mm.
 */
export function placeLabel(flat: Flat, grown: number, fit: number, near: Place | undefined): Standing {
  const size = extent(flat);
  const wanted = near ?? [(size.left + size.right) / 2, (size.low + size.high) / 2];
  const hindrances = [
    ...thinned(rim(flat)),
    ...flat.holes.flatMap((h) => thinned(h.points)),
    ...otherWords(flat, grown),
  ];
  const places = [...flat.vertices].sort((a, b) => far(a, wanted) - far(b, wanted));
  for (const { wide, high, smaller } of [WHOLE, CODE]) {
    const whole = wide === WHOLE.wide;
    for (const share of smaller) {
      const scale = share * grown;
      if (whole && scale * TEXT * fit < LEAST_SHOWN) continue;
      const [x, y] = [(wide / 2) * scale, (high / 2) * scale];
      const at = places.find((p) => !hindrances.some((h) => Math.abs(h[0] - p[0]) < x && Math.abs(h[1] - p[1]) < y));
      if (at) return { at, scale, whole };
    }
  }
  return { at: places[0], scale: 0.25 * grown, whole: false };
}

/** The corner that the whole label is drawn from, so that its middle stands where it was placed. */
export const corner = ({ at, scale }: Standing): Place => [at[0] - TO_MIDDLE[0] * scale, at[1] + TO_MIDDLE[1] * scale];

const far = (a: Place, b: Place) => Math.hypot(a[0] - b[0], a[1] - b[1]);

function thinned(points: readonly Place[]): Place[] {
  const out: Place[] = [];
  for (const p of points) if (!out.length || far(out[out.length - 1], p) >= STEP) out.push(p);
  return out;
}

/** Dart tips and names, and the run of the words at the worst place. */
function otherWords(flat: Flat, grown: number): Place[] {
  const [x, y] = flat.worst_at;
  const names = flat.darts.flatMap((d) =>
    [0.3, 0.45, 0.6].map((share) => [0, 1].map((k) => d.mouth[k] + share * (d.tip[k] - d.mouth[k]))),
  );
  return [...flat.darts.map((d) => d.tip), ...names, ...[0, 9, 18, 27, 36].map((dx) => [x + dx * grown, y])];
}
