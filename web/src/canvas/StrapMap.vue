<script setup lang="ts">
import { computed } from "vue";
import type { Panel, Schemas } from "@/api/client";
import { useUnit } from "@/parts/units";

/** The back of the piece, to scale: both closing edges, the opening, and where each strap or eyelet goes. */
const props = defineProps<{ plan: Schemas["RigPlan"]; panel: Panel; opening: number }>();
const { show } = useUnit();
const length = computed(() => props.panel.edges.find((e) => e.name === "closing edge A")!.on_body);
const HALF = 74;
const gap = computed(() => Math.min(props.opening, 110));
const width = computed(() => 2 * HALF + gap.value);
const parts = computed(() => props.plan.parts.filter((p) => p.at.length));
const isEyelet = (name: string) => name.startsWith("eyelet");
const isStrap = (p: Schemas["StrapPart"]) =>
  p.length > 0 && !p.name.startsWith("webbing ends") && !p.name.startsWith("webbing, buckle");
const y = (at: number) => length.value - at;
</script>

<template>
  <svg
    class="sheet"
    :viewBox="`-14 -26 ${width + 90} ${length + 40}`"
    role="img"
    aria-label="Where the straps go, seen from the back">
    <rect class="foam" x="0" y="0" :width="HALF" :height="length" />
    <rect class="foam" :x="HALF + gap" y="0" :width="HALF" :height="length" />
    <template v-for="p in parts" :key="p.name">
      <template v-if="isEyelet(p.name)">
        <template v-for="(a, i) in p.at" :key="a">
          <circle class="eyelet" :cx="HALF - 12" :cy="y(a)" r="4" />
          <circle class="eyelet" :cx="HALF + gap + 12" :cy="y(a)" r="4" />
          <path
            v-if="i < p.at.length - 1"
            class="lace"
            :d="`M${HALF - 12} ${y(a)}L${HALF + gap + 12} ${y(p.at[i + 1])}M${HALF + gap + 12} ${y(a)}L${HALF - 12} ${y(p.at[i + 1])}`" />
        </template>
      </template>
      <template v-else-if="isStrap(p)">
        <g v-for="a in p.at" :key="a">
          <rect class="strap" x="14" :y="y(a) - 11" :width="HALF * 2 + gap - 28" height="22" />
          <path class="stitch" :d="`M20 ${y(a) - 7}h40v14h-40zM${HALF + gap + 14} ${y(a) - 7}h40v14h-40z`" />
          <text :x="width + 6" :y="y(a) + 5">{{ show(a) }}</text>
        </g>
      </template>
    </template>
    <text class="edge" :x="HALF / 2" y="-7">A</text>
    <text class="edge" :x="HALF * 1.5 + gap" y="-7">B</text>
  </svg>
</template>

<style scoped>
svg {
  width: 214px;
  max-height: 380px;
}

.foam {
  fill: #4a5058;
}

.strap {
  fill: #b99250;
  stroke: #2e2c2a;
}

.stitch {
  fill: none;
  stroke: #fbf8f1;
  stroke-width: 1.4;
  stroke-dasharray: 4 3;
}

.eyelet {
  fill: #fbf8f1;
  stroke: #b99250;
  stroke-width: 2.4;
}

.lace {
  fill: none;
  stroke: #d9b779;
  stroke-width: 2.4;
}

text {
  fill: var(--graphite);
  font: 14px var(--sans);
}

.edge {
  font: 700 18px var(--slab);
  text-anchor: middle;
}
</style>
