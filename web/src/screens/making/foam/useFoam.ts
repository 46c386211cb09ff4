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
  usePieceQuery("foam", pieceId, (p, how) =>
    take(api.GET("/api/pieces/{piece}/foam", { ...how, params: { path: { piece: p } } })),
  );

/**
 * Rows of a piece's foam work, put in, changed or taken out by their name. A change is laid over the row as it stands
 * when it is sent, so that two quick ones lose nothing.
 */
export function useFoamWork(piece: Ref<Piece | undefined>) {
  const change = useDesignChange(piece);
  function lay<K extends Exclude<keyof Work, "weave">, R extends Rows<K>[number]>(
    list: K,
    same: (row: R) => boolean,
    make: (old: R | undefined) => R | null,
  ) {
    change((now) => {
      const work = (now.foam_work ?? {}) as Work;
      const rows = (work[list] ?? []) as R[];
      const row = make(rows.find(same));
      const others = rows.filter((r) => !same(r));
      return { ...now, foam_work: { ...work, [list]: row ? [...others, row] : others } };
    });
  }
  type Edge = Schemas["EdgeWork-Input"];
  type FoldRow = Schemas["FoldWork-Input"];
  type Panel = Schemas["PanelWork-Input"];
  return {
    change,
    seam: (name: string, fold: number | null) =>
      lay(
        "seams",
        (r: Schemas["SeamWork"]) => r.name === name,
        () => (fold === null ? null : { name, fold }),
      ),
    edge: (name: string, row: Partial<Edge>) =>
      lay(
        "edges",
        (r: Edge) => r.name === name,
        (old) => ({ ...old, ...row, name }),
      ),
    /** usual: how it is worked until the maker says otherwise. */
    fold: (key: string, usual: Fold["way"], row: Partial<FoldRow>) =>
      lay(
        "folds",
        (r: FoldRow) => r.key === key,
        (old) => ({ way: usual, ...old, ...row, key }),
      ),
    panel: (panel: number, row: Partial<Panel>) =>
      lay(
        "panels",
        (r: Panel) => r.panel === panel,
        (old) => ({ ...old, ...row, panel }),
      ),
    panelOf: (number: number) =>
      (piece.value?.design.foam_work.panels.find((p) => p.panel === number) ?? { panel: number }) as Panel,
  };
}

/** A number typed by hand: "32", "32°", "32,5"; null for what is none. */
export function typedNumber(text: string): number | null {
  const value = Number(text.replace(",", ".").replace(/[°%\s]/g, ""));
  return text.trim() !== "" && Number.isFinite(value) ? value : null;
}
