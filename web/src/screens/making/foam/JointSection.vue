<script setup lang="ts">
import { computed } from "vue";

/**
 * Two edges as they stand when glued, cut across and drawn to scale; the outside of the armour is up. Degrees and mm.
 * Of each side: its foam, its bevel, and the face that this is taken off.
 */
type Side = { foam: number; bevel: number; taken_off: string };
const props = defineProps<{ fold: number; sides: [Side, Side] }>();
const REACH = 22;
const rad = (degrees: number) => (degrees * Math.PI) / 180;

/** A sheet before it is turned: x to its edge, where the inner faces meet at 0; y out from the inner face. */
function sheet(side: Side) {
  const lean = Math.tan(rad(side.bevel)) * (side.taken_off === "inner" ? 1 : -1);
  return [
    [-REACH, 0],
    [0, 0],
    [side.foam * lean, side.foam],
    [-REACH, side.foam],
  ] as [number, number][];
}
/** Square edges that fold to a valley touch with their outer corners; all others with their inner ones. */
function half(n: 0 | 1) {
  const side = props.sides[n];
  const pivot = side.bevel === 0 && props.fold < 0 ? side.foam : 0;
  const [sine, cosine] = [Math.sin(rad(props.fold / 2)), Math.cos(rad(props.fold / 2))];
  return sheet(side).map(([x, y]) => {
    const up = y - pivot;
    const across = (n ? -1 : 1) * (x * cosine - up * sine);
    return [across, -(x * sine + up * cosine)] as const;
  });
}
const drawn = (points: (readonly [number, number])[]) => points.map((p) => p.map((c) => c.toFixed(2)).join()).join(" ");
/** One scale for all folds: as wide as a flat joint, and as high as this one. */
const box = computed(() => {
  const heights = [...half(0), ...half(1)].map(([, y]) => y);
  const top = Math.min(...heights) - 1;
  return `${-REACH - 1} ${top} ${2 * REACH + 2} ${Math.max(...heights) - top + 1}`;
});
const words = computed(() => props.sides.map((s) => `${s.bevel.toFixed(0)}°`).join(" and "));
</script>

<template>
  <svg
    :viewBox="box"
    class="section"
    role="img"
    :aria-label="`Section: fold ${fold.toFixed(0)}°, edges ${words} off square`">
    <polygon :points="drawn(half(0))" />
    <polygon :points="drawn(half(1))" />
  </svg>
</template>

<style scoped>
.section {
  display: block;
  width: 100%;
  max-height: 120px;
}

polygon {
  fill: var(--foam);
  stroke: var(--sheet);
  stroke-width: 0.5;
}
</style>
