<script setup lang="ts">
import { computed } from "vue";

/**
 * One sheet lying flat, outer face up, cut across at its edge and drawn to scale: what stays dark, what is taken off
 * hatched.
 */
const props = defineProps<{
  foam: number;
  shape: "square" | "rounded" | "angled" | "thinned";
  angle?: number;
  face?: string;
  width?: number;
  left?: number;
  label?: string;
}>();
const REACH = 24;
const line = (points: [number, number][]) => points.map(([x, y]) => `${x.toFixed(2)},${(-y).toFixed(2)}`).join(" ");
/** The corner that is cut away, x to the edge at 0, y out from the inner face. */
const off = computed<[number, number][]>(() => {
  const t = props.foam;
  const inner = props.face !== "outer";
  if (props.shape === "angled") {
    const back = Math.min(t * Math.tan(((props.angle ?? 0) * Math.PI) / 180), REACH - 2);
    return inner
      ? [
          [0, t],
          [0, 0],
          [-back, 0],
        ]
      : [
          [0, 0],
          [0, t],
          [-back, t],
        ];
  }
  if (props.shape === "thinned") {
    const back = Math.min(props.width ?? 0, REACH - 2);
    const left = Math.min(props.left ?? t, t);
    return inner
      ? [
          [0, t - left],
          [0, 0],
          [-back, 0],
        ]
      : [
          [0, left],
          [0, t],
          [-back, t],
        ];
  }
  return [];
});
const round = computed(() => (props.shape === "rounded" ? Math.min(props.foam / 2, 4) : 0));
const solid = computed(() => {
  const [t, r] = [props.foam, round.value];
  return `M${-REACH} 0V${-t}H${-r}${r ? `Q0 ${-t} 0 ${-t + r}` : ""}V${-r}${r ? `Q0 0 ${-r} 0` : ""}Z`;
});
const mask = `cut${Math.random().toString(36).slice(2)}`;
</script>

<template>
  <svg
    :viewBox="`${-REACH - 1} ${-foam - 4} ${REACH + 5} ${foam + 8}`"
    class="edge"
    role="img"
    :aria-label="label ?? `Section of the edge: ${shape}`">
    <defs>
      <pattern :id="mask" width="1.6" height="1.6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
        <rect width="0.5" height="1.6" class="hatch" />
      </pattern>
    </defs>
    <path :d="solid" class="foam" />
    <template v-if="off.length">
      <polygon :points="line(off)" class="gone" />
      <polygon :points="line(off)" :style="{ fill: `url(#${mask})` }" />
      <line :x1="off[0][0]" :y1="-off[0][1]" :x2="off[2][0]" :y2="-off[2][1]" class="blade" />
    </template>
    <text :x="-REACH" :y="-foam - 1">outer</text>
    <text :x="-REACH" y="3.4">inner</text>
  </svg>
</template>

<style scoped>
.edge {
  display: block;
  width: 100%;
  max-height: 92px;
}

.foam {
  fill: var(--foam);
}

.gone {
  fill: var(--sheet);
}

.hatch {
  fill: var(--oxide);
}

.blade {
  stroke: var(--oxide);
  stroke-width: 0.6;
}

text {
  fill: var(--graphite-soft);
  font: 2.6px var(--sans);
}
</style>
