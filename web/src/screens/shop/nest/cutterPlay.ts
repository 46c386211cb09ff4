/** What the cutter has done at a moment: from its events, each s, x, y, and depth on the way there. */

export type Event = readonly number[];
export const UP = -1;

/** How many events lie before a moment. */
export function before(events: readonly Event[], seconds: number): number {
  let [low, high] = [0, events.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (events[middle]![0]! <= seconds) low = middle + 1;
    else high = middle;
  }
  return low;
}

export interface Now {
  x: number;
  y: number;
  depth: number;
  /** Event it is on the way to. */
  next: number;
}

/** Where the tool is, and what it does there. */
export function at(events: readonly Event[], seconds: number): Now {
  const next = before(events, seconds);
  const from = events[Math.max(0, next - 1)]!;
  const to = events[next];
  if (!to) return { x: from[1]!, y: from[2]!, depth: UP, next };
  const share = (seconds - from[0]!) / Math.max(1e-9, to[0]! - from[0]!);
  return { x: from[1]! + (to[1]! - from[1]!) * share, y: from[2]! + (to[2]! - from[2]!) * share, depth: to[3]!, next };
}

/** The last of what the machine's display said by then. */
export function saidAt(remarks: readonly { at: number; words: string }[], seconds: number): string {
  let said = "";
  for (const one of remarks) {
    if (one.at > seconds) break;
    said = one.words;
  }
  return said;
}
