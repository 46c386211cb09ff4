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

const REGION: Record<string, string> = { "upper arm": ARM_UP, forearm: ARM_LOW, thigh: LEG_UP, "lower leg": LEG_LOW };

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
    const path = REGION[piece.segment];
    if (!path) continue;
    for (const side of ["left", "right"] as const) {
      if (piece.design.side !== "both" && piece.design.side !== side) continue;
      out.push({ piece, path, flip: (side === "left") === (view === "front") });
    }
  }
  return out;
}
