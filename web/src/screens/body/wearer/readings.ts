import type { MeasurementsIn, Schemas } from "@/api/client";

/** What a typed measure makes of a set of readings. All work on a plain copy that is sent as a whole. */
type Limb = NonNullable<MeasurementsIn["limbs"]>[number];
type Side = NonNullable<Limb["side"]>;
type Reading = Schemas["StationReading-Input"];

export interface LimbChange {
  segment: string;
  side: Side;
  station?: string;
  field: "girth" | "at" | "ratio" | "strip" | "gate";
  text: string;
}

export type TorsoField = "girth" | "strip" | "length";

/** What was typed at a station before its girth is known. */
export type Typed = { at?: string; girth?: string };

export const placeOf = (c: LimbChange) => `${c.segment}.${c.side}.${c.station}`;
export const keyOf = (c: LimbChange) => `${c.segment}.${c.side}.${c.station ?? "gate"}.${c.field}`;

function limbOf(body: MeasurementsIn, segment: string, side: Side): Limb {
  let limb = body.limbs?.find((l) => l.segment === segment && l.side === side);
  if (!limb) {
    limb = { segment: segment as Limb["segment"], side, stations: {} };
    body.limbs = [...(body.limbs ?? []), limb];
  }
  return limb;
}

/** Lay one measure of a limb into a set. usualAt: where stations usually sit, by segment and station. Whether there is
 * anything to send. */
export function changeLimb(
  body: MeasurementsIn,
  c: LimbChange,
  typed: Typed,
  usualAt: Record<string, number>,
): boolean {
  const limb = limbOf(body, c.segment, c.side);
  if (c.field === "gate") {
    limb.gate = c.text || null;
    return true;
  }
  if (!c.station) return true;
  const stations = limb.stations as Record<string, Reading>;
  const made = changedStation(stations[c.station], c, typed, usualAt);
  if (made) stations[c.station] = made;
  else if (c.field === "girth" && !c.text) delete stations[c.station];
  else return false;
  return true;
}

/** A station exists once its girth is known; a distance typed before that is kept until then. */
function changedStation(
  now: Reading | undefined,
  c: LimbChange,
  typed: Typed,
  usualAt: Record<string, number>,
): Reading | undefined {
  if (c.field === "girth" && !c.text) return undefined;
  if (!now && c.field === "at") typed.at = c.text;
  if (!now && c.field !== "girth") return undefined;
  const base = now ?? { girth: c.text, at: typed.at ?? usualAt[`${c.segment}.${c.station}`] ?? 0 };
  if (c.field === "ratio") return { ...base, ratio: c.text ? Number(c.text.replace(",", ".")) : null };
  if (c.field === "strip") return { ...base, tool: Number(c.text) > 0 ? "foam" : "tape", strip: Number(c.text) };
  return { ...base, [c.field]: c.text || 0 };
}

/** Lay one measure of the trunk into a set. */
export function changeTrunk(body: MeasurementsIn, name: string, text: string, what: TorsoField) {
  const torso = (body.torso ??= { girths: {}, lengths: {}, posture: "usual" });
  const girths = (torso.girths ??= {}) as Record<string, Reading>;
  const lengths = (torso.lengths ??= {}) as Record<string, number | string>;
  if (what === "length") {
    if (text) lengths[name] = text;
    else delete lengths[name];
  } else if (what === "strip")
    girths[name] = { ...girths[name], tool: Number(text) > 0 ? "foam" : "tape", strip: Number(text) };
  else if (text) girths[name] = { ...(girths[name] ?? { at: 0 }), girth: text };
  else delete girths[name];
}

/** One reading for both sides, or one for each: the shared one becomes two alike, or the left becomes shared. */
export function partSides(body: MeasurementsIn, segment: string, apart: boolean): boolean {
  const limbs = body.limbs ?? [];
  const others = limbs.filter((l) => l.segment !== segment);
  const from =
    limbs.find((l) => l.segment === segment && (apart ? l.side === "both" : l.side === "left")) ??
    limbs.find((l) => l.segment === segment);
  if (!from) return false;
  const sides: Side[] = apart ? ["left", "right"] : ["both"];
  body.limbs = [...others, ...sides.map((side) => ({ ...from, side }))];
  return true;
}
