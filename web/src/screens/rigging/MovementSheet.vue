<script setup lang="ts">
import { computed, ref, watch } from "vue";
import type { Schemas } from "@/api/client";
import { useHere } from "@/api/queries";
import { useUnit } from "@/parts/units";
import type { Pose } from "@/scene/figureStage";
import { useMovement } from "./useRig";

/** Joints to turn by hand, postures to try, and what binds or opens at the joint that is looked at. */
const props = defineProps<{ figure: Schemas["FigureOut"]; pose: Pose }>();
const emit = defineEmits<{
  pose: [pose: Pose];
  marks: [marks: { at: readonly number[]; piece: number }[]];
  trim: [trim: { piece: number; edge: string; mm: number }];
}>();
const { build, buildId } = useHere();
const { show } = useUnit();
const joint = ref("left hip");
const posture = ref("stand");
const found = useMovement(buildId, joint);
const here = computed(() => props.figure.joints.find((j) => j.key === joint.value)!);
const name = (piece: number) => build.value?.pieces.find((p) => p.id === piece)?.name ?? "";
const binds = computed(() => (found.data.value?.joint === joint.value ? found.data.value.binds : []));
const telling = computed(() => binds.value.filter((b) => b.kind !== "free"));
const stands = computed(() => (found.data.value?.joint === joint.value ? found.data.value.stands : []));
const free = computed(() => binds.value.length - telling.value.length);

function take(key: string) {
  posture.value = key;
  const turns = props.figure.postures[key];
  emit("pose", Object.fromEntries(turns.map((t) => [`${t.joint}|${t.motion}`, t.degrees])));
  const bent = turns.find((t) => t.joint.startsWith("left")) ?? turns[0];
  if (bent) joint.value = bent.joint;
}
const turn = (motion: string, degrees: number) =>
  emit("pose", { ...props.pose, [`${joint.value}|${motion}`]: degrees });
/** Turn the figure to where two pieces meet. */
function look(b: Schemas["BindOut"]) {
  posture.value = "";
  emit("pose", { [`${joint.value}|${b.motion}`]: b.angle ?? b.reach });
}
watch(
  telling,
  (rows) =>
    emit(
      "marks",
      rows.filter((b) => b.kind === "binds" || b.kind === "touches").map((b) => ({ at: b.at, piece: b.moving })),
    ),
  { immediate: true },
);
const HEAD: Record<string, string> = {
  touches: "Touch as you stand",
  binds: "Binds",
  opens: "Opens",
  reaches: "Meets at the end",
  free: "Free",
};
function words(b: Schemas["BindOut"]): string {
  const [moving, fixed] = [b.moving, b.fixed].map((piece, k) => (b.by[k] ? `${b.by[k]} on ` : "") + name(piece));
  const pair = `${moving} and ${fixed}`;
  const shape = b.by.find(Boolean);
  if (b.kind === "touches" && shape) return `${pair} touch already: move ${shape}, or make it smaller.`;
  if (b.kind === "touches") return `${pair} touch already. One lies in the other: give one more ease, or cut it back.`;
  if (b.kind === "binds")
    return `${pair} meet at ${Math.round(b.angle!)}°; “${b.posture}” asks for ${Math.round(b.wanted)}°.`;
  if (b.kind === "opens")
    return (
      `Between ${pair} a gap of ${show(b.opening!)} opens. ` +
      `To hide it one reaches ${show(b.overlap!)} under the other.`
    );
  return `${pair} meet at ${Math.round(b.angle!)}°, beyond what a posture here asks.`;
}
</script>

<template>
  <div class="side">
    <div class="postures" role="group" aria-label="Postures">
      <button
        v-for="(_, key) in figure.postures"
        :key="key"
        class="press small"
        :aria-pressed="posture === key"
        @click="take(String(key))">
        {{ key }}
      </button>
    </div>
    <section class="sheet list">
      <label class="field">
        <span class="word">Joint</span>
        <select v-model="joint" class="press" name="joint">
          <option v-for="j in figure.joints" :key="j.key" :value="j.key">{{ j.words }}</option>
        </select>
      </label>
      <label v-for="m in here.motions" :key="m.key" class="slide">
        <span>{{ m.words }}</span>
        <input
          v-says="pose[`${joint}|${m.key}`] ?? 0"
          type="range"
          min="0"
          :max="m.reach"
          step="1"
          :name="`turn-${m.key}`"
          @input="turn(m.key, Number(($event.target as HTMLInputElement).value))" />
        <b class="figures">{{ Math.round(pose[`${joint}|${m.key}`] ?? 0) }}°</b>
      </label>
    </section>
    <p v-if="found.isError.value" class="words stop">{{ found.error.value?.message }}</p>
    <p v-else-if="found.data.value?.joint !== joint" class="soft">Turning the {{ joint }} …</p>
    <section
      v-for="b in telling"
      :key="`${b.motion}${b.moving}${b.fixed}`"
      class="words"
      :class="b.kind"
      :data-bind="b.kind">
      <div>
        <h3>{{ HEAD[b.kind] }}: {{ b.words }}</h3>
        <p>{{ words(b) }}</p>
        <div class="do">
          <button
            v-for="t in b.trims"
            :key="t.edge"
            class="press main"
            @click="emit('trim', { piece: t.piece, edge: t.edge, mm: t.mm })">
            Take {{ show(t.mm) }} off the {{ t.edge }} of {{ t.name }}
          </button>
          <p v-if="b.kind === 'binds' && !b.trims.length" class="soft">
            No cut along one edge frees it: hang one of them on straps, or part it into plates.
          </p>
          <button class="press small" @click="look(b)">Show</button>
        </div>
      </div>
    </section>
    <section v-for="t in stands" :key="`${t.on}${t.piece}`" class="words binds" :data-stands="t.on">
      <div>
        <h3>{{ t.on === "chair" ? "Sits on the chair" : "Scrapes the ground" }}</h3>
        <p>
          {{ t.name }}: its {{ t.edge }} comes {{ show(t.mm) }} too low
          {{ t.on === "chair" ? "behind you; the chair pushes it up, or it breaks." : "for a flat floor." }}
        </p>
        <div class="do">
          <button
            v-for="c in t.trims"
            :key="c.edge"
            class="press main"
            @click="emit('trim', { piece: c.piece, edge: c.edge, mm: c.mm })">
            Take {{ show(c.mm) }} off the {{ c.edge }} of {{ c.name }}
          </button>
          <p v-if="!t.trims.length" class="soft">
            No cut along one edge ends it: hang it on straps, or part it behind so that it folds.
          </p>
        </div>
      </div>
    </section>
    <p v-if="found.data.value?.joint === joint && !telling.length && !stands.length" class="words good">
      {{ binds.length ? "Nothing meets at this joint, as far as it turns." : "No armour crosses this joint." }}
    </p>
    <p v-else-if="free" class="soft">{{ free }} more pairs stay free.</p>
    <p class="soft small">{{ found.data.value?.leaves_out }}</p>
    <p v-if="figure.missing.length" class="soft small">
      Not measured, so not looked at: {{ figure.missing.join(", ") }}.
    </p>
  </div>
</template>

<style scoped>
.side {
  display: grid;
  flex: 1 1 330px;
  grid-template-columns: minmax(0, 1fr);
  gap: 12px;
  align-content: start;
  min-width: min(300px, 100%);
}

.postures {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}

.list {
  display: grid;
  gap: 8px;
  padding: 14px 18px;
}

/* A sheet of its own: what moves here is drawn without the words round it. */
.slide {
  display: grid;
  contain: paint;
  will-change: transform;
  grid-template-columns: minmax(0, 9.5em) minmax(0, 1fr) 3em;
  gap: 10px;
  align-items: center;
}

.slide input {
  min-width: 0;
  min-height: 36px;
  accent-color: var(--verdigris);
}

.slide b {
  text-align: right;
}

.binds,
.touches {
  border-color: var(--oxide);
  background: var(--oxide-pale);
}

.reaches,
.good {
  border-color: var(--verdigris);
  background: var(--verdigris-pale);
}

.do {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
  margin-top: 8px;
}
</style>
