import { computed, type Ref } from "vue";
import { api, take, type DesignIn, type Schemas } from "@/api/client";
import { freshBuilds, useAsk, useChange, useDesignChange, usePieceQuery } from "@/api/queries";
import type { Piece } from "@/api/client";

export type Rig = Schemas["RigOut"];
export type Movement = Schemas["MovementOut"];

export const useRig = (piece: Ref<number>) =>
  usePieceQuery("rig", piece, (p, how) =>
    take(api.GET("/api/pieces/{piece}/rig", { ...how, params: { path: { piece: p } } })),
  );

export const useFigure = (build: Ref<number>) =>
  useAsk({
    queryKey: ["figure", build],
    queryFn: (how) => take(api.GET("/api/builds/{build}/figure", { ...how, params: { path: { build: build.value } } })),
    enabled: computed(() => build.value > 0),
    placeholderData: (previous: Schemas["FigureOut"] | undefined) => previous,
  });

export const useMovement = (build: Ref<number>, joint: Ref<string>) =>
  useAsk({
    queryKey: ["movement", build, joint],
    queryFn: (how) =>
      take(
        api.GET("/api/builds/{build}/movements/{joint}", {
          ...how,
          params: { path: { build: build.value, joint: joint.value } },
        }),
      ),
    enabled: computed(() => build.value > 0 && joint.value !== ""),
  });

type RigRows = {
  magnets: Schemas["MagnetRow-Input"][];
  openings: Schemas["OpeningRow-Input"][];
  closings: Schemas["EdgeClosing-Input"][];
};
export type ClosedBy = NonNullable<RigRows["openings"][number]["kind"]>;
export const CLOSED_BY: Record<ClosedBy, string> = {
  lacing: "lacing",
  "hook-and-loop": "hook-and-loop",
  buckles: "straps and buckles",
  zip: "zip",
  snaps: "snaps",
  magnets: "magnets",
  ratchet: "ratchets",
};

/** What a maker changes about a rig, each undone as any other change. */
export function useRigWork(piece: Ref<Piece | undefined>) {
  const design = useDesignChange(piece);
  const set = (rig: Partial<NonNullable<DesignIn["rig"]>>) =>
    design((now) => ({ ...now, rig: { ...now.rig, ...rig } as DesignIn["rig"] }));
  /** Change a list of rows as it is by then: an earlier change may still be on its way. */
  const rows = <K extends keyof RigRows>(key: K, to: (now: RigRows[K]) => RigRows[K]) =>
    design((now) => ({
      ...now,
      rig: { ...now.rig, [key]: to((now.rig?.[key] ?? []) as RigRows[K]) } as DesignIn["rig"],
    }));
  /** In turn with changes of the design, which are then made on what this has left. */
  const moved = <In>(act: (input: In) => Promise<unknown>) =>
    useChange(
      async (input: In) => {
        await act(input);
        await freshBuilds();
      },
      undefined,
      "design",
    );
  const drop = moved((body: Schemas["AnchorIn"]) =>
    take(api.PUT("/api/pieces/{piece}/anchors", { params: { path: { piece: piece.value!.id } }, body })),
  );
  const trim = moved((t: { piece: number; edge: string; mm: number }) =>
    take(
      api.POST("/api/pieces/{piece}/trims", {
        params: { path: { piece: t.piece } },
        body: { edge: t.edge, mm: t.mm },
      }),
    ),
  );
  return { design, set, rows, drop, trim };
}
