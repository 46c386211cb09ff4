import { type Ref } from "vue";
import { api, take, type DesignIn, type Piece, type Schemas } from "@/api/client";
import { useDesignChange, usePieceQuery } from "@/api/queries";
import { rowsWithout } from "./zones";
import { made, type Making } from "@/screens/making/bench/useBench";

export type Finish = Schemas["FinishOut"];
export type Painted = Schemas["FinishZoneOut"];
export type Stack = Schemas["Stack-Input"];
export type Layer = Schemas["FinishLayer-Input"];
type Row = Schemas["ZoneFinish-Input"];

export const useFinish = (pieceId: Ref<number>) =>
  usePieceQuery("finish", pieceId, (p, how) =>
    take(api.GET("/api/pieces/{piece}/finish", { ...how, params: { path: { piece: p } } })),
  );

/** Changes of a piece's finishes, each made on what the last one left. */
export function useFinishWork(piece: Ref<Piece | undefined>, shown: () => Finish["zones"]) {
  const change = useDesignChange(piece);
  const rows = (how: (rows: Row[]) => Row[]) =>
    change(
      made((now: Making) => ({ finishes: how([...(now.finishes ?? [])] as Row[]) })) as (now: DesignIn) => DesignIn,
    );
  /** Put a stack on a finish; -1 is what nobody has decided about, which becomes one of the piece's own. */
  const stack = (at: number, next: (old: Stack) => Stack, usual: Stack) =>
    rows((list) =>
      at < 0 ? [...list, { stack: next(usual) }] : list.map((r, k) => (k === at ? { ...r, stack: next(r.stack) } : r)),
    );
  /** Give zones a finish of their own, taken from whichever had them. */
  const split = (zones: string[], own: Stack) =>
    rows((list) => [...rowsWithout(list, zones, shown()), { stack: ended(own), zones }]);
  /** Within a piece a finish ends at a line: tape is laid for its first colour. */
  const ended = (own: Stack): Stack => {
    const layers = (own.layers ?? []) as Layer[];
    const first = layers.findIndex((l) => ["gloss black", "metallic", "acrylic", "enamel"].includes(l.kind));
    return { ...own, layers: layers.map((l, k) => (k === first ? { ...l, taped: true } : l)) };
  };
  const move = (zones: string[], at: number) => rows((list) => rowsWithout(list, zones, shown(), at));
  const drop = (at: number) => rows((list) => list.filter((_, k) => k !== at));
  const hand = (at: number, by_hand: boolean | null) =>
    rows((list) => list.map((r, k) => (k === at ? { ...r, by_hand } : r)));
  return { rows, stack, split, move, drop, hand };
}
