<script setup lang="ts">
import { computed } from "vue";

/** Two edges as they stand when glued, cut across and drawn to scale; the outside of the armour is up. Degrees and mm. */
const props = defineProps<{ fold: number; bevel: number; foam: number }>();
const REACH = 22;
const rad = (degrees: number) => (degrees * Math.PI) / 180;

/** The left sheet before it is turned: its full-size face on y = 0, its edge at x = 0; y goes up. */
const sheet = computed(() => {
  const down = props.fold > 0 ? -props.foam : props.foam;
  const back = props.foam * Math.tan(rad(props.bevel));
  return [
    [-REACH, 0],
    [0, 0],
    [-back, down],
    [-REACH, down],
  ] as [number, number][];
});
/** Bevelled edges turn about the corner of their full-size faces; square ones about the corners that touch. */
const pivot = computed(() => (props.bevel ? 0 : props.fold > 0 ? -props.foam : props.foam));
const half = (mirror: 1 | -1) =>
  sheet.value.map(([x, y]) => {
    const [sine, cosine] = [Math.sin(rad(props.fold / 2)), Math.cos(rad(props.fold / 2))];
    const up = y - pivot.value;
    return [mirror * (x * cosine - up * sine), -(x * sine + up * cosine)] as const;
  });
const drawn = (points: (readonly [number, number])[]) => points.map((p) => p.map((c) => c.toFixed(2)).join()).join(" ");
/** One scale for all folds: as wide as a flat joint, and as high as this one. */
const box = computed(() => {
  const heights = half(1).map(([, y]) => y);
  const top = Math.min(...heights) - 1;
  return `${-REACH - 1} ${top} ${2 * REACH + 2} ${Math.max(...heights) - top + 1}`;
});
</script>

<template>
  <svg
    :viewBox="box"
    class="section"
    role="img"
    :aria-label="`Section: fold ${fold.toFixed(0)}°, each edge ${bevel.toFixed(0)}° off square`">
    <polygon :points="drawn(half(1))" />
    <polygon :points="drawn(half(-1))" />
  </svg>
</template>

<style scoped>
.section {
  display: block;
  width: 100%;
  max-height: 130px;
  margin: 8px 0;
}

polygon {
  fill: var(--foam);
  stroke: var(--sheet);
  stroke-width: 0.5;
}
</style>
