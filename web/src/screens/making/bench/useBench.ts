import { useIntervalFn } from "@vueuse/core";
import { computed, ref, watch, type Ref } from "vue";
import { api, sendFile, take, type DesignIn, type Schemas } from "@/api/client";
import { keepAnswer } from "@/api/kept";
import { queryClient, useAsk, useChange } from "@/api/queries";

export type Step = Schemas["StepOut"];
export type Bench = Schemas["BenchOut"];
export type Mark = Partial<Schemas["MarkIn"]> & { key: string };
export type Making = Schemas["Making-Input"];

/** All pieces of a build and the costume's own steps. */
export const useCostume = (buildId: Ref<number>, wanted: Ref<boolean>) =>
  useAsk({
    queryKey: ["costume", buildId],
    queryFn: (how) =>
      take(api.GET("/api/builds/{build}/bench", { ...how, params: { path: { build: buildId.value } } })),
    enabled: computed(() => wanted.value && buildId.value > 0),
  });

/** Steps of the costume for which too little is there. */
export const useMissing = (buildId: Ref<number>, wanted: Ref<boolean>) =>
  useAsk({
    queryKey: ["missing", buildId],
    queryFn: (how) =>
      take(api.GET("/api/builds/{build}/missing", { ...how, params: { path: { build: buildId.value } } })),
    enabled: computed(() => wanted.value && buildId.value > 0),
  });

export const useCraft = () =>
  useAsk({ queryKey: ["craft"], queryFn: (how) => take(api.GET("/api/craft", how)), staleTime: 60_000 });

/** What a tick bears on beside the piece's own steps; never on its pattern. */
const TICKED = ["builds", "costume", "finish", "missing", "paces", "timers", "undo"] as const;
/** What a photograph bears on. */
const PHOTOGRAPHED = ["steps", "undo"] as const;

/** Photographs of a piece: of a step, or, without one, of its reference. */
export function usePhotographs(piece: () => number) {
  const one = (photograph: number) => ({ params: { path: { photograph } } });
  const path = (step: string, words: string) =>
    `/api/pieces/${piece()}/photographs?step=${encodeURIComponent(step)}&words=${encodeURIComponent(words)}`;
  const kept = <In>(act: (input: In) => Promise<unknown>) => useChange(act, undefined, undefined, PHOTOGRAPHED);
  const add = kept((p: { file: File; step: string; words: string }) => sendFile(path(p.step, p.words), p.file));
  const name = kept(({ id, words }: { id: number; words: string }) =>
    take(api.PUT("/api/photographs/{photograph}", { ...one(id), body: { words } })),
  );
  const remove = kept((id: number) => take(api.DELETE("/api/photographs/{photograph}", one(id))));
  return { add, name, remove };
}

/** Say something of a step. The answer is the bench as it then stands, and is shown at once. */
export function useMark(pieceId: Ref<number>, after?: (mark: Mark, was: Bench | undefined) => void) {
  return useChange(
    async (mark: Mark) => {
      const piece = pieceId.value;
      const params = { path: { piece } };
      const was = queryClient.getQueryData<Bench>(["steps", piece]);
      const now = await take(api.PUT("/api/pieces/{piece}/steps", { params, body: mark as Schemas["MarkIn"] }));
      await keepAnswer(queryClient, ["steps", piece], now);
      after?.(mark, was);
    },
    undefined,
    "mark",
    TICKED,
  );
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
