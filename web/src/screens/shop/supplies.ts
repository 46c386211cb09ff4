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

/** The book with what is short bought for a build, at its price. */
export function bought(book: Book, line: Supply, build: number, now: number): Book {
  const one = {
    name: line.name,
    unit: line.unit,
    amount: line.packs * line.pack,
    paid: line.cost ?? 0,
    build,
    at: now,
  };
  return { ...book, bought: [...book.bought, one] };
}

/** A number as a list says it. */
export const amount = (n: number) => (n >= 10 || Number.isInteger(n) ? String(Math.round(n)) : n.toFixed(1));

/** What a field holds: none where it is empty, nothing changed where it is no number. */
export function numberIn(text: string): number | null | undefined {
  if (!text.trim()) return null;
  const n = Number(text.trim().replace(",", "."));
  return Number.isFinite(n) && n >= 0 && n < 1e9 ? n : undefined;
}
