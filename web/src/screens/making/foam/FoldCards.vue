<script setup lang="ts">
import { computed } from "vue";
import type { Schemas } from "@/api/client";
import { typed, useUnit } from "@/parts/units";
import GrooveSection from "./GrooveSection.vue";
import { typedNumber, type Fold } from "./useFoam";

/** Every fold and score line: how it is worked, how deep and wide, from which face, and why. */
const props = defineProps<{ folds: Fold[]; sides: boolean }>();
const emit = defineEmits<{ fold: [key: string, usual: Fold["way"], row: Partial<Schemas["FoldWork-Input"]>] }>();
const { show, bare, say, unit } = useUnit();
const WAYS: Record<Fold["way"], string> = {
  groove: "V-groove",
  crease: "crease by heat",
  "opened score": "score, opened by heat",
  "late score": "score after forming",
  "set back": "strip set back",
  drum: "ground with a drum",
};
/** One row for each stroke: its mirror image is worked the same. */
const rows = computed(() => props.folds.filter((f, n) => props.folds.findIndex((o) => o.key === f.key) === n));
const set = (f: Fold, change: Partial<Schemas["FoldWork-Input"]>) => emit("fold", f.key, f.way, change);
function number(f: Fold, field: HTMLInputElement, key: "angle" | "count") {
  const wanted = typedNumber(field.value);
  if (key === "angle") set(f, { angle: wanted });
  else if (wanted !== null && wanted >= 0) set(f, { count: Math.round(wanted) });
}
const long = (f: Fold, field: HTMLInputElement, key: "depth" | "overcut" | "step" | "drum" | "width" | "gauge") =>
  set(f, { [key]: field.value.trim() === "" ? null : typed(field.value, unit.value) });
const LENGTHS: Partial<Record<Fold["way"], ["overcut" | "drum" | "width" | "gauge", string][]>> = {
  groove: [["overcut", "Over-cut and fill"]],
  drum: [["drum", "Drum, across"]],
  "set back": [
    ["width", "Strip, wide"],
    ["gauge", "Sheet as gauge"],
  ],
};
const deep = (f: Fold) => ["groove", "opened score", "late score", "drum"].includes(f.way);
const turns = (f: Fold) => ["groove", "crease", "drum"].includes(f.way);
</script>

<template>
  <ul class="cards" style="--card: 400px">
    <li v-for="f in rows" :key="`${f.side} ${f.key}`" class="sheet" :data-fold="f.name">
      <h3>
        {{ f.name }}<span class="soft">, panel {{ f.panel }}{{ sides ? `, ${f.side}` : "" }}</span>
      </h3>
      <GrooveSection :fold="f" />
      <p class="figures line">
        <template v-if="f.depth"
          ><b>{{ show(f.depth) }} deep</b><b v-if="f.width">{{ show(f.width) }} wide</b
          ><span class="soft">{{ f.face }} face, {{ show(f.hinge) }} left</span></template
        >
        <b v-else>no cut</b>
        <span v-if="turns(f)" class="soft">{{ Math.abs(f.angle).toFixed(0) }}° {{ f.angle_from }}</span>
      </p>
      <div class="give">
        <label class="field"
          ><span class="word">Way</span>
          <select
            class="press"
            :name="`way-${f.name}`"
            :value="f.way"
            @change="set(f, { way: ($event.target as HTMLSelectElement).value as Fold['way'] })">
            <option v-for="(word, way) in WAYS" :key="way" :value="way">{{ word }}</option>
          </select>
        </label>
        <label v-if="turns(f)" class="field"
          ><span class="word">Folds by, °</span>
          <input
            v-says="f.work.angle ?? ''"
            class="press figures"
            inputmode="decimal"
            :name="`fold-angle-${f.name}`"
            :placeholder="Math.abs(f.armour_folds) >= 8 ? f.armour_folds.toFixed(0) : '30'"
            @change="number(f, $event.target as HTMLInputElement, 'angle')" />
        </label>
        <label v-if="deep(f)" class="field"
          ><span class="word">Deep</span>
          <input
            v-says="f.work.depth === null ? '' : bare(f.work.depth)"
            class="press figures"
            :name="`depth-${f.name}`"
            :placeholder="bare(f.depth)"
            @change="long(f, $event.target as HTMLInputElement, 'depth')" />
        </label>
        <label v-for="[key, word] in LENGTHS[f.way] ?? []" :key="key" class="field"
          ><span class="word">{{ word }}</span>
          <input
            v-says="bare(f.work[key])"
            class="press figures"
            :name="`${key}-${f.name}`"
            @change="long(f, $event.target as HTMLInputElement, key)" />
        </label>
        <label class="field"
          ><span class="word">Lines more beside it</span>
          <input
            v-says="f.work.count"
            class="press figures"
            inputmode="numeric"
            :name="`count-${f.name}`"
            @change="number(f, $event.target as HTMLInputElement, 'count')" />
        </label>
        <label v-if="f.work.count" class="field"
          ><span class="word">Step between</span>
          <input
            v-says="bare(f.work.step)"
            class="press figures"
            :name="`step-${f.name}`"
            @change="long(f, $event.target as HTMLInputElement, 'step')" />
        </label>
        <button
          v-if="f.way === 'groove'"
          class="press"
          @click="set(f, { walls: f.walls === 'one upright' ? 'two sloping' : 'one upright' })">
          {{ f.walls === "one upright" ? "one wall upright" : "two sloping walls" }}
        </button>
      </div>
      <p v-for="w in f.findings" :key="w.message" class="words" :class="{ stop: w.level === 'stop' }">
        <span
          ><b>{{ say(w.message) }}</b> {{ say(w.advice) }}</span
        >
      </p>
      <p>{{ say(f.how) }}</p>
      <p class="soft">{{ say(f.why) }}</p>
    </li>
  </ul>
</template>

<style scoped>
.line {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
  align-items: baseline;
}

.line b {
  font-size: 20px;
}
</style>
