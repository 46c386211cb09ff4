/** What lies on a piece, and the one part that the hand holds: tried on the server as it moves, kept when told. */
import { computed, ref, shallowRef, watch, type Ref } from "vue";
import { api, take, type DesignIn, type Piece, type Schemas } from "@/api/client";
import { usePieceQuery } from "@/api/queries";
import { freshDetail, freshPlate, putOn, type Detail, type Laid, type Offer, type Place } from "./laid";

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
  const pick = (key: string) => hold(details.value.find((d) => d.key === key) ?? null);

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

  watch(shown, () => hold(null));
  /** What was kept is drawn by itself as soon as the answer holds it. */
  watch(rows, (now) => {
    if (keeping && keeping === draft.value?.key && now.some((r) => r.key === keeping)) hold(null);
  });

  return { laid, rows, drawn, draft, tried, trouble, details, hold, begin, place, pick, keep, takeOff };
}

export type LaidOn = ReturnType<typeof useLaid>;
