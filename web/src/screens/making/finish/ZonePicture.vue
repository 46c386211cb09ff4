<script setup lang="ts">
import { computed } from "vue";
import type { Finish } from "./useFinish";

/** The piece's outer faces with their zones, in the colours that they will have; touch zones to choose them. */
const props = defineProps<{ finish: Finish; chosen: readonly string[]; at: number; step: number }>();
const emit = defineEmits<{ pick: [zone: string] }>();
const GAP = 30;
/** Panels side by side, bottoms level. */
const laid = computed(() => {
  let x = 0;
  let high = 0;
  const panels = new Map<string, { left: number; low: number; x: number }>();
  const of = (z: Finish["zones"][number]) => `${z.side} ${z.panel}`;
  for (const key of [...new Set(props.finish.zones.map(of))]) {
    const points = props.finish.zones.filter((z) => of(z) === key).flatMap((z) => z.rings[0]);
    const xs = points.map((p) => p[0]);
    const ys = points.map((p) => p[1]);
    panels.set(key, { left: Math.min(...xs), low: Math.min(...ys), x });
    x += Math.max(...xs) - Math.min(...xs) + GAP;
    high = Math.max(high, Math.max(...ys) - Math.min(...ys));
  }
  const zones = props.finish.zones.map((z) => {
    const p = panels.get(of(z))!;
    const place = ([a, b]: readonly number[]) => [a - p.left + p.x, high - (b - p.low)];
    const rings = z.rings.map((r) => r.map(place));
    const centre = rings[0].reduce((s, q) => [s[0] + q[0] / rings[0].length, s[1] + q[1] / rings[0].length], [0, 0]);
    return {
      ...z,
      d: rings.map((r) => `M${r.map((q) => q.map((v) => v.toFixed(1)).join(",")).join("L")}Z`).join(""),
      centre,
    };
  });
  return { zones, box: `-14 -14 ${Math.max(60, x - GAP) + 28} ${high + 28}`, size: Math.max(x, high) };
});
/** The layer that is seen when the stack is built up so far. */
function look(zone: (typeof laid.value.zones)[number]) {
  const painted = props.finish.finishes[zone.finish];
  const coats = painted?.coats ?? [];
  const upTo = zone.finish === props.at && props.step ? Math.min(props.step, coats.length) : coats.length;
  const seen = coats.slice(0, upTo).filter((c) => !/clear|wash|scuff|stitches|dry brush|decal/.test(c.kind));
  return { colour: seen[seen.length - 1]?.colour ?? "#3b3f45", gloss: coats[upTo - 1]?.gloss ?? 0 };
}
</script>

<template>
  <svg class="zones" :viewBox="laid.box" role="group" aria-label="Zones of the piece">
    <defs>
      <linearGradient id="shine" x1="0" y1="0" x2="1" y2="1">
        <stop offset="0" stop-color="#fff" stop-opacity="0.75" />
        <stop offset="0.38" stop-color="#fff" stop-opacity="0.05" />
        <stop offset="0.55" stop-color="#fff" stop-opacity="0.5" />
        <stop offset="1" stop-color="#000" stop-opacity="0.25" />
      </linearGradient>
      <pattern id="bends" width="9" height="9" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
        <rect width="2" height="9" fill="#f6f1e6" fill-opacity="0.5" />
      </pattern>
    </defs>
    <g
      v-for="z in laid.zones"
      :key="z.side + z.name"
      role="button"
      tabindex="0"
      :aria-pressed="chosen.includes(z.name)"
      :aria-label="`Zone ${z.name}`"
      :data-zone="z.name"
      @click="emit('pick', z.name)"
      @keydown.enter="emit('pick', z.name)">
      <path :d="z.d" class="face" fill-rule="evenodd" :fill="look(z).colour" />
      <path v-if="look(z).gloss" :d="z.d" fill="url(#shine)" fill-rule="evenodd" :opacity="look(z).gloss / 3.4" />
      <path v-if="z.bends" :d="z.d" fill="url(#bends)" fill-rule="evenodd" />
      <path v-if="chosen.includes(z.name)" :d="z.d" class="chosen" :style="{ strokeWidth: laid.size / 110 }" />
      <text :x="z.centre[0]" :y="z.centre[1]" :font-size="Math.max(12, laid.size / 17)">{{ z.name }}</text>
    </g>
  </svg>
</template>

<style scoped>
.zones {
  width: 100%;
  max-height: 330px;
}

g[role="button"] {
  cursor: pointer;
}

.face {
  stroke: var(--graphite);
  stroke-width: 1;
}

.chosen {
  fill: none;
  stroke: var(--ochre-fill);
}

text {
  font-family: var(--slab);
  font-weight: 700;
  fill: #fff;
  stroke: #2e2c2a;
  stroke-width: 3;
  paint-order: stroke;
  text-anchor: middle;
  dominant-baseline: middle;
}
</style>
