import { useIntervalFn } from "@vueuse/core";
import { computed, ref, watch, type Ref } from "vue";
import { api, take, type DesignIn, type Schemas } from "@/api/client";
import { useAsk, useChange, usePieceQuery } from "@/api/queries";

export type Step = Schemas["StepOut"];
export type Bench = Schemas["BenchOut"];
export type Mark = Partial<Schemas["MarkIn"]> & { key: string };
export type Making = Schemas["Making-Input"];

/** A piece's steps as they stand. */
export const useBench = (pieceId: Ref<number>) =>
  usePieceQuery("steps", pieceId, (p) =>
    take(api.GET("/api/pieces/{piece}/steps", { params: { path: { piece: p } } })),
  );

/** All pieces of a build and the costume's own steps. */
export const useCostume = (buildId: Ref<number>, wanted: Ref<boolean>) =>
  useAsk({
    queryKey: ["costume", buildId],
    queryFn: () => take(api.GET("/api/builds/{build}/bench", { params: { path: { build: buildId.value } } })),
    enabled: computed(() => wanted.value && buildId.value > 0),
  });

export const useCraft = () =>
  useAsk({ queryKey: ["craft"], queryFn: () => take(api.GET("/api/craft")), staleTime: 60_000 });

export function useMark(pieceId: Ref<number>, after?: (mark: Mark) => void) {
  return useChange(async (mark: Mark) => {
    const params = { path: { piece: pieceId.value } };
    await take(api.PUT("/api/pieces/{piece}/steps", { params, body: mark as Schemas["MarkIn"] }));
    after?.(mark);
  });
}

/** The step to show when none is chosen: what wants mending, what can be done, what waits the shortest. */
export function nextStep(steps: readonly Step[]): Step | undefined {
  const waits = steps.filter((s) => s.state === "waiting").sort((a, b) => a.until - b.until);
  return (
    steps.find((s) => s.state === "mend") ??
    steps.find((s) => s.state === "ready") ??
    waits[0] ??
    steps.find((s) => s.state !== "done") ??
    steps[steps.length - 1]
  );
}

/** The time, told anew every second. */
export function useSeconds() {
  const now = ref(Date.now());
  useIntervalFn(() => (now.value = Date.now()), 1000);
  return now;
}

/** Seconds left of a wait, counted on from when the answer came. */
export function useWaits(answer: Ref<unknown>, again: () => void) {
  const now = useSeconds();
  const came = ref(Date.now());
  watch(answer, () => (came.value = Date.now()), { immediate: true });
  const left = (step: Step) => Math.max(0, step.until - (now.value - came.value) / 1000);
  let asked = 0;
  watch(now, () => {
    const steps = (answer.value as Bench | undefined)?.steps ?? [];
    const over = steps.some((s) => s.state === "waiting" && left(s) <= 0);
    if (over && Date.now() - asked > 5000) {
      asked = Date.now();
      again();
    }
  });
  return left;
}

/** A wait in words that stand still long enough to be read. */
export function span(seconds: number): string {
  if (seconds < 3600) return `${Math.floor(seconds / 60)}:${String(Math.floor(seconds % 60)).padStart(2, "0")}`;
  const hours = Math.floor(seconds / 3600);
  return hours < 48 ? `${hours} h ${Math.round((seconds % 3600) / 60)} min` : `${Math.round(hours / 24)} days`;
}

export const STATE_WORDS: Record<Step["state"], string> = {
  done: "done",
  ready: "can be done now",
  waiting: "waits",
  blocked: "not yet",
  mend: "to be mended",
};

/** What a piece's making becomes by a change, laid over what it is when it is sent. */
export const made = (change: (now: Making) => Partial<Making>) => (design: DesignIn) => {
  const making = (design.making ?? {}) as Making;
  return { ...design, making: { ...making, ...change(making) } };
};
