/** Which finish covers which zones, when some are given to another. */

type Named = { zones?: string[] };
type Zone = { name: string; panel: number };

/**
 * A finish's zones without the chosen ones. A panel's number stands for all its zones (it was painted before a line
 * parted it): where some of these are chosen, the others are named instead.
 */
export function zonesWithout(named: string[], chosen: string[], there: Zone[]): string[] {
  const taken = new Set(chosen);
  const told = named.flatMap((name) => {
    const own = [...new Set(there.filter((z) => String(z.panel) === name).map((z) => z.name))];
    return own.some((z) => taken.has(z)) ? own.filter((z) => !named.includes(z) || z === name) : [name];
  });
  return told.filter((z) => !taken.has(z));
}

/** All finishes without the chosen zones; one that had some and keeps none is gone. */
export function rowsWithout<T extends Named>(rows: T[], chosen: string[], there: Zone[], kept = -1): T[] {
  return rows
    .map((r, k) => ({ row: { ...r, zones: zonesWithout(r.zones ?? [], chosen, there) }, was: r, k }))
    .map((x) =>
      x.k === kept && x.was.zones?.length ? { ...x, row: { ...x.row, zones: [...x.row.zones, ...chosen] } } : x,
    )
    .filter((x) => x.row.zones.length || !x.was.zones?.length)
    .map((x) => x.row);
}
