import { computed, ref, shallowRef, type Ref } from "vue";
import {
  api,
  take,
  type Advice,
  type Cut,
  type DesignIn,
  type Flat,
  type Panel,
  type Pattern,
  type Piece,
  type Schemas,
} from "@/api/client";
import { say } from "@/api/queries";

type Change = (how: (now: DesignIn) => DesignIn) => void;
type Pair = [number, number];
/** A panel as it would lie with what the hand holds, or why it cannot. flat: the last that could. */
export type Tried = { code: string; flat: Flat | null; trouble: string };
const ASK_AGAIN = 250;
/** Keys of strokes that are made on the table; what a template lays is called otherwise. */
const MINE = /^(dart|split|insert)-\d+$/;

const OFF_THE_FOAM = "It lies on no foam there: draw it from an edge into the panel.";

const unticked = (key: string) => key.replace(/'$/, "");
const stroke = (key: string, name: string, points: Pair[]) =>
  ({ key, kind: "dart", name, points, curve: "straight", closed: false, lift: 0, lift_width: 40 }) as Cut;

/** Darts of the piece on the table: moved by hand and tried at once, planned by the server, added and taken away. */
export function useDarts(piece: Ref<Piece | undefined>, pattern: Ref<Pattern | undefined>, change: Change) {
  const darting = ref(false);
  const tried = shallowRef<Tried | null>(null);
  const job = shallowRef<Schemas["JobOut"] | null>(null);
  const advice = shallowRef<Advice | null>(null);
  let moving: { panel: Panel; darts: Cut[]; key: string; first: boolean | null; moved: boolean } | null = null;
  let running: Promise<void> | null = null;
  let again = false;
  let readied = "";

  const own = computed(() => [
    ...((piece.value?.design.ink?.strokes ?? []) as Cut[]),
    ...((piece.value?.design.cuts ?? []) as Cut[]),
  ]);
  /**
   * The maker's darts, and those that the template lays: these have no stroke of the piece's own until they are moved.
   */
  const darts = computed(() => {
    const mine = own.value.filter((s) => s.kind === "dart");
    const laid = (pattern.value?.panels ?? []).flatMap((p) =>
      p.darts.filter((d) => !d.key.endsWith("'") && !mine.some((m) => m.key === d.key)),
    );
    return [
      ...mine,
      ...new Map(laid.map((d) => [d.key, stroke(d.key, d.name, [d.mouth_uv, d.tip_uv] as Pair[])])).values(),
    ];
  });
  const splits = computed(() => ((piece.value?.design.cuts ?? []) as Cut[]).filter((s) => s.kind === "seam"));

  function freshKey() {
    const used = new Set(own.value.map((s) => s.key));
    let n = 1;
    while (used.has(`dart-${n}`)) n++;
    return `dart-${n}`;
  }

  function begin(panel: Panel, mouth: Pair) {
    const key = freshKey();
    moving = {
      panel,
      darts: [...darts.value, stroke(key, key.replace("-", " "), [mouth, mouth])],
      key,
      first: false,
      moved: false,
    };
  }

  /** Move a dart's tip; a mirror image moves the dart that it mirrors. */
  function tip(panel: Panel, key: string, [u, v]: Pair) {
    moving ??= { panel, darts: darts.value, key: unticked(key), first: null, moved: false };
    const to: Pair = key.endsWith("'") ? [-u, v] : [u, v];
    const dart = moving.darts.find((d) => d.key === moving!.key);
    if (!dart) return;
    const ends = [dart.points[0], dart.points[dart.points.length - 1]].map((p) =>
      Math.hypot((p[0] - to[0]) * 4, p[1] - to[1]),
    );
    moving.first ??= ends[0] < ends[1];
    const points = moving.first ? [to, ...dart.points.slice(1)] : [...dart.points.slice(0, -1), to];
    moving.moved = true;
    moving.darts = moving.darts.map((d) => (d === dart ? { ...d, points: points as Pair[] } : d));
    if (running) again = true;
    else running = tryIt().finally(() => (running = null));
  }

  /**
   * The hand comes near a dart: the server lays the panel out to try darts on, so that the first move need not wait.
   */
  function near(panel: Panel) {
    if (!piece.value || moving || readied === `${piece.value.id} ${panel.label.code}`) return;
    readied = `${piece.value.id} ${panel.label.code}`;
    void ask(panel, darts.value).catch(() => (readied = ""));
  }

  const ask = ({ number, side }: Panel, cuts: Cut[]) =>
    take(
      api.POST("/api/pieces/{piece}/panels/{number}/cuts/try", {
        params: { path: { piece: piece.value!.id, number } },
        body: { cuts: cuts as Schemas["Stroke-Input"][], side },
      }),
    );

  async function tryIt() {
    do {
      if (!moving || !piece.value) return;
      again = false;
      const { panel, darts, key } = moving;
      const code = panel.label.code;
      try {
        const flat = await ask(panel, darts);
        const cut = flat.darts.some((d) => unticked(d.key) === key);
        tried.value = { code, flat, trouble: cut ? "" : OFF_THE_FOAM };
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
    if (!last?.moved || !tried.value) return;
    darting.value = false;
    const dart = last.darts.find((d) => d.key === last.key);
    if (dart && !tried.value.trouble) return keep(dart);
    say(`${tried.value.trouble.replace(/\.$/, "")}. It is as it was.`, "error");
    tried.value = null;
  }

  function keep(dart: Cut) {
    const made = dart as Schemas["Stroke-Input"];
    const within = (strokes: readonly Schemas["Stroke-Input"][] | undefined) =>
      strokes?.some((s) => s.key === made.key);
    const moved = (strokes: readonly Schemas["Stroke-Input"][]) => strokes.map((s) => (s.key === made.key ? made : s));
    change((now) => {
      if (within(now.ink?.strokes)) return { ...now, ink: { ...now.ink, strokes: moved(now.ink!.strokes!) } };
      return { ...now, cuts: within(now.cuts) ? moved(now.cuts!) : [...(now.cuts ?? []), made] };
    });
  }

  /** Take strokes out by their keys, wherever they come from. */
  function without(now: DesignIn, keys: string[]): DesignIn {
    const rest = (strokes: readonly Schemas["Stroke-Input"][] | undefined) =>
      (strokes ?? []).filter((s) => !keys.includes(s.key));
    const laid = now.ink ? [] : keys.filter((k) => !MINE.test(k) && !now.without?.includes(k));
    return {
      ...now,
      ink: now.ink ? { ...now.ink, strokes: rest(now.ink.strokes) } : now.ink,
      cuts: rest(now.cuts),
      without: [...(now.without ?? []), ...laid],
    };
  }

  const remove = (key: string) => change((now) => without(now, [unticked(key)]));

  /** Put the cuts of a plan on the piece; what the panel had makes room for them, since it was planned without. */
  function apply(cuts: Cut[], panel: Panel) {
    advice.value = null;
    const had = panel.darts.map((d) => unticked(d.key));
    change((now) => {
      const bare = without(now, had);
      return { ...bare, cuts: [...(bare.cuts ?? []), ...(cuts as Schemas["Stroke-Input"][])] };
    });
  }

  async function plan({ number, side }: Panel, noGo: string[], thorough = false) {
    if (!piece.value) return;
    advice.value = null;
    try {
      job.value = await take(
        api.POST("/api/pieces/{piece}/panels/{number}/dart-plans", {
          params: { path: { piece: piece.value.id, number } },
          body: { no_go: noGo, most: 2, side, thorough },
        }),
      );
      while (job.value.state === "running") {
        await new Promise((done) => setTimeout(done, ASK_AGAIN));
        job.value = await take(api.GET("/api/jobs/{job}", { params: { path: { job: job.value.id } } }));
      }
      if (job.value.state === "failed") say(job.value.words, "error");
      if (job.value.state === "done")
        advice.value = await take(api.GET("/api/dart-plans/{job}", { params: { path: { job: job.value.id } } }));
    } catch (error) {
      say((error as Error).message, "error");
    } finally {
      job.value = null;
    }
  }

  const stop = () => job.value && void take(api.DELETE("/api/jobs/{job}", { params: { path: { job: job.value.id } } }));
  function shown() {
    if (moving) return;
    tried.value = null;
    readied = "";
  }

  return { darting, tried, job, advice, splits, near, begin, tip, drop, remove, apply, plan, stop, shown };
}
