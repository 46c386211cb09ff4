import type { Piece } from "@/api/client";

/** The costume figure's own drawing: a standing body in a 100 x 220 box, arms a little away. */
export const BODY = [
  "M50 4c-7 0-10 5-10 12 0 6 3 10 5 12l-1 6h12l-1-6c2-2 5-6 5-12 0-7-3-12-10-12z",
  "M44 32c-6 3-14 4-17 9l4 24c1 8 1 16-1 24l-3 18h46l-3-18c-2-8-2-16-1-24l4-24c-3-5-11-6-17-9z",
];
const ARM_UP = "M27 41c-5 2-7 8-8 15l-5 26 9 3 8-24z";
const ARM_LOW = "M14 83c-2 8-4 16-5 25l-2 10 8 2 3-10 6-24z";
const HAND = "M7 119c-2 4-4 9-3 13 2 4 7 3 8-1l3-11z";
const LEG_UP = "M27 108c-1 14 1 28 4 43l15 0 3-43z";
const LEG_LOW = "M31 153c-2 12-1 26 2 42l8 0 5-42z";
const FOOT = "M33 197l-4 10c-1 4 1 6 5 6l7-2 1-14z";
const LIMB_PARTS = [ARM_UP, ARM_LOW, HAND, LEG_UP, LEG_LOW, FOOT];
export const LIMBS = LIMB_PARTS;

const BREAST = "M38 36l-8 6 3 21c1 8 1 14 0 20h34c-1-6-1-12 0-20l3-21-8-6c-3 6-7 8-12 8s-9-2-12-8z";
/** By template, else by the part of the body: half of a pair, or one shape across the middle. */
const PAIRED: Record<string, string> = {
  "upper arm": ARM_UP,
  forearm: ARM_LOW,
  thigh: LEG_UP,
  "lower leg": LEG_LOW,
  foot: FOOT,
  shoulder: "M31 38c-8 0-13 5-14 13l-1 9 12-1 5-14z",
  knee: "M30 145c-1 5 0 9 2 12h13l2-12c-5-3-12-3-17 0z",
  tasset: "M28 108l20 0-2 22-8 6-9-7z",
};
const SINGLE: Record<string, { d: string; view?: "front" | "back" }> = {
  neck: { d: "M43 29h14l1 7H42z" },
  breastplate: { d: BREAST, view: "front" },
  backplate: { d: BREAST, view: "back" },
  "shoulder extension": { d: "M58 36l12 6-2 10-12 3-6-9z", view: "front" },
  faulds: { d: "M30 92h40l5 19H25z" },
  belt: { d: "M32 84h36v8H32z" },
  bandolier: { d: "M62 35l8 5-32 48-7-4z", view: "front" },
};

export interface Region {
  piece: Piece;
  path: string;
  /** On the viewer's right of the drawing; drawn mirrored. */
  flip: boolean;
}

/** Where a piece lies on the figure. Seen from the front the wearer's left is on the viewer's right. */
export function regions(pieces: readonly Piece[], view: "front" | "back"): Region[] {
  const out: Region[] = [];
  for (const piece of pieces) {
    if (piece.design.solid) continue; // it hangs on something else
    const single = SINGLE[piece.design.template] ?? SINGLE[piece.segment];
    if (single) {
      if (!single.view || single.view === view) out.push({ piece, path: single.d, flip: false });
      continue;
    }
    const path = PAIRED[piece.design.template] ?? PAIRED[piece.segment];
    if (!path) continue;
    for (const side of ["left", "right"] as const) {
      if (piece.design.side !== "both" && piece.design.side !== side) continue;
      out.push({ piece, path, flip: (side === "left") === (view === "front") });
    }
  }
  return out;
}
