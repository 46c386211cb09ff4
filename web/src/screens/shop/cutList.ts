/** The cut list in two orders, with its sums. */
import type { Schemas } from "@/api/client";

type List = Schemas["CutListOut"];
type Row = Schemas["CutRowOut"];

export interface Group {
  word: string;
  told: string;
  rows: Row[];
  trouble: string;
}

export function totals(list: Pick<List, "sheets">) {
  const sum = (of: (s: List["sheets"][number]) => number) => list.sheets.reduce((a, s) => a + of(s), 0);
  return { parts: sum((s) => s.parts), minutes: sum((s) => s.minutes) };
}

export function together(list: List, by: "piece" | "sheet"): Group[] {
  if (by === "piece")
    return list.pieces.map((p) => ({ word: p.name, told: told(p.rows), rows: p.rows, trouble: p.trouble }));
  const rows = list.pieces.flatMap((p) => p.rows);
  return list.sheets.map((s) => {
    const own = rows.filter((r) => r.kind === s.kind && r.thickness === s.thickness);
    return { word: `${s.thickness} mm ${s.kind} foam`, told: told(own), rows: own, trouble: "" };
  });
}

const told = (rows: readonly Row[]) => {
  const parts = rows.reduce((a, r) => a + r.count, 0);
  return parts ? `${parts} ${parts === 1 ? "part" : "parts"}` : "";
};

/** How large it is: by ruler, or the foam in it. */
export const sizeOf = (row: Row) => (row.size ? `${row.size}, by ruler` : `${Math.round(row.area / 100)} cm²`);
