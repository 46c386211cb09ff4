<script setup lang="ts">
import { useResizeObserver } from "@vueuse/core";
import { computed, ref, watchPostEffect } from "vue";
import type { Flat, Schemas } from "@/api/client";
import { cutPath, extent, path } from "./flatPaths";
import { colorTable } from "./strainBands";
import { paintSheets } from "./strainPaint";

/** A small picture of a flat panel with its strain. */
const props = defineProps<{ flat: Flat; give: Schemas["AllowanceOut"]; lines?: number[][][] }>();
const ground = ref<HTMLCanvasElement>();
const size = ref(0);
const box = computed(() => {
  const e = extent(props.flat);
  return [e.left - 8, -e.high - 8, e.right - e.left + 16, e.high - e.low + 16] as [number, number, number, number];
});
const colors = computed(() => colorTable(props.give));
const cut = computed(() => cutPath(props.flat));
useResizeObserver(ground, ([entry]) => (size.value = entry.contentRect.width));
watchPostEffect(() => {
  if (ground.value && size.value)
    paintSheets(
      ground.value,
      [{ panel: props.flat, x: 0, y: 0, outline: cut.value }],
      { box: box.value, zoom: { x: 0, y: 0, k: 1 } },
      colors.value,
    );
});
</script>

<template>
  <div class="picture">
    <canvas ref="ground" aria-hidden="true" />
    <svg :viewBox="box.join(' ')" aria-hidden="true">
      <path :d="cut" />
      <path v-for="(l, i) in lines ?? []" :key="i" class="new" :d="path(l)" />
    </svg>
  </div>
</template>

<style scoped>
.picture {
  position: relative;
  height: var(--picture, 190px);
}

canvas,
svg {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
}

path {
  fill: none;
  stroke: #2e2c2a;
  stroke-width: 1.6;
}

.new {
  stroke: var(--oxide);
  stroke-width: 5;
}
</style>
