<script setup lang="ts">
import { computed, ref } from "vue";
import { useHere } from "@/api/queries";
import LengthField from "@/parts/LengthField.vue";
import { useUnit } from "@/parts/units";
import FacingSheet from "./FacingSheet.vue";
import { CLOSED_BY, useRigWork, type Rig } from "./useRig";
import type { Schemas } from "@/api/client";

/** Seams that open instead of being glued: what closes each, from where to where, and what that takes. */
const props = defineProps<{ rig: Rig }>();
const { piece } = useHere();
const { show, say } = useUnit();
const work = useRigWork(piece);
type Row = Schemas["OpeningRow-Input"];
const rows = computed(() => (piece.value?.design.rig.openings ?? []) as Row[]);
const made = (row: Row) => props.rig.openings.find((o) => o.line === row.line);
const free = computed(() => props.rig.seams.filter((s) => !rows.value.some((r) => r.line === s.line)));
const picked = ref("");
const next = computed(() => (free.value.find((s) => s.line === picked.value) ?? free.value[0])?.line ?? "");
const add = () => {
  const line = next.value;
  if (line) work.rows("openings", (now) => [...now, { line, kind: "hook-and-loop", low: 0, high: null }]);
};
const change = (at: number, to: Partial<Row>) =>
  work.rows("openings", (now) => now.map((r, n) => (n === at ? { ...r, ...to } : r)));
const remove = (at: number) => work.rows("openings", (now) => now.filter((_, n) => n !== at));
/** The seam's drawing is as wide for a short seam as for a long one. */
const WIDE = 600;
const bar = (row: Row) => {
  const o = made(row)!;
  const k = WIDE / o.length;
  return { low: o.low * k, high: o.high * k, at: o.at.map((x) => x * k) };
};
</script>

<template>
  <div class="rows">
    <p v-if="rig.no_seams" class="words">{{ rig.no_seams }}</p>
    <p v-else-if="!rows.length" class="words">
      Any seam can open instead of being glued, all along or in part: the piece goes on through it. Choose the seam;
      what closes it, and where its holes sit, is marked on the panels.
    </p>
    <section v-for="(row, i) in rows" :key="row.line" class="sheet card" :data-opening="row.line">
      <template v-if="made(row)">
        <h3>
          {{ made(row)!.name }}
          <span class="soft">{{ CLOSED_BY[row.kind ?? "hook-and-loop"] }}, {{ made(row)!.hides }}</span>
        </h3>
        <svg :viewBox="`-4 0 ${WIDE + 8} 64`" class="section" role="img" :aria-label="made(row)!.words">
          <rect class="foam" x="0" y="4" :width="WIDE" height="25" rx="3" />
          <rect class="foam" x="0" y="35" :width="WIDE" height="25" rx="3" />
          <rect class="glued" x="0" y="28" :width="bar(row).low" height="8" />
          <rect class="glued" :x="bar(row).high" y="28" :width="WIDE - bar(row).high" height="8" />
          <line class="slit" :x1="bar(row).low" :x2="bar(row).high" y1="32" y2="32" />
          <g v-for="(x, k) in bar(row).at" :key="k">
            <circle :cx="x" cy="18" r="4.5" />
            <circle :cx="x" cy="46" r="4.5" />
          </g>
        </svg>
        <p class="figures">
          Opens {{ show(made(row)!.high - made(row)!.low) }} of {{ show(made(row)!.length) }}, from
          {{ show(made(row)!.low) }} to {{ show(made(row)!.high) }} above its lower end.
        </p>
        <ul class="plain-list figures">
          <li v-for="p in made(row)!.parts" :key="p.name">
            <b>{{ p.count }} ×</b> {{ say(p.name) }}<template v-if="p.length">, {{ show(p.length) }}</template>
          </li>
        </ul>
        <div class="fields">
          <label class="field"
            ><span class="word">Closed by</span>
            <select
              class="press"
              :name="`opening-kind-${i}`"
              :value="row.kind"
              @change="change(i, { kind: ($event.target as HTMLSelectElement).value as Row['kind'] })">
              <option v-for="(word, key) in CLOSED_BY" :key="key" :value="key">{{ word }}</option>
            </select>
          </label>
          <LengthField
            word="From its lower end"
            :name="`opening-low-${i}`"
            :value="made(row)!.low"
            @change="change(i, { low: ($event || 0) as unknown as number })" />
          <LengthField
            word="Up to"
            :name="`opening-high-${i}`"
            :value="made(row)!.high"
            hint="Empty: up to its upper end"
            @change="change(i, { high: ($event || null) as unknown as number })" />
          <button class="press small" @click="remove(i)">Glue it again</button>
        </div>
        <p v-for="a in made(row)!.advice" :key="a" class="soft">{{ say(a) }}</p>
      </template>
      <p v-else-if="rig.seams.some((s) => s.line === row.line)" class="soft">Working it out …</p>
      <template v-else>
        <h3>A seam that is not in the ink any more</h3>
        <button class="press small" @click="remove(i)">Take away</button>
      </template>
    </section>
    <section v-if="free.length" class="sheet card add">
      <label class="field"
        ><span class="word">Which seam opens?</span>
        <select
          class="press"
          name="opening-line"
          :value="next"
          @change="picked = ($event.target as HTMLSelectElement).value">
          <option v-for="s in free" :key="s.line" :value="s.line">{{ s.name }}, {{ show(s.length) }}</option>
        </select>
      </label>
      <button class="press main" @click="add()">Open this seam</button>
    </section>
    <FacingSheet :rig="rig" />
  </div>
</template>

<style scoped src="./rows.css"></style>

<style scoped>
.glued {
  fill: #c98a1b;
}

.slit {
  stroke: #2f7f79;
  stroke-width: 2;
  stroke-dasharray: 6 4;
}

circle {
  fill: #fbf8f1;
}
</style>
