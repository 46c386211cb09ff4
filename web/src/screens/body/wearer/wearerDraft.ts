import { computed, ref, watch, type Ref } from "vue";
import { type Measurements, type MeasurementsIn, type Question, type Schemas } from "@/api/client";
import { OVERTAKEN, saveSet, say, useChange } from "@/api/queries";

export type Limb = Schemas["LimbReading-Output"];
export type Reading = Schemas["StationReading-Output"];
export type KeptSet = Schemas["SetOut"];
export type Side = Limb["side"];

export interface LimbChange {
  segment: string;
  side: Side;
  station?: string;
  field: "girth" | "at" | "ratio" | "strip" | "gate";
  text: string;
}

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

  function limbOf(body: MeasurementsIn, segment: string, side: Side) {
    let limb = body.limbs?.find((l) => l.segment === segment && l.side === side);
    if (!limb) {
      limb = { segment: segment as Limb["segment"], side, stations: {} };
      body.limbs = [...(body.limbs ?? []), limb];
    }
    return limb;
  }

  function change(c: LimbChange) {
    const body = copy();
    const limb = limbOf(body, c.segment, c.side);
    const key = `${c.segment}.${c.side}.${c.station ?? "gate"}.${c.field}`;
    delete refusals.value[key];
    if (c.field === "gate") limb.gate = c.text || null;
    else if (c.station) {
      const place = `${c.segment}.${c.side}.${c.station}`;
      const now = limb.stations[c.station] as Schemas["StationReading-Input"] | undefined;
      const made = setField(now, c, (drafts.value[place] ??= {}));
      if (!made) {
        if (c.field === "girth" && !c.text) delete limb.stations[c.station];
        else return;
      } else limb.stations[c.station] = made;
    }
    send(body, key);
  }

  /** One measure of the trunk: a girth, or with ``length`` a length; an empty one is guessed again. */
  function changeTorso(name: string, text: string, what: "girth" | "strip" | "length") {
    const body = copy();
    const torso = (body.torso ??= { girths: {}, lengths: {}, posture: "usual" });
    const girths = (torso.girths ??= {}) as Record<string, Schemas["StationReading-Input"]>;
    const lengths = (torso.lengths ??= {}) as Record<string, number | string>;
    const key = `torso.${name}.${what}`;
    delete refusals.value[key];
    if (what === "length") {
      if (text) lengths[name] = text;
      else delete lengths[name];
    } else if (what === "strip")
      girths[name] = { ...girths[name], tool: Number(text) > 0 ? "foam" : "tape", strip: Number(text) };
    else if (text) girths[name] = { ...(girths[name] ?? { at: 0 }), girth: text };
    else delete girths[name];
    send(body, key);
  }

  function setPosture(posture: NonNullable<MeasurementsIn["torso"]>["posture"]) {
    const body = copy();
    body.torso = { girths: {}, lengths: {}, ...body.torso, posture };
    send(body);
  }

  /** A station exists once its girth is known; a distance typed before that is kept until then. */
  function setField(
    now: Schemas["StationReading-Input"] | undefined,
    c: LimbChange,
    draft: { at?: string; girth?: string },
  ) {
    if (c.field === "girth" && !c.text) return undefined;
    if (!now && c.field === "at") draft.at = c.text;
    if (!now && c.field !== "girth") return undefined;
    const base = now ?? { girth: c.text, at: draft.at ?? usualAt.value[`${c.segment}.${c.station}`] ?? 0 };
    if (c.field === "ratio") return { ...base, ratio: c.text ? Number(c.text.replace(",", ".")) : null };
    if (c.field === "strip")
      return { ...base, tool: Number(c.text) > 0 ? ("foam" as const) : ("tape" as const), strip: Number(c.text) };
    return { ...base, [c.field]: c.text || 0 };
  }
  const usualAt = ref<Record<string, number>>({});

  function confirm() {
    const body = copy();
    body.confirmed = [...(body.confirmed ?? []), ...questions.value.map((q) => q.key)];
    send(body);
  }

  /** One reading for both sides, or one for each: the shared one becomes two alike, or the left becomes shared. */
  function setApart(segment: string, apart: boolean) {
    const body = copy();
    const limbs = body.limbs ?? [];
    const others = limbs.filter((l) => l.segment !== segment);
    const from =
      limbs.find((l) => l.segment === segment && (apart ? l.side === "both" : l.side === "left")) ??
      limbs.find((l) => l.segment === segment);
    if (!from) return;
    const sides: Side[] = apart ? ["left", "right"] : ["both"];
    body.limbs = [...others, ...sides.map((side) => ({ ...from, side }))];
    send(body);
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
