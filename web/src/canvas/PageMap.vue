<script setup lang="ts">
import type { Schemas } from "@/api/client";

/** Which page carries which part of the panel. */
const props = defineProps<{ plan: Schemas["PagePlanOut"] }>();
const overlap = 12;
const width = () => props.plan.columns * (props.plan.tile[0] - overlap) + overlap;
const height = () => props.plan.rows * (props.plan.tile[1] - overlap) + overlap;
const top = () => props.plan.origin[1] + height();
</script>

<template>
  <figure>
    <svg
      :viewBox="`-3 -3 ${width() + 6} ${height() + 6}`"
      :style="{ aspectRatio: `${width()} / ${height()}` }"
      role="img"
      :aria-label="`Page map of ${plan.code}`">
      <g :transform="`translate(${-plan.origin[0]} ${top()}) scale(1 -1)`">
        <rect
          v-for="t in plan.tiles"
          :key="t.name"
          class="page"
          :x="t.x"
          :y="t.y"
          :width="plan.tile[0]"
          :height="plan.tile[1]" />
        <path class="outline" :d="`M${plan.outline.map((p) => p.join(',')).join('L')}Z`" />
      </g>
      <text v-for="t in plan.tiles" :key="t.name" :x="t.x - plan.origin[0] + 8" :y="top() - t.y - plan.tile[1] + 26">
        {{ t.name }}
      </text>
    </svg>
    <figcaption>
      <b>{{ plan.code }}</b> · {{ plan.tiles.length === 1 ? "one page" : `${plan.tiles.length} pages` }},
      {{ plan.columns }} across, {{ plan.rows }} down
    </figcaption>
  </figure>
</template>

<style scoped>
figure {
  margin: 0;
}

svg {
  max-width: 100%;
  height: 320px;
}

.page {
  fill: #fff;
  stroke: var(--tape-deep);
  stroke-width: 1.4;
  fill-opacity: 0.7;
}

.outline {
  fill: rgb(217 183 121 / 30%);
  stroke: #2e2c2a;
  stroke-width: 1.8;
}

text {
  fill: #5f5a52;
  font: 700 20px var(--slab);
}
</style>
