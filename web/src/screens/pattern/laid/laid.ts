/** What can be laid along a line, how a hand moves it, and what it is called: plain rules of the table. */
import type { Schemas } from "@/api/client";

export type Detail = Schemas["Detail-Input"];
export type Shape = NonNullable<Detail["shape"]>;
export type Border = Schemas["Border-Input"];
export type Row = Schemas["Row-Input"];
export type Laid = Schemas["LaidOut"];
type Points = readonly (readonly number[])[];

export interface Offer {
  kind: Detail["kind"];
  word: string;
  form: Shape["form"];
  about: string;
}

export const OFFERS: readonly Offer[] = [
  { kind: "trim", word: "Trim", form: "border", about: "a strip on one panel, glued while it lies flat" },
  { kind: "spanning trim", word: "Spanning trim", form: "border", about: "a strip over a seam, after it is closed" },
  { kind: "strip round", word: "Strip round", form: "border", about: "run round a closed piece, ends cut to meet" },
  { kind: "rivets", word: "Rivets", form: "row", about: "dots, studs, half balls at even distances" },
  { kind: "gem", word: "Gems", form: "row", about: "set after the clear coat, their seats masked" },
  { kind: "stitches", word: "Stitches", form: "row", about: "raised paint or thread along a line" },
  { kind: "scales", word: "Scales", form: "scales", about: "rows over each other, from this edge up" },
  { kind: "painted damage", word: "Battle damage", form: "damage", about: "cuts and dents beside this line" },
  { kind: "links", word: "Linked rings", form: "links", about: "sheets of links, columns added as it grows" },
  { kind: "collar", word: "Cuff or collar", form: "cuff", about: "goes on from this edge, leaning out or in" },
  {
    kind: "segments",
    word: "Plates on a base",
    form: "segments",
    about: "side by side over the whole panel, from here",
  },
];
/** What is put on a place of the face, with an outline of its own. */
export const PLATES: readonly { kind: Detail["kind"]; word: string }[] = [
  { kind: "emblem", word: "an emblem, of foam" },
  { kind: "layer", word: "a layer, of foam" },
  { kind: "sliding plate", word: "a sliding plate, of foam" },
  { kind: "gem", word: "a gem or a casting, in a rim" },
  { kind: "stencil", word: "a motif, painted through film" },
  { kind: "decal", word: "a decal, of film" },
];
export type Plate = Schemas["Plate-Input"];
export type Scales = Schemas["Scales-Input"];
export type Links = Schemas["Links-Input"];
export type Cuff = Schemas["Cuff-Input"];
export type Segments = Schemas["Segments-Input"];
export type Damage = Schemas["Damage-Input"];
export type ShapeChange =
  | Partial<Damage>
  | Partial<Border>
  | Partial<Row>
  | Partial<Plate>
  | Partial<Scales>
  | Partial<Links>
  | Partial<Cuff>
  | Partial<Segments>;
export type Place = [number, number];

/** A plate as it first lies: as wide as its drawing, its middle where the hand pressed. */
export function freshPlate(motif: Schemas["MotifOut"], name: string, at: Place, taken: readonly string[]): Detail {
  const shape: Shape = { form: "plate", at, wide: Math.min(Math.max(5, Math.round(motif.wide)), 300), foam: 4 };
  return { key: freeKey(`emblem ${name}`, taken), kind: "emblem", name, motif: motif.rings, shape };
}

/** A shape of this costume that is to stand on the piece, its foot where the hand pressed. */
export function freshFoot(piece: string, at: Place, taken: readonly string[]): Detail {
  const shape: Shape = { form: "plate", at, opening: "foot" };
  return { key: freeKey(`joined ${piece}`, taken), kind: "joined part", name: piece.slice(0, 80), of: piece, shape };
}

export const number = (event: Event) => Number((event.target as HTMLInputElement).value) || 0;

/** The same part once more, for another line or another place. */
export function copyOf(detail: Detail, line: string, taken: readonly string[]): Detail {
  const name = `${detail.name}, copy`.slice(0, 80);
  const copy: Detail = { ...detail, key: freeKey(detail.key, taken), name };
  if (detail.shape?.form === "plate") return withShape(copy, beside(detail.shape));
  return line && detail.shape ? withShape(copy, { lines: [line] }) : copy;
}

/** How far one more is put from the last, of the way round the body: a hand takes it on from there. */
const ASIDE = 0.06;
const placesOf = (plate: Plate): Place[] => [plate.at, ...(plate.also ?? [])] as Place[];
const beside = (plate: Plate): Partial<Plate> => ({ at: [(plate.at as Place)[0] + ASIDE, (plate.at as Place)[1]] });

export function oneMore(plate: Plate): Partial<Plate> {
  const [u, v] = placesOf(plate).at(-1)!;
  return { also: [...(plate.also ?? []), [u + ASIDE, v]] as Plate["also"] };
}

/** One more where the mirror image of the last lies. */
export function mirrored(plate: Plate): Partial<Plate> {
  const [u, v] = placesOf(plate).at(-1)!;
  return { also: [...(plate.also ?? []), [-u, v]] as Plate["also"] };
}

export const oneLess = (plate: Plate): Partial<Plate> => ({ also: (plate.also ?? []).slice(0, -1) });

/** The place that lies nearest to the hand is the one that it moves. */
export function movedTo(plate: Plate, hand: Place): Partial<Plate> {
  const far = placesOf(plate).map(([u, v]) => Math.hypot((u - hand[0]) * 4, v - hand[1]));
  const nearest = far.indexOf(Math.min(...far));
  const [at, ...also] = placesOf(plate).map((p, k) => (k === nearest ? hand : p));
  return { at, also: also as Plate["also"] };
}

export const offerOf = (kind: string) => OFFERS.find((o) => o.kind === kind);

function freeKey(words: string, taken: readonly string[]): string {
  const stem = words
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, "-")
    .replace(/^-+|-+$/g, "")
    .slice(0, 30);
  let key = stem;
  for (let n = 2; taken.includes(key); n++) key = `${stem}-${n}`;
  return key;
}

/** A detail as the hand first gets it. taken: keys that are used; line: what it is to run along. */
export function freshDetail(offer: Offer, line: string, taken: readonly string[]): Detail {
  const name = `${offer.word.toLowerCase()} along the ${line}`.slice(0, 80);
  const key = freeKey(`${offer.kind} ${line}`, taken);
  const lines = [line];
  const shapes: Partial<Record<Shape["form"], Shape>> = {
    scales: { form: "scales", lines, wide: 30, high: 36, foam: 2 },
    links: { form: "links", lines, wide: 16, high: 16, strip: 20, edge: 15, foam: 2 },
    cuff: { form: "cuff", lines, high: 40, flare: 20, over: 10, foam: 6 },
    segments: { form: "segments", lines, count: 5, overlap: 0, foam: 2 },
    damage: { form: "damage", lines, inset: 6, wide: 60, count: 8, size: 20, seed: 1 },
    border: { form: "border", lines, inset: 0, width: 12, foam: 4 },
    row: { form: "row", lines, inset: 10, pitch: offer.kind === "stitches" ? 8 : 25 },
  };
  const shape = shapes[offer.form]!;
  const size = offer.form === "row" ? { size: offer.kind === "stitches" ? 4 : 8 } : {};
  return { key, kind: offer.kind, name, shape, ...size };
}

/** Whether it is many small things, drawn as studs are, and no sheet of foam. */
export const isStudded = (detail: Detail) => ["row", "scales", "links", "damage"].includes(detail.shape?.form ?? "");

/** What does not run beside its line at an inset that a hand could drag. */
const STILL: readonly string[] = ["plate", "segments", "damage", "cuff"];
export const isDragged = (detail: Detail) => !STILL.includes(detail.shape?.form ?? "plate");

export const isFilm = (kind: string) => kind === "stencil" || kind === "decal";

/** A plate as another kind of thing: a gem has its seat, film only the openings that are drawn in it. */
export function withKind(detail: Detail, kind: Detail["kind"]): Detail {
  if (detail.shape?.form !== "plate") return { ...detail, kind };
  const kept = detail.shape.opening === "window" && !isFilm(kind) ? "window" : "none";
  return withShape({ ...detail, kind }, { opening: kind === "gem" ? "seat" : kept });
}

/** The lines a detail runs along; none where it lies on a place. */
export const linesOf = (detail: Detail | null): readonly string[] =>
  detail?.shape && detail.shape.form !== "plate" ? detail.shape.lines : [];

/** A line put to what a part runs along, or taken off it; one always stays. */
export function withLine(detail: Detail, line: string): Detail {
  const lines = linesOf(detail);
  if (!lines.length) return detail;
  const rest = lines.filter((l) => l !== line);
  const now = rest.length === lines.length ? [...lines, line] : rest.length ? rest : lines;
  return { ...detail, shape: { ...detail.shape!, lines: now } as Shape };
}

export const withShape = (detail: Detail, change: ShapeChange): Detail => ({
  ...detail,
  shape: { ...detail.shape!, ...change } as Shape,
});

/** How far a place lies from the nearest of these lines, mm. */
export function away(place: readonly number[], lines: readonly Points[]): number {
  let least = Infinity;
  for (const line of lines)
    for (let k = 1; k < line.length; k++) {
      const [a, b] = [line[k - 1], line[k]];
      const [x, y] = [b[0] - a[0], b[1] - a[1]];
      const long = x * x + y * y;
      const share = long ? Math.min(1, Math.max(0, ((place[0] - a[0]) * x + (place[1] - a[1]) * y) / long)) : 0;
      least = Math.min(least, Math.hypot(a[0] + share * x - place[0], a[1] + share * y - place[1]));
    }
  return least;
}

/** The inset at which a part's middle lies so many mm from its line: half a mm is as fine as a hand is. */
export function insetFor(detail: Detail, far: number, within: boolean): number {
  const shape = detail.shape!;
  if (!isDragged(detail)) return 0;
  const half = shape.form === "border" && !within ? Number(shape.width ?? 12) / 2 : 0;
  return Math.min(300, Math.max(0, Math.round((far - half) * 2) / 2));
}

/** The details of a piece with one put in the place of its former self, or after them all. */
export function putOn(details: readonly Detail[], detail: Detail): Detail[] {
  const there = details.some((d) => d.key === detail.key);
  return there ? details.map((d) => (d.key === detail.key ? detail : d)) : [...details, detail];
}
