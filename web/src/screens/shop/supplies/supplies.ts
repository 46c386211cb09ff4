/** The list of supplies by kind, and the book that a change of it makes. */
import type { Schemas } from "@/api/client";

export type Supply = Schemas["SupplyOut"];
export type Book = Schemas["SupplyBook-Output"];
type Row = Book["rows"][number];

const same = (a: { name: string; unit: string }, b: { name: string; unit: string }) =>
  a.name === b.name && a.unit === b.unit;

export function byGroup(lines: readonly Supply[]): { group: string; lines: Supply[] }[] {
  const groups = [...new Set(lines.map((l) => l.group))];
  return groups.map((group) => ({ group, lines: lines.filter((l) => l.group === group) }));
}

/** The book with a thing changed; counted anew, what was there before is as if it were not. */
export function changed(book: Book, line: Supply, change: Partial<Row>, now: number): Book {
  const row: Row = book.rows.find((r) => same(r, line)) ?? {
    name: line.name,
    unit: line.unit,
    counted: line.have,
    counted_at: line.have ? now : 0,
    pack: null,
    price: null,
    shop: "",
  };
  const at = change.counted === undefined ? {} : { counted_at: now };
  return { ...book, rows: [...book.rows.filter((r) => !same(r, line)), { ...row, ...change, ...at }] };
}

/** The book with the cheaper way gone for a thing of a build, or left again. */
export function wayTaken(book: Book, line: Supply, build: number, taken: boolean): Book {
  const others = book.ways.filter((w) => w.build !== build || !same(w, line));
  return { ...book, ways: taken ? [...others, { build, name: line.name, unit: line.unit }] : others };
}

/** What is bought by the pack, shop by shop; what has none comes last. Foam is bought on Nest. */
export function byShop(lines: readonly Supply[]): { shop: string; lines: Supply[] }[] {
  const short = lines.filter((l) => l.packs && l.group !== "foam");
  const shops = [...new Set(short.map((l) => l.shop))].sort((a, b) => Number(!a) - Number(!b) || a.localeCompare(b));
  return shops.map((shop) => ({ shop, lines: short.filter((l) => l.shop === shop) }));
}

/** One of a thing is told as one. */
export const unitOf = (unit: string, n: number) => (n === 1 ? unit.replace(/s$/, "") : unit);

/** A number as a list says it. */
export const amount = (n: number) => (n >= 10 || Number.isInteger(n) ? String(Math.round(n)) : n.toFixed(1));

/** What a field holds: none where it is empty, nothing changed where it is no number. */
export function numberIn(text: string): number | null | undefined {
  if (!text.trim()) return null;
  const n = Number(text.trim().replace(",", "."));
  return Number.isFinite(n) && n >= 0 && n < 1e9 ? n : undefined;
}
