<script setup lang="ts">
import type { useLaying } from "./useLaying";

/** Where panels were laid down, each with the arrow that is turned to where up is. */
const props = defineProps<{ laying: ReturnType<typeof useLaying> }>();
const { arrows, heldAt } = props.laying;
</script>

<template>
  <g v-for="a in arrows" :key="a.lie.panel" class="arrow">
    <line :x1="a.from[0]" :y1="-a.from[1]" :x2="a.to[0]" :y2="-a.to[1]" />
    <circle class="foot" r="5" :cx="a.from[0]" :cy="-a.from[1]" />
    <g
      class="head"
      role="slider"
      :aria-label="`Which way is up on panel ${a.lie.panel}`"
      :aria-valuenow="a.lie.up"
      :transform="`translate(${a.to[0]} ${-a.to[1]})`"
      @pointerdown="(laying.grasp(a.lie), ($event.currentTarget as Element).setPointerCapture($event.pointerId))"
      @pointermove="laying.swing(a.lie, $event)"
      @pointerup="laying.letGo">
      <circle r="13" />
      <text dy="4">up</text>
    </g>
  </g>
  <circle v-if="heldAt" class="held" r="8" :cx="heldAt[0]" :cy="-heldAt[1]" />
</template>

<style scoped>
line {
  stroke: var(--ochre-fill);
  stroke-width: 4;
}

circle {
  fill: var(--ochre-fill);
}

.head {
  cursor: grab;
  touch-action: none;
}

.head text {
  fill: var(--graphite);
  font: 700 11px var(--sans);
  text-anchor: middle;
  pointer-events: none;
}
</style>
