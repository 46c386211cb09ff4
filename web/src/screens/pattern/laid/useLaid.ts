/** What lies on a piece, and the one part that the hand holds: tried on the server as it moves, kept when told. */
import { computed, ref, shallowRef, watch, type Ref } from "vue";
import { api, take, type DesignIn, type Piece, type Schemas } from "@/api/client";
import { say, usePieceQuery } from "@/api/queries";
import {
  copyOf,
  freshDetail,
  freshFoot,
  freshPlate,
  insetFor,
  isDragged,
  linesOf,
  movedTo,
  putOn,
  withLine,
  withShape,
  type Detail,
  type Laid,
  type Offer,
  type Place,
} from "./laid";

type Change = (how: (now: DesignIn) => DesignIn) => void;

export function useLaid(piece: Ref<Piece | undefined>, pieceId: Ref<number>, on: Ref<boolean>, change: Change) {
  const shown = computed(() => (on.value ? pieceId.value : 0));
  const laid = usePieceQuery("laid", shown, (p, how) =>
    take(api.GET("/api/pieces/{piece}/laid", { ...how, params: { path: { piece: p } } })),
  );
  const draft = shallowRef<Detail | null>(null);
  const tried = shallowRef<Laid | null>(null);
  const trouble = ref("");
  let keeping = "";
  let running = false;
  let again = false;

  const details = computed(() => (piece.value?.design.making.details ?? []) as Detail[]);
  const rows = computed(() => laid.data.value?.rows ?? []);
  /** Everything that is drawn: what is kept, with what the hand holds in place of its former self. */
  const drawn = computed(() =>
    tried.value && draft.value ? [...rows.value.filter((r) => r.key !== tried.value!.key), tried.value] : rows.value,
  );

  function hold(detail: Detail | null) {
    draft.value = detail;
    keeping = "";
    trouble.value = "";
    if (!detail) tried.value = null;
    else if (running) again = true;
    else void tryIt();
  }

  /** One question at a time: while it is away, only the last that the hand did counts. */
  async function tryIt() {
    running = true;
    do {
      again = false;
      const detail = draft.value;
      if (!detail || !piece.value) break;
      const params = { path: { piece: piece.value.id } };
      try {
        const answer = await take(api.POST("/api/pieces/{piece}/laid/try", { params, body: { detail } }));
        if (draft.value?.key === answer.key) tried.value = answer;
        // Lengths come back in mm, whatever unit they were typed in.
        if (draft.value === detail) draft.value = answer.detail as Detail;
        trouble.value = "";
      } catch (error) {
        trouble.value = (error as Error).message;
      }
    } while (again);
    running = false;
  }

  const begin = (offer: Offer, line: string) =>
    hold(
      freshDetail(
        offer,
        line,
        details.value.map((d) => d.key),
      ),
    );
  const place = (motif: Schemas["MotifOut"], name: string, at: Place) =>
    hold(
      freshPlate(
        motif,
        name,
        at,
        details.value.map((d) => d.key),
      ),
    );
  const stand = (shape: string, at: Place) =>
    hold(
      freshFoot(
        shape,
        at,
        details.value.map((d) => d.key),
      ),
    );
  const pick = (key: string) => hold(details.value.find((d) => d.key === key) ?? null);

  /** The nearest place where it fits, found by the server, in the hand instead. */
  const mending = ref(false);
  async function mend() {
    const detail = draft.value;
    if (!detail || !piece.value || mending.value) return;
    mending.value = true;
    const params = { path: { piece: piece.value.id } };
    try {
      const answer = await take(api.POST("/api/pieces/{piece}/laid/mend", { params, body: { detail } }));
      if (draft.value === detail) hold(answer.detail as Detail);
    } catch (error) {
      say((error as Error).message);
    }
    mending.value = false;
  }
  const copy = (line: string) =>
    draft.value &&
    hold(
      copyOf(
        draft.value,
        line,
        details.value.map((d) => d.key),
      ),
    );

  function keep() {
    const detail = draft.value;
    if (!detail || trouble.value) return;
    keeping = detail.key;
    change((now) => ({
      ...now,
      making: { ...now.making, details: putOn((now.making?.details ?? []) as Detail[], detail) },
    }));
  }

  function takeOff(key: string) {
    if (draft.value?.key === key) hold(null);
    change((now) => ({
      ...now,
      making: { ...now.making, details: (now.making?.details ?? []).filter((d) => d.key !== key) },
    }));
  }

  const line = ref("");
  const spot = shallowRef<Place | null>(null);
  watch(pieceId, () => ((line.value = ""), (spot.value = null)));
  /** A press on a line: with a part in hand it is put to what that runs along, else it is the line that is meant. */
  const pressLine = (name: string) => (draft.value ? hold(withLine(draft.value, name)) : (line.value = name));
  /** A press on a panel: what lies on a place goes there; with empty hands it is the place that is meant. */
  const pressPlace = (at: Place) =>
    draft.value?.shape?.form === "plate"
      ? hold(withShape(draft.value, movedTo(draft.value.shape, at)))
      : draft.value || (spot.value = at);
  const within = () =>
    (laid.data.value?.lines ?? []).some((l) => l.kind === "inked" && linesOf(draft.value).includes(l.name));
  const drag = (far: number) =>
    draft.value &&
    isDragged(draft.value) &&
    hold(withShape(draft.value, { inset: insetFor(draft.value, far, within()) }));

  watch(shown, () => hold(null));
  /** What was kept is drawn by itself as soon as the answer holds it. */
  watch(rows, (now) => {
    if (keeping && keeping === draft.value?.key && now.some((r) => r.key === keeping)) hold(null);
  });

  const kept = { laid, rows, drawn, draft, tried, trouble, details, mending, line, spot };
  return { ...kept, hold, begin, place, stand, pick, mend, copy, keep, takeOff, pressLine, pressPlace, drag };
}

export type LaidOn = ReturnType<typeof useLaid>;
