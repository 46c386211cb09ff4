<script setup lang="ts">
import { computed } from "vue";
import type { Fold } from "./useFoam";

/**
 * A fold line cut across, to scale, outer face up: the sheet flat with what is cut out, and beside it as it stands
 * folded.
 */
const props = defineProps<{ fold: Fold }>();
const REACH = 20;
const rad = (degrees: number) => (degrees * Math.PI) / 180;
const inner = computed(() => props.fold.face === "inner");
/** y of the cut face and of the bottom of the cut, mm out from the inner face. */
const open = computed(() => (inner.value ? 0 : props.fold.foam));
const deep = computed(() => (inner.value ? props.fold.depth : props.fold.foam - props.fold.depth));
const left = computed(() => Math.min(props.fold.reach[0], REACH - 2));
const right = computed(() => Math.min(props.fold.reach[1], REACH - 2));
const way = computed(() => props.fold.way);
/** How far down the halves reach, with room for the sheet itself. */
const low = computed(() => REACH * Math.sin(rad(Math.min(90, Math.abs(props.fold.angle)) / 2)) + props.fold.foam);
const box = computed(() => {
  const over = props.fold.foam + 3;
  const [top, height] = props.fold.angle > 0 ? [-over, over + low.value] : [-low.value - 3, low.value + 3 + over];
  return `${-REACH - 1} ${top} ${2 * REACH + 2} ${height}`;
});
const gone = computed(() => {
  const [a, b] = [-left.value, right.value];
  if (way.value === "crease") return "";
  if (way.value === "groove") return `M${a} ${-open.value}L0 ${-deep.value}L${b} ${-open.value}Z`;
  if (way.value === "drum") {
    const r = props.fold.work.drum / 2;
    return `M${a} ${-open.value}A${r} ${r} 0 0 ${inner.value ? 1 : 0} ${b} ${-open.value}Z`;
  }
  if (way.value === "set back") return `M${a} ${-open.value}V${-deep.value}H${b}V${-open.value}Z`;
  return `M-0.3 ${-open.value}L0 ${-deep.value}L0.3 ${-open.value}Z`;
});
const folds = computed(() => ["groove", "crease", "drum"].includes(way.value));
/** Both halves turned about the bottom of the cut; a groove's walls then touch. */
const halves = computed(() => {
  const half = rad(props.fold.angle / 2);
  const t = props.fold.foam;
  const y0 = way.value === "crease" ? (props.fold.angle > 0 ? 0 : t) : deep.value;
  const upright = way.value === "groove" && props.fold.walls === "one upright";
  return ([-1, 1] as const).map((side) => {
    const cut = folds.value && way.value !== "crease" ? (side < 0 ? left.value : right.value) : 0;
    const far = inner.value ? t : 0;
    const points: [number, number][] = [
      [side * REACH, 0],
      [side * REACH, t],
      [0, far],
      [0, y0],
      [side * cut, open.value],
    ];
    const turn = upright ? (side < 0 ? 0 : 2 * half) : half;
    return points
      .map(([x, y]) => {
        const up = y - y0;
        const a = side < 0 ? turn : -turn;
        const [sine, cosine] = [Math.sin(a), Math.cos(a)];
        return `${(x * cosine - up * sine).toFixed(2)},${(-(x * sine + up * cosine)).toFixed(2)}`;
      })
      .join(" ");
  });
});
</script>

<template>
  <div class="pictures">
    <svg
      :viewBox="`${-REACH - 1} ${-fold.foam - 4} ${2 * REACH + 2} ${fold.foam + 8}`"
      role="img"
      aria-label="Lying flat">
      <rect :x="-REACH" :y="-fold.foam" :width="2 * REACH" :height="fold.foam" class="foam" />
      <path v-if="gone" :d="gone" class="gone" />
      <line v-else x1="0" :y1="-fold.foam - 2" x2="0" y2="2" class="blade" />
      <text :x="-REACH" :y="-fold.foam - 1">outer</text>
      <text :x="-REACH" y="3.4">inner</text>
    </svg>
    <svg v-if="folds" :viewBox="box" role="img" aria-label="Folded shut">
      <polygon v-for="h in halves" :key="h" :points="h" class="foam shut" />
    </svg>
  </div>
</template>

<style scoped>
.pictures {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 12px;
  align-items: center;
}

svg {
  width: 100%;
  max-height: 150px;
}

.foam {
  fill: var(--foam);
}

.shut {
  stroke: var(--sheet);
  stroke-width: 0.3;
}

.gone {
  fill: var(--sheet);
  stroke: var(--oxide);
  stroke-width: 0.5;
}

.blade {
  stroke: var(--oxide);
  stroke-width: 0.6;
  stroke-dasharray: 1.5 1;
}

text {
  fill: var(--graphite-soft);
  font: 2.6px var(--sans);
}
</style>
