import { type Ref } from "vue";
import { api, take, type Piece, type Schemas } from "@/api/client";
import { useDesignChange, usePieceQuery } from "@/api/queries";

export type Foam = Schemas["FoamOut"];
export type Joint = Schemas["JointOut"];
export type Fold = Schemas["FoldOut"];
export type Bend = Schemas["BendOut"];
export type FreeEdge = Schemas["FreeEdgeOut"];
type Work = Schemas["FoamWork-Input"];
type Rows<K extends keyof Work> = NonNullable<Work[K]>;

/** A piece's foam as the server works it out. */
export const useFoam = (pieceId: Ref<number>) =>
  usePieceQuery("foam", pieceId, (p) => take(api.GET("/api/pieces/{piece}/foam", { params: { path: { piece: p } } })));

/** Rows of a piece's foam work, put in, changed or taken out by their name. */
export function useFoamWork(piece: Ref<Piece | undefined>) {
  const change = useDesignChange(piece);
  function put<K extends keyof Work, R extends Rows<K>[number]>(list: K, same: (row: R) => boolean, row: R | null) {
    change((now) => {
      const work = (now.foam_work ?? {}) as Work;
      const others = ((work[list] ?? []) as R[]).filter((r) => !same(r));
      return { ...now, foam_work: { ...work, [list]: row ? [...others, row] : others } };
    });
  }
  return {
    change,
    seam: (name: string, fold: number | null) =>
      put("seams", (r: Schemas["SeamWork"]) => r.name === name, fold === null ? null : { name, fold }),
    edge: (row: Schemas["EdgeWork-Input"]) => put("edges", (r: Schemas["EdgeWork-Input"]) => r.name === row.name, row),
    fold: (row: Schemas["FoldWork-Input"]) => put("folds", (r: Schemas["FoldWork-Input"]) => r.key === row.key, row),
    panel: (row: Schemas["PanelWork-Input"]) =>
      put("panels", (r: Schemas["PanelWork-Input"]) => r.panel === row.panel, row),
    panelOf: (number: number) =>
      (piece.value?.design.foam_work.panels.find((p) => p.panel === number) ?? {
        panel: number,
      }) as Schemas["PanelWork-Input"],
  };
}

/** A number typed by hand: "32", "32°", "32,5"; null for what is none. */
export function typedNumber(text: string): number | null {
  const value = Number(text.replace(",", ".").replace(/[°%\s]/g, ""));
  return text.trim() !== "" && Number.isFinite(value) ? value : null;
}
