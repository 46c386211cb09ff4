import { computed, ref, shallowRef, type Ref } from "vue";
import { api, take, type Advice, type Cut, type DesignIn, type Flat, type Panel, type Piece, type Schemas } from "@/api/client";
import { say } from "@/api/queries";

type Change = (how: (now: DesignIn) => DesignIn) => void;
type Pair = [number, number];
/** A panel as it would lie with what the hand holds, or why it cannot. flat: the last that could. */
export type Tried = { code: string; flat: Flat | null; trouble: string };
const ASK_AGAIN = 250;

/** Darts of the piece on the table: moved by hand and tried at once, planned by the server, added and taken away. */
export function useDarts(piece: Ref<Piece | undefined>, change: Change) {
  const darting = ref(false);
  const tried = shallowRef<Tried | null>(null);
  const job = shallowRef<Schemas["JobOut"] | null>(null);
  const advice = shallowRef<Advice | null>(null);
  let moving: { panel: Panel; darts: Cut[]; fresh: boolean; first: boolean | null } | null = null;
  let running: Promise<void> | null = null;
  let again = false;
  let readied = "";

  const own = computed(() => [...((piece.value?.design.ink?.strokes ?? []) as Cut[]), ...((piece.value?.design.cuts ?? []) as Cut[])]);
  const darts = computed(() => own.value.filter((s) => s.kind === "dart"));
  const splits = computed(() => ((piece.value?.design.cuts ?? []) as Cut[]).filter((s) => s.kind === "seam"));

  function freshKey(word: string) {
    const used = new Set(own.value.map((s) => s.key));
    let n = 1;
    while (used.has(`${word}-${n}`)) n++;
    return `${word}-${n}`;
  }

  function begin(panel: Panel, mouth: Pair) {
    const key = freshKey("dart");
    const made = { key, kind: "dart", name: key.replace("-", " "), points: [mouth, mouth], curve: "straight", closed: false, lift: 0, lift_width: 40 } as Cut;
    moving = { panel, darts: [...darts.value, made], fresh: true, first: false };
  }

  /** Move a dart's tip; a mirror image moves the dart that it mirrors. */
  function tip(panel: Panel, key: string, [u, v]: Pair) {
    moving ??= { panel, darts: darts.value, fresh: false, first: null };
    const wanted = moving.fresh ? moving.darts[moving.darts.length - 1].key : key.replace(/'$/, "");
    const to: Pair = key.endsWith("'") ? [-u, v] : [u, v];
    const dart = moving.darts.find((d) => d.key === wanted);
    if (!dart) return;
    const ends = [dart.points[0], dart.points[dart.points.length - 1]].map((p) => Math.hypot((p[0] - to[0]) * 4, p[1] - to[1]));
    moving.first ??= ends[0] < ends[1];
    const points = moving.first ? [to, ...dart.points.slice(1)] : [...dart.points.slice(0, -1), to];
    moving.darts = moving.darts.map((d) => (d === dart ? { ...d, points: points as Pair[] } : d));
    if (running) again = true;
    else running = tryIt().finally(() => (running = null));
  }

  /** The hand comes near a dart: the server lays the panel out to try darts on, so that the first move need not wait. */
  function near(panel: Panel) {
    if (!piece.value || moving || readied === `${piece.value.id} ${panel.label.code}`) return;
    readied = `${piece.value.id} ${panel.label.code}`;
    void ask(panel, darts.value).catch(() => (readied = ""));
  }

  const ask = ({ number, side }: Panel, cuts: Cut[]) =>
    take(api.POST("/api/pieces/{piece}/panels/{number}/cuts/try", { params: { path: { piece: piece.value!.id, number } }, body: { cuts: cuts as Schemas["Stroke-Input"][], side } }));

  async function tryIt() {
    do {
      if (!moving || !piece.value) return;
      again = false;
      const { panel, darts } = moving;
      const code = panel.label.code;
      try {
        tried.value = { code, flat: await ask(panel, darts), trouble: "" };
      } catch (error) {
        tried.value = { code, flat: tried.value?.flat ?? null, trouble: (error as Error).message };
      }
    } while (again);
  }

  /** Keep the darts as they were last moved; where they cannot be cut so, say why and put them back. */
  async function drop() {
    await running;
    const last = moving;
    moving = null;
    if (!last || !tried.value) return;
    darting.value = false;
    if (!tried.value.trouble) return keep(last.darts);
    say(`${tried.value.trouble.replace(/\.$/, "")}. It is as it was.`, "error");
    tried.value = null;
  }

  function keep(kept: Cut[]) {
    const drawn = new Set((piece.value?.design.ink?.strokes ?? []).map((s) => s.key));
    const moved = new Map(kept.map((d) => [d.key, d]));
    change((now) => ({
      ...now,
      ink: now.ink ? { ...now.ink, strokes: now.ink.strokes!.map((s) => (moved.get(s.key) as typeof s) ?? s) } : now.ink,
      cuts: [...(now.cuts ?? []).filter((c) => c.kind !== "dart"), ...(kept.filter((d) => !drawn.has(d.key)) as Schemas["Stroke-Input"][])],
    }));
  }

  function remove(key: string) {
    const wanted = key.replace(/'$/, "");
    change((now) => ({
      ...now,
      ink: now.ink ? { ...now.ink, strokes: now.ink.strokes!.filter((s) => s.key !== wanted) } : now.ink,
      cuts: (now.cuts ?? []).filter((c) => c.key !== wanted),
    }));
  }

  /** Put the cuts of a plan on the piece; darts of an earlier plan make room for them. */
  function apply(cuts: Cut[]) {
    advice.value = null;
    const only = cuts.some((c) => c.kind === "dart");
    change((now) => ({ ...now, cuts: [...(now.cuts ?? []).filter((c) => !only || c.kind !== "dart"), ...(cuts as Schemas["Stroke-Input"][])] }));
  }

  async function plan({ number, side }: Panel, noGo: string[]) {
    if (!piece.value) return;
    advice.value = null;
    try {
      job.value = await take(api.POST("/api/pieces/{piece}/panels/{number}/dart-plans", { params: { path: { piece: piece.value.id, number } }, body: { no_go: noGo, most: 2, side } }));
      while (job.value.state === "running") {
        await new Promise((done) => setTimeout(done, ASK_AGAIN));
        job.value = await take(api.GET("/api/jobs/{job}", { params: { path: { job: job.value.id } } }));
      }
      if (job.value.state === "failed") say(job.value.words, "error");
      if (job.value.state === "done") advice.value = await take(api.GET("/api/dart-plans/{job}", { params: { path: { job: job.value.id } } }));
    } catch (error) {
      say((error as Error).message, "error");
    } finally {
      job.value = null;
    }
  }

  const stop = () => job.value && void take(api.DELETE("/api/jobs/{job}", { params: { path: { job: job.value.id } } }));
  function shown() {
    tried.value = null;
    readied = "";
  }

  return { darting, tried, job, advice, splits, near, begin, tip, drop, remove, apply, plan, stop, shown };
}
