import { computed, type Ref } from "vue";
import type { Pattern, Piece } from "@/api/client";
import { useBench } from "@/api/queries";
import { OF_A_SHAPE, STAGES } from "@/router";

export type Mark = "done" | "look" | undefined;
export type Stage = (typeof STAGES)[number]["name"];

/** The labels of a piece, by what it is. */
export function stagesOf(piece: Piece | undefined) {
  if (!piece?.design.solid) return STAGES.map((s) => ({ ...s }));
  return STAGES.filter((s) => OF_A_SHAPE.includes(s.name)).map((s) =>
    s.name === "flatten" ? { ...s, word: "Shape", hint: "its measures and its panels" } : { ...s },
  );
}

/** How far a piece is, stage by stage, and which stage comes next. */
export function useStages(piece: Ref<Piece | undefined>, pattern: Ref<Pattern | undefined>) {
  const pieceId = computed(() => piece.value?.id ?? 0);
  const steps = useBench(pieceId);
  const rows = computed(() => steps.data.value?.steps ?? []);
  const done = computed(() => new Set(rows.value.filter((s) => s.state === "done").map((s) => s.key)));

  const marks = computed<Record<Stage, Mark>>(() => {
    const measured = piece.value && !piece.value.trouble;
    const cut = done.value.has("cut");
    const every = (which: (kind: string) => boolean) => {
      const own = rows.value.filter((s) => which(s.kind));
      return own.length > 0 && own.every((s) => s.state === "done");
    };
    return {
      wearer: piece.value?.trouble ? "look" : measured ? "done" : undefined,
      wrap: measured ? "done" : undefined,
      trace: piece.value?.design.flat ? "done" : undefined,
      ink: measured ? "done" : undefined,
      flatten: pattern.value?.findings.some((f) => f.level === "look") ? "look" : cut ? "done" : undefined,
      foam: cut ? "done" : undefined,
      cut: cut ? "done" : undefined,
      bench:
        rows.value.some((s) => s.state === "mend") || steps.data.value?.wrong.length
          ? "look"
          : every(() => true)
            ? "done"
            : undefined,
      finish: every((kind) => kind.startsWith("coat-")) ? "done" : undefined,
      rig: every((kind) => kind === "final-fit") ? "done" : undefined,
      fit: every((kind) => kind === "test-fit") ? "done" : undefined,
    };
  });
  const next = computed<Stage>(() => {
    if (!piece.value || piece.value.trouble) return "wearer";
    if (!done.value.has("trace")) return "flatten";
    if (!done.value.has("cut")) return "cut";
    return "bench";
  });
  return { marks, next };
}
