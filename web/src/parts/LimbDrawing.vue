<script setup lang="ts">
import { computed } from "vue";
import type { Schemas } from "@/api/client";

/** How a limb is measured: its outline from the readings, a tape round each station. */
const props = defineProps<{
  stations: readonly Schemas["StationOut"][];
  girths: Record<string, number | undefined>;
  ats: Record<string, number | undefined>;
  at?: string;
}>();
const emit = defineEmits<{ pick: [station: string] }>();
const WIDTH = 150;
const HEIGHT = 190;

const rows = computed(() =>
  props.stations.map((s) => ({
    name: s.name,
    how: s.how,
    at: props.ats[s.name] ?? s.at,
    girth: props.girths[s.name] ?? (s.girth[0] + s.girth[1]) / 2,
    known: props.girths[s.name] !== undefined,
  })),
);
const drawn = computed(() => {
  const last = rows.value[rows.value.length - 1].at || 1;
  const widest = Math.max(...rows.value.map((r) => r.girth));
  return rows.value.map((r) => ({
    ...r,
    y: HEIGHT - 22 - (r.at / last) * (HEIGHT - 44),
    half: (r.girth / widest) * 38,
  }));
});
const outline = computed(() => {
  const d = drawn.value;
  const mid = WIDTH / 2 - 22;
  const side = (sign: number) => d.map((r) => `${mid + sign * r.half},${r.y}`);
  const [a, b, c] = side(1);
  const [e, f, g] = side(-1).reverse();
  const curve = (p: string, q: string, r: string) => `M${p}Q${control(p, q, r)} ${r}`;
  return `${curve(a, b, c)}L${e}${curve(e, f, g).replace(/^M[^Q]*/, "")}Z`;
});

/** Control point that makes a quadratic curve pass through q half way. */
function control(p: string, q: string, r: string): string {
  const [P, Q, R] = [p, q, r].map((s) => s.split(",").map(Number));
  return [0, 1].map((k) => 2 * Q[k] - (P[k] + R[k]) / 2).join(",");
}
</script>

<template>
  <svg :viewBox="`0 0 ${WIDTH} ${HEIGHT}`" role="group" aria-label="Where to measure">
    <path class="limb" :d="outline" />
    <g
      v-for="r in drawn"
      :key="r.name"
      class="tape"
      :class="{ at: at === r.name, guess: !r.known }"
      @click="emit('pick', r.name)">
      <ellipse :cx="WIDTH / 2 - 22" :cy="r.y" :rx="r.half + 3" ry="5" />
      <text :x="WIDTH / 2 - 22 + r.half + 8" :y="r.y + 4">{{ r.name }}</text>
      <title>{{ r.how }}</title>
    </g>
  </svg>
</template>

<style scoped>
svg {
  width: 150px;
  height: 190px;
}

.limb {
  fill: color-mix(in srgb, var(--tape) 22%, var(--sheet));
  stroke: var(--graphite);
  stroke-width: 1.6;
  stroke-linejoin: round;
}

ellipse {
  fill: none;
  stroke: var(--verdigris);
  stroke-width: 2.4;
}

.guess ellipse {
  stroke: var(--ochre-fill);
  stroke-dasharray: 4 3;
}

.at ellipse {
  stroke: var(--oxide);
  stroke-width: 4;
}

text {
  fill: var(--graphite);
  font: 12px var(--sans);
}

.tape {
  cursor: pointer;
}
</style>
