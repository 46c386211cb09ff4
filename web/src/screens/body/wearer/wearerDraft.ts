import { computed, ref, watch, type Ref } from "vue";
import { type Measurements, type MeasurementsIn, type Question, type Schemas } from "@/api/client";
import { OVERTAKEN, saveSet, say, useChange } from "@/api/queries";
import { changeLimb, changeTrunk, keyOf, partSides, placeOf, type LimbChange, type TorsoField } from "./readings";

export type { LimbChange } from "./readings";

export type Limb = Schemas["LimbReading-Output"];
export type Reading = Schemas["StationReading-Output"];
export type KeptSet = Schemas["SetOut"];
export type Side = Limb["side"];

interface Saving {
  body: MeasurementsIn;
  key: string;
  turn: number;
}

/**
 * The set in hand. Each change is sent at once; an unlikely one waits for the maker's word, an impossible one
 * stays in its field with the reason. Nothing typed is lost either way.
 */
export function useDraft(sets: Ref<KeptSet[] | undefined>, chosen: Ref<number>) {
  const kept = computed(() => sets.value?.find((s) => s.id === chosen.value) ?? sets.value?.[0]);
  const waiting = ref<MeasurementsIn | null>(null);
  const questions = ref<Question[]>([]);
  const refusals = ref<Record<string, string>>({});
  const drafts = ref<Record<string, Partial<Record<"girth" | "at", string>>>>({});
  watch(() => kept.value?.id, clear);

  function clear() {
    waiting.value = began = null;
    questions.value = [];
    refusals.value = {};
  }

  let newest = 0;
  /** How the set stood when what waits was begun. */
  let began: KeptSet | null = null;
  const save = useChange(
    async ({ body, turn }: Saving) => {
      const answer = (began = await saveSet(began ?? kept.value!, body));
      if (turn === newest) clear();
      return answer;
    },
    (refusal, { key }) => {
      if (refusal.status === OVERTAKEN) {
        clear();
        return say(refusal.message, "error");
      }
      questions.value = refusal.questions;
      if (!refusal.questions.length) refusals.value = { ...refusals.value, [key]: refusal.message };
    },
    "measurements",
  );

  function send(body: MeasurementsIn, key = "") {
    began ??= kept.value!;
    waiting.value = body;
    save.mutate({ body, key, turn: ++newest });
  }

  /** The readings as a plain copy that can be changed. */
  function copy(): MeasurementsIn {
    return structuredClone(JSON.parse(JSON.stringify(waiting.value ?? kept.value!.readings)) as MeasurementsIn);
  }

  function change(c: LimbChange) {
    const key = keyOf(c);
    delete refusals.value[key];
    const body = copy();
    if (changeLimb(body, c, (drafts.value[placeOf(c)] ??= {}), usualAt.value)) send(body, key);
  }

  /** One measure of the trunk: a girth, or with ``length`` a length; an empty one is guessed again. */
  function changeTorso(name: string, text: string, what: TorsoField) {
    const key = `torso.${name}.${what}`;
    delete refusals.value[key];
    const body = copy();
    changeTrunk(body, name, text, what);
    send(body, key);
  }

  function setPosture(posture: NonNullable<MeasurementsIn["torso"]>["posture"]) {
    const body = copy();
    body.torso = { girths: {}, lengths: {}, ...body.torso, posture };
    send(body);
  }

  const usualAt = ref<Record<string, number>>({});

  function confirm() {
    const body = copy();
    body.confirmed = [...(body.confirmed ?? []), ...questions.value.map((q) => q.key)];
    send(body);
  }

  function setApart(segment: string, apart: boolean) {
    const body = copy();
    if (partSides(body, segment, apart)) send(body);
  }

  const shown = computed(() => (waiting.value ?? kept.value?.readings) as Measurements | undefined);
  return {
    kept,
    shown,
    questions,
    refusals,
    usualAt,
    change,
    changeTorso,
    setPosture,
    confirm,
    setApart,
    forget: clear,
    saving: save.isPending,
  };
}
