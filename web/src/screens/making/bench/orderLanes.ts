import type { Bench, Step } from "./useBench";

/** The order of work as lanes: every step a chip in the lane of its stage, its place or its piece, as it is done. */
export type By = "stage" | "place" | "piece";

export interface Chip {
  key: string;
  piece: number;
  step: Step;
  /** Which step of its piece it is, from 1. */
  number: number;
  x: number;
  y: number;
}

export interface Lane {
  name: string;
  y: number;
  height: number;
}

export interface Size {
  wide: number;
  high: number;
  label: number;
}

/** Chips with words, for one piece; and chips with their number alone, for a whole costume. */
export const WITH_WORDS: Size = { wide: 158, high: 46, label: 92 };
export const WITH_NUMBERS: Size = { wide: 34, high: 34, label: 150 };
const GAP = 6;

const PLACES = { indoors: "Indoors", ventilated: "Ventilated", outdoors: "Outdoors" };
const STAGES = {
  prepare: "Prepare",
  cut: "Cut",
  shape: "Shape",
  join: "Join",
  smooth: "Smooth",
  fit: "Fit",
  paint: "Paint",
  finish: "Finish",
};

/** All steps laid out within a width, in px; a lane whose steps do not fit goes on in a second row. */
export function layLanes(benches: readonly Bench[], by: By, width: number, size: Size) {
  const rows = benches.flatMap((bench) =>
    bench.steps.map((step, k) => ({
      bench,
      step,
      number: k + 1,
      lane: by === "piece" ? bench.name : by === "place" ? PLACES[step.place] : STAGES[step.stage],
    })),
  );
  const names: string[] = by === "piece" ? benches.map((b) => b.name) : Object.values(by === "place" ? PLACES : STAGES);
  const across = Math.max(1, Math.floor((width - size.label) / size.wide));
  const chips: Chip[] = [];
  const lanes: Lane[] = [];
  let top = 0;
  for (const name of names) {
    const own = rows.filter((r) => r.lane === name);
    if (!own.length) continue;
    own.forEach(({ bench, step, number }, k) =>
      chips.push({
        key: step.key,
        piece: bench.piece_id,
        step,
        number,
        x: size.label + (k % across) * size.wide,
        y: top + Math.floor(k / across) * size.high + GAP,
      }),
    );
    const height = Math.ceil(own.length / across) * size.high + GAP;
    lanes.push({ name, y: top, height });
    top += height;
  }
  return { chips, lanes, width: size.label + across * size.wide, height: top };
}

/** Words of a chip in at most two lines of so many letters; what is cut off ends in dots. */
export function chipLines(words: string, letters = 17): string[] {
  const out = [""];
  for (const word of words.split(" ")) {
    const line = `${out[out.length - 1]} ${word}`.trim();
    if (line.length <= letters || !out[out.length - 1]) out[out.length - 1] = line;
    else out.push(word);
  }
  if (out.length <= 2) return out.map((line) => (line.length > letters + 1 ? `${line.slice(0, letters)}…` : line));
  return [out[0], `${out[1].slice(0, letters - 1)}…`];
}
