import type { DesignIn, Schemas } from "@/api/client";

export type Kind = Schemas["SolidKindOut"];
export type Measure = Kind["measures"][number];
export type Solid = NonNullable<DesignIn["solid"]>;
export type Model = Extract<Solid, { kind?: "model" }>;
export type TailPoint = Schemas["TailPoint-Output"];
export type Finger = Schemas["Finger-Output"];

/** A solid with one measure changed; what a form gives as text is kept as the server reads it. */
export function withMeasure(solid: Solid, field: string, value: unknown): Solid {
  return { ...solid, [field]: value } as Solid;
}

export const valueOf = (solid: Solid, field: string) => (solid as unknown as Record<string, unknown>)[field];

/** A measure that takes no part: the sizes of a blade while a traced outline takes their place. */
export function hidden(solid: Solid, field: string): boolean {
  const traced = "outline" in solid && (solid.outline?.length ?? 0) > 0;
  if (traced && solid.kind === "holder") return field === "wide" || field === "high";
  if (traced && solid.kind === "sole edge") return ["long", "ball", "heel"].includes(field);
  if (solid.kind === "cone") {
    if (field === "folded") return !solid.sides;
    if (field === "slant" || field === "cap") return field === "slant" && Number(solid.upper) === 0;
    if (field === "pieces") return Boolean(solid.sides) && !solid.folded;
  }
  if (solid.kind === "tail") return field === "hoop" && solid.way !== "hoops";
  if (solid.kind === "pouch") return field === "overlap" && Number(solid.belt) === 0;
  return false;
}

/** One more place of a tail: as far on as the last two lie apart, and a little thinner. */
export function onwards(points: readonly TailPoint[]): TailPoint {
  const [a, b] = points.slice(-2).map((p) => [p.x, p.y, p.z, p.wide].map(Number));
  const next = b.map((v, k) => Math.round(k < 3 ? 2 * v - a[k] : Math.max(20, 0.7 * v)));
  return { x: next[0], y: next[1], z: next[2], wide: next[3] };
}
