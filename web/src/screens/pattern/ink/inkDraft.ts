import { computed, ref, shallowRef, watch, type Ref } from "vue";
import { api, take, type DesignIn, type Piece, type Schemas } from "@/api/client";
import { useDesignChange, usePieceQuery } from "@/api/queries";
import type { Ink, InkIn, Pair, Stroke } from "@/canvas/sheetMap";

export type InkRead = Schemas["InkOut"];
export interface Chosen {
  key: string;
  index: number | null;
}

const TRY_EVERY = 140;
/** While a line moves the server reads it again only after this many times what the last reading took. */
const TRY_SHARE = 4;
const plain = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T;

/**
 * The ink in hand. What is drawn shows at once; while a line moves it is read by the server every moment, and once
 * let go it is kept, so that undo takes back one act.
 */
export function useInk(piece: Ref<Piece | undefined>, pieceId: Ref<number>) {
  const asked = usePieceQuery<InkRead>("ink", pieceId, (p, how) =>
    take(api.GET("/api/pieces/{piece}/ink", { ...how, params: { path: { piece: p } } })),
  );
  const live = shallowRef<Ink | null>(null);
  const tried = shallowRef<InkRead | null>(null);
  const chosen = ref<Chosen | null>(null);
  const kinds = ref<Stroke["kind"]>("outline");
  const moving = ref<string | null>(null);
  const save = useDesignChange(piece);

  const ink = computed<Ink>(
    () => live.value ?? asked.data.value?.sheet ?? { strokes: [], symmetric: false, left_out: [] },
  );
  const read = computed(() => (live.value ? (tried.value ?? asked.data.value) : asked.data.value));
  const stroke = computed(() => ink.value.strokes.find((s) => s.key === chosen.value?.key));
  watch(pieceId, () => {
    live.value = tried.value = chosen.value = null;
  });
  watch(asked.data, () => {
    if (!holding) live.value = tried.value = null;
    if (chosen.value && !stroke.value) chosen.value = null;
  });

  let holding = false;
  let busy = false;
  let waiting = 0;
  let taken = 0;

  /** Show a change without keeping it, and have it read. */
  function show(next: Ink) {
    holding = true;
    live.value = next;
    if (!waiting) waiting = window.setTimeout(() => void tryIt(), Math.max(TRY_EVERY, TRY_SHARE * taken));
  }

  async function tryIt() {
    waiting = 0;
    if (!live.value || !holding) return;
    if (busy) {
      waiting = window.setTimeout(() => void tryIt(), TRY_EVERY);
      return;
    }
    busy = true;
    const from = performance.now();
    const wanted = live.value;
    try {
      const answer = await take(
        api.POST("/api/pieces/{piece}/ink/try", { params: { path: { piece: pieceId.value } }, body: wanted as InkIn }),
      );
      if (holding) tried.value = answer;
    } catch {
      /* what cannot be read while it moves is said when it is let go */
    } finally {
      busy = false;
      taken = performance.now() - from;
    }
  }

  /** Keep what is shown, or another sheet. */
  function keep(next: Ink = ink.value) {
    holding = false;
    moving.value = null;
    clearTimeout(waiting);
    waiting = 0;
    live.value = next;
    save((now) => ({ ...now, ink: next as DesignIn["ink"], cuts: [] }));
  }

  function edit(how: (sheet: Ink) => Ink) {
    keep(how(plain(ink.value)));
  }

  const editStroke = (key: string, how: (s: Stroke) => Stroke) =>
    edit((sheet) => ({ ...sheet, strokes: sheet.strokes.map((s) => (s.key === key ? how(s) : s)) }));

  function movePoint(at: Chosen, to: Pair) {
    moving.value = at.key;
    show({
      ...ink.value,
      strokes: ink.value.strokes.map((s) =>
        s.key === at.key ? { ...s, points: s.points.map((p, i) => (i === at.index ? to : p)) } : s,
      ),
    });
  }

  function freshKey(kind: string) {
    const used = new Set(ink.value.strokes.map((s) => s.key));
    let n = 1;
    while (used.has(`${kind.replace(" ", "-")}-${n}`)) n++;
    return `${kind.replace(" ", "-")}-${n}`;
  }

  function add(points: Pair[], closed: boolean) {
    const kind = kinds.value;
    const made: Stroke = {
      key: freshKey(kind),
      kind,
      name: "",
      points,
      curve: "smooth",
      closed,
      lift: 0,
      lift_width: 40,
    };
    edit((sheet) => ({ ...sheet, strokes: [...sheet.strokes, made] }));
    chosen.value = { key: made.key, index: null };
  }

  /** Put a control point into a stroke after its ``span``-th. */
  function bend(key: string, span: number, at: Pair) {
    editStroke(key, (s) => ({ ...s, points: [...s.points.slice(0, span + 1), at, ...s.points.slice(span + 1)] }));
    chosen.value = { key, index: span + 1 };
  }

  function remove() {
    const at = chosen.value;
    const s = stroke.value;
    if (!at || !s) return;
    if (at.index !== null && s.points.length > 2)
      editStroke(at.key, (x) => ({ ...x, points: x.points.filter((_, i) => i !== at.index) }));
    else edit((sheet) => ({ ...sheet, strokes: sheet.strokes.filter((x) => x.key !== at.key) }));
    chosen.value = at.index !== null && s.points.length > 2 ? { key: at.key, index: null } : null;
  }

  /** Cut the chosen stroke in two at its chosen point. */
  function split() {
    const s = stroke.value;
    const i = chosen.value?.index ?? 0;
    if (!s || i <= 0 || i >= s.points.length - 1) return;
    const second = freshKey(s.kind);
    edit((sheet) => ({
      ...sheet,
      strokes: sheet.strokes.flatMap((x) =>
        x.key === s.key
          ? [
              { ...x, closed: false, points: x.points.slice(0, i + 1) },
              { ...x, key: second, closed: false, points: x.points.slice(i) },
            ]
          : [x],
      ),
    }));
  }

  /** Join the chosen stroke with the one of its kind whose end lies at one of its ends. */
  function join() {
    const s = stroke.value;
    if (!s) return;
    const near = (a: Pair, b: Pair) => Math.hypot((a[0] - b[0]) * 3, a[1] - b[1]) < 0.06;
    const first = s.points[0] as Pair;
    const last = s.points[s.points.length - 1] as Pair;
    for (const other of ink.value.strokes) {
      if (other.key === s.key || other.kind !== s.kind || other.closed) continue;
      const b = other.points as Pair[];
      const points = near(last, b[0])
        ? [...s.points, ...b.slice(1)]
        : near(last, b[b.length - 1])
          ? [...s.points, ...[...b].reverse().slice(1)]
          : near(first, b[b.length - 1])
            ? [...b, ...s.points.slice(1)]
            : near(first, b[0])
              ? [...[...b].reverse(), ...s.points.slice(1)]
              : null;
      if (!points) continue;
      edit((sheet) => ({
        ...sheet,
        strokes: sheet.strokes.filter((x) => x.key !== other.key).map((x) => (x.key === s.key ? { ...x, points } : x)),
      }));
      return;
    }
    if (near(first, last) && s.points.length > 3)
      editStroke(s.key, (x) => ({ ...x, closed: true, points: x.points.slice(0, -1) }));
  }

  function templateAgain() {
    holding = false;
    live.value = tried.value = chosen.value = null;
    save((now) => ({ ...now, ink: null, cuts: [], without: [] }));
  }

  return {
    asked,
    ink,
    read,
    chosen,
    moving,
    stroke,
    kinds,
    show,
    keep,
    edit,
    editStroke,
    movePoint,
    add,
    bend,
    remove,
    split,
    join,
    templateAgain,
  };
}
