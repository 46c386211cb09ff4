<script setup lang="ts">
import { computed } from "vue";
import type { Schemas } from "@/api/client";
import { minutes, typed, useUnit } from "@/parts/units";
import type { Bend } from "./useFoam";

/** How tightly each panel bends, what its face must give, and what to do instead with its cost. */
const props = defineProps<{ bends: Bend[]; sides: boolean; rowOf: (panel: number) => Schemas["PanelWork-Input"] }>();
const emit = defineEmits<{ panel: [panel: number, row: Partial<Schemas["PanelWork-Input"]>] }>();
const { show, bare, say, unit } = useUnit();
const WAYS: Record<Bend["way"], string> = {
  cold: "cold",
  warm: "warm",
  past: "warm, past the curve",
  kerf: "kerfs",
  laminate: "thin layers, glued bent",
};
const LIMITS = [3, 10, 20];
/** Those that ask most come first. */
const sorted = computed(() => [...props.bends].sort((a, b) => b.strain - a.strain));
const set = (b: Bend, change: Partial<Schemas["PanelWork-Input"]>) => emit("panel", b.panel, change);
function choose(b: Bend, way: string) {
  set(b, { bend: way === "" ? null : (way as Bend["way"]) });
}
function take(b: Bend, instead: Schemas["Instead"]) {
  if (instead.bend === "kerf") set(b, { bend: "kerf" });
  else set(b, { layers: instead.layers as Schemas["Layer-Input"][], bend: null });
}
const cost = (i: Schemas["Instead"]) =>
  [
    i.foam > 0.0005 ? `${i.foam.toFixed(2)} m² foam more` : "",
    Math.abs(i.grams) >= 1 ? `${Math.abs(i.grams).toFixed(0)} g ${i.grams > 0 ? "heavier" : "lighter"}` : "",
    i.cement >= 1 ? `${i.cement.toFixed(0)} ml cement` : "",
    i.minutes >= 1 ? `${minutes(i.minutes)} more work` : "",
    i.money !== null ? `${i.money >= 0 ? "" : "−"}${Math.abs(i.money).toFixed(2)} by your prices` : "",
  ]
    .filter(Boolean)
    .join(", ");
const radius = (r: number) =>
  Math.abs(r) > 2000 ? "flat" : `${show(Math.round(Math.abs(r)))}${r < 0 ? ", hollow" : ""}`;
/** The sheet bent round its tightest curve, to scale, a quarter turn of it at most. */
function arc(b: Bend) {
  const r = Math.abs(b.tightest);
  const [inner, outer] = [Math.max(r - b.foam / 2, 0.5), r + b.foam / 2];
  const half = Math.min(Math.PI / 2.2, 34 / outer);
  const at = (radius: number, a: number) =>
    `${(radius * Math.sin(a)).toFixed(2)} ${(r - radius * Math.cos(a)).toFixed(2)}`;
  const over = `M${at(outer, -half)}A${outer} ${outer} 0 0 1 ${at(outer, half)}`;
  return `${over}L${at(inner, half)}A${inner} ${inner} 0 0 0 ${at(inner, -half)}Z`;
}
</script>

<template>
  <ul class="cards" :class="{ alone: sorted.length === 1 }" style="--card: 350px">
    <li v-for="b in sorted" :key="`${b.side} ${b.panel}`" class="sheet" :data-panel="b.panel">
      <div class="head">
        <h3>
          Panel {{ b.panel }}<span v-if="sides" class="soft">, {{ b.side }}</span>
        </h3>
        <svg viewBox="-38 -14 76 44" role="img" :aria-label="`Bent round ${radius(b.tightest)}`">
          <path :d="arc(b)" />
        </svg>
      </div>
      <div
        class="bar"
        :class="b.advised"
        role="img"
        :aria-label="`Its outer face gives ${b.strain.toFixed(1)} per cent`">
        <i :style="{ width: `${Math.min(100, b.strain * 4)}%` }" />
        <u v-for="l in LIMITS" :key="l" :style="{ left: `${l * 4}%` }"
          ><span class="small">{{ l }} %</span></u
        >
      </div>
      <p class="figures line">
        <b>{{ b.strain.toFixed(1) }} %</b
        ><span class="soft"
          >tightest {{ radius(b.tightest) }}; round {{ radius(b.across) }}, up {{ radius(b.along) }}</span
        >
      </p>
      <p>{{ say(b.words) }} {{ say(b.aid) }}</p>
      <p v-if="b.layers.length > 1" class="soft figures">
        {{ b.layers.map((l) => show(l.thickness)).join(" + ") }}: over the bend the outer layer is
        {{ show(b.slip) }} longer than the inner.
      </p>
      <div class="give">
        <label class="field"
          ><span class="word">Bend it</span>
          <select
            class="press"
            :name="`bend-${b.panel}`"
            :value="rowOf(b.panel).bend ?? ''"
            @change="choose(b, ($event.target as HTMLSelectElement).value)">
            <option value="">as advised: {{ WAYS[b.advised] }}</option>
            <option v-for="(word, way) in WAYS" :key="way" :value="way">{{ word }}</option>
          </select>
        </label>
        <template v-if="b.kerfs">
          <label class="field"
            ><span class="word">Kerf, deep</span
            ><input
              v-says="bare(b.kerfs.depth)"
              class="press figures"
              @change="set(b, { kerf_depth: typed(($event.target as HTMLInputElement).value, unit) || null })"
          /></label>
          <label class="field"
            ><span class="word">about wide</span
            ><input
              v-says="bare(Number(rowOf(b.panel).kerf_width ?? 2))"
              class="press figures"
              @change="set(b, { kerf_width: typed(($event.target as HTMLInputElement).value, unit) })"
          /></label>
        </template>
        <button v-if="rowOf(b.panel).layers?.length" class="press" @click="set(b, { layers: [] })">
          The piece's own sheet again
        </button>
      </div>
      <p v-if="b.kerfs" class="figures">{{ say(b.kerfs.words) }}</p>
      <template v-if="b.instead.length && !b.kerfs">
        <h4>What else, and what it costs</h4>
        <div v-for="i in b.instead" :key="i.key" class="instead">
          <p>
            {{ say(i.words) }}
            <span class="figures">Then its face gives {{ i.strain.toFixed(1) }} %.</span>
            <span class="soft figures">{{ cost(i) }}</span>
          </p>
          <button class="press" :data-take="i.key" @click="take(b, i)">Take it</button>
        </div>
      </template>
    </li>
  </ul>
</template>

<style scoped>
.head {
  display: flex;
  justify-content: space-between;
  align-items: end;
}

.head svg {
  width: 150px;
  height: 74px;
}

path {
  fill: var(--foam);
}

/* One panel alone uses the page: its bend is drawn large beside what is said of it. */
.alone > li {
  max-width: 980px;
  padding: 22px 28px;
  font-size: 18px;
}

.alone .head svg {
  flex: 1;
  height: 220px;
}

.bar {
  position: relative;
  height: 14px;
  margin-bottom: 20px;
  background: var(--vellum);
}

.bar i {
  display: block;
  height: 100%;
  background: var(--verdigris);
}

.bar.warm i {
  background: var(--ochre-fill);
}

.bar.past i {
  background: var(--plum);
}

.bar.laminate i,
.bar.kerf i {
  background: var(--oxide);
}

.bar u {
  position: absolute;
  top: -2px;
  bottom: -2px;
  border-left: 1.5px solid var(--graphite);
}

.bar u span {
  position: absolute;
  top: 18px;
  transform: translateX(-50%);
  white-space: nowrap;
}

.line {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
  align-items: baseline;
}

.line b {
  font-size: 22px;
}

h4 {
  margin: 6px 0 0;
  font: 700 16px var(--slab);
}

.instead {
  display: flex;
  gap: 12px;
  align-items: center;
  justify-content: space-between;
  padding-top: 8px;
  border-top: 1px solid var(--sheet-line);
}

.instead .press {
  flex: none;
}
</style>
