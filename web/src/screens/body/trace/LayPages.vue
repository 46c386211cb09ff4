<script setup lang="ts">
import { computed, ref, watch } from "vue";
import type { Schemas } from "@/api/client";

/** Pages of a stranger's pattern, laid together by touching the same place on two of them. */
const props = defineProps<{ pages: Schemas["PatternPagesOut"]["pages"]; name: string }>();
const emit = defineEmits<{ laid: [places: string]; apart: []; leave: [] }>();
type Point = [number, number];

const GAP = 40;
const ACROSS = 3;
const start = () => {
  const size = props.pages[0]?.size ?? [210, 297];
  return props.pages.map((_, k): Point => [(k % ACROSS) * (size[0] + GAP), -Math.floor(k / ACROSS) * (size[1] + GAP)]);
};
const places = ref<Point[]>(start());
/** Which pages hang together: the number of each one's group. */
const group = ref(props.pages.map((_, k) => k));
const first = ref<{ page: number; at: Point } | null>(null);
const before = ref<{ places: Point[]; group: number[] }[]>([]);
watch(
  () => props.pages,
  () => ((places.value = start()), (group.value = props.pages.map((_, k) => k)), (first.value = null)),
);
const whole = computed(() => new Set(group.value).size === 1);
const low = computed<Point>(() => [
  Math.min(...places.value.map((p) => p[0])) - 10,
  Math.min(...places.value.map((p) => p[1])) - 10,
]);
const high = computed<Point>(() => [
  Math.max(...places.value.map((p, k) => p[0] + props.pages[k].size[0])) + 10,
  Math.max(...places.value.map((p, k) => p[1] + props.pages[k].size[1])) + 10,
]);
const box = computed(
  () => `${low.value[0]} ${-high.value[1]} ${high.value[0] - low.value[0]} ${high.value[1] - low.value[1]}`,
);
const line = (points: number[][]) => points.map(([x, y]) => `${x},${-y}`).join(" ");

/** The end or corner of a line of that page that is nearest to where it was touched. */
function nearest(page: number, at: Point): Point {
  let best: Point = at;
  let far = Infinity;
  for (const row of props.pages[page].lines)
    for (const [x, y] of row) {
      const d = Math.hypot(x - at[0], y - at[1]);
      if (d < far) [best, far] = [[x, y], d];
    }
  return best;
}

const board = ref<SVGSVGElement | null>(null);
function touch(event: MouseEvent, page: number) {
  const matrix = board.value?.getScreenCTM()?.inverse();
  if (!matrix) return;
  const p = new DOMPoint(event.clientX, event.clientY).matrixTransform(matrix);
  const at = nearest(page, [p.x - places.value[page][0], -p.y - places.value[page][1]]);
  if (!first.value || group.value[first.value.page] === group.value[page]) {
    first.value = { page, at };
    return;
  }
  before.value.push({ places: places.value, group: group.value });
  const there = places.value[first.value.page];
  const by = [0, 1].map((j) => there[j] + first.value!.at[j] - places.value[page][j] - at[j]);
  const [mine, other] = [group.value[page], group.value[first.value.page]];
  places.value = places.value.map((q, k) => (group.value[k] === mine ? [q[0] + by[0], q[1] + by[1]] : q));
  group.value = group.value.map((g) => (g === mine ? other : g));
  first.value = null;
}
function back() {
  const was = before.value.pop();
  if (was) ({ places: places.value, group: group.value } = was);
  first.value = null;
}
const done = () => emit("laid", places.value.map((p) => `${p[0].toFixed(3)},${p[1].toFixed(3)}`).join(";"));
</script>

<template>
  <section class="lay" aria-label="Lay the pages together">
    <h3>How do the pages of {{ name }} belong together?</h3>
    <p class="words">
      <span v-if="whole">They lie together. If the lines run on from page to page, bring it in.</span>
      <span v-else-if="first">Now touch the same place on the page that joins it.</span>
      <span v-else>Touch a place that two pages show, a cross or a corner of a line, first on one of them.</span>
    </p>
    <p class="row">
      <button class="press main" :disabled="!whole" @click="done">Bring it in</button>
      <button class="press" :disabled="!before.length" @click="back">Take the last one back</button>
      <button class="press" @click="emit('apart')">Each page is a pattern of its own</button>
      <button class="press" @click="emit('leave')">Leave it</button>
    </p>
    <svg ref="board" :viewBox="box" class="board">
      <g v-for="(page, k) in pages" :key="k" :transform="`translate(${places[k][0]} ${-places[k][1]})`">
        <rect
          class="paper"
          :class="{ held: first?.page === k }"
          :y="-page.size[1]"
          :width="page.size[0]"
          :height="page.size[1]"
          :data-page="k + 1"
          @click="touch($event, k)" />
        <polyline v-for="(row, j) in page.lines" :key="j" class="drawn" :points="line(row)" />
        <text class="figures" x="8" :y="-page.size[1] + 26">{{ k + 1 }}</text>
        <circle v-if="first?.page === k" class="spot" :cx="first.at[0]" :cy="-first.at[1]" r="5" />
      </g>
    </svg>
  </section>
</template>

<style scoped>
.lay {
  display: grid;
  gap: 10px;
}

.board {
  width: 100%;
  height: min(62vh, 640px);
  border: 1px solid var(--sheet-line);
  background: var(--board, var(--sheet));
}

.paper {
  fill: var(--paper, #fff);
  fill-opacity: 0.75;
  stroke: var(--sheet-line);
  stroke-width: 1;
  cursor: crosshair;
}

.paper.held {
  stroke: var(--oxide);
  stroke-width: 3;
}

.drawn {
  fill: none;
  stroke: var(--graphite);
  stroke-width: 1.4;
  pointer-events: none;
}

.spot {
  fill: none;
  stroke: var(--oxide);
  stroke-width: 2.5;
  pointer-events: none;
}

text {
  font-size: 22px;
  fill: var(--oxide);
  pointer-events: none;
}

.row {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
</style>
