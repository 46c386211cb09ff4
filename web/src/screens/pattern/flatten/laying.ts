/** Where panels that came flat lie on their wearer: two places and a direction, and how they are shown on the table. */
export type Place = readonly number[];
export interface Lie {
  panel: number;
  at: [number, number];
  around: number;
  along: number;
  up: number;
}

/** A place of the table's picture (mm, y up) on its panel, as that came: less its shift, x less what it was widened. */
export const asCame = ([x, y]: Place, moved: Place, factor: number): [number, number] => [
  Math.round(((x - moved[0]) / factor) * 1000) / 1000,
  Math.round((y - moved[1]) * 1000) / 1000,
];

/** The other way round. */
export const onTable = ([x, y]: Place, moved: Place, factor: number): [number, number] => [
  x * factor + moved[0],
  y + moved[1],
];

/** Which way is up, degrees clockwise from the sheet's own, -180 to 180, for an arrow from one place to another. */
export function upOf(from: Place, to: Place): number {
  const degrees = (Math.atan2(to[0] - from[0], to[1] - from[1]) * 180) / Math.PI;
  return Math.round(degrees * 10) / 10;
}

/** Where the head of an arrow of that length lies. */
export function headOf(from: Place, up: number, length: number): [number, number] {
  const turn = (up * Math.PI) / 180;
  return [from[0] + length * Math.sin(turn), from[1] + length * Math.cos(turn)];
}

/** A panel laid down anew: it lies in one place. */
export const laidDown = (lies: readonly Lie[], lie: Lie): Lie[] => [...lies.filter((x) => x.panel !== lie.panel), lie];

/** A panel taken up again. */
export const takenUp = (lies: readonly Lie[], panel: number): Lie[] => lies.filter((x) => x.panel !== panel);
