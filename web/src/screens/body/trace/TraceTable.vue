<script setup lang="ts">
import { select } from "d3-selection";
import { zoom, zoomIdentity, type D3ZoomEvent } from "d3-zoom";
import { computed, onMounted, ref, watch } from "vue";
import { useUnit } from "@/parts/units";
import { KINDS, type Shape, type Trace } from "./useTraces";

/** The photograph seen from above, at scale, with every outline that was found; corners are taken hold of here. */
export type Tool = "look" | "corner" | "cut" | "ruler" | "piece" | "floor";
const props = defineProps<{
  trace: Trace;
  chosen: number;
  edge: number;
  tool: Tool;
  busy: boolean;
}>();
const emit = defineEmits<{
  choose: [number: number, edge: number];
  move: [at: [number, number], to: [number, number]];
  corner: [at: [number, number]];
  cut: [from: [number, number], to: [number, number]];
  rub: [points: [number, number][], wide: number];
}>();
const { show } = useUnit();
const svg = ref<SVGSVGElement>();
const picture = ref({ width: 0, height: 0 });
const view = ref(zoomIdentity);
const src = computed(() => `/api/traces/${props.trace.id}/picture?at=${props.trace.taken_at}&s=${props.trace.square}`);
function loaded(image: HTMLImageElement) {
  picture.value = { width: image.naturalWidth, height: image.naturalHeight };
}
watch(
  src,
  (now) => {
    const image = new Image();
    image.onload = () => loaded(image);
    image.src = now;
  },
  { immediate: true },
);
const per = computed(() => props.trace.above.mm_per_pixel);
const corner = computed(() => props.trace.above.corner);
const size = computed(() => ({ width: picture.value.width * per.value, height: picture.value.height * per.value }));
/** What the maker wants to see: all cards and pieces, not the whole floor. */
const box = computed(() => {
  const xs = props.trace.shapes
    .flatMap((s) => s.outline.map((p) => p[0]))
    .concat(props.trace.cards.map((c) => c.at[0]));
  const ys = props.trace.shapes
    .flatMap((s) => s.outline.map((p) => -p[1]))
    .concat(props.trace.cards.map((c) => c.at[1]));
  const [left, right] = [Math.min(...xs) - 60, Math.max(...xs) + 60];
  const [top, bottom] = [Math.min(...ys) - 60, Math.max(...ys) + 60];
  return { x: left, y: top, width: right - left, height: bottom - top };
});
const line = (points: readonly (readonly number[])[], closed = false) =>
  `M${points.map((p) => `${p[0].toFixed(2)},${(-p[1]).toFixed(2)}`).join("L")}${closed ? "Z" : ""}`;
const starts = (s: Shape) => [...new Set([...(s.corners ?? []), ...(s.darts ?? [])])].sort((a, b) => a - b);
function edges(s: Shape) {
  const at = starts(s);
  return (at.length ? at : [0]).map((from, k, all) => {
    const to = all[(k + 1) % all.length];
    const last = to > from ? to : to + s.outline.length;
    return Array.from({ length: last - from + 1 }, (_, i) => s.outline[(from + i) % s.outline.length]);
  });
}
const mine = computed(() => props.trace.shapes.find((s) => s.number === props.chosen));
const found = computed(() => props.trace.found.find((f) => f.number === props.chosen));
const middle = (s: Shape) => [
  s.outline.reduce((t, p) => t + p[0], 0) / s.outline.length,
  -s.outline.reduce((t, p) => t + p[1], 0) / s.outline.length,
];
/** A number never hides a small piece. */
const numeral = (s: Shape) => {
  const xs = s.outline.map((p) => p[0]);
  return Math.min(dot.value * 9, (Math.max(...xs) - Math.min(...xs)) * 0.3);
};
/** mm on the ground under the hand, y up. */
function placeOf(event: MouseEvent): [number, number] {
  const m = svg.value!.querySelector<SVGGElement>("g.table")!.getScreenCTM()!.inverse();
  const p = new DOMPoint(event.clientX, event.clientY).matrixTransform(m);
  return [p.x, -p.y];
}
const held = ref<{ at: [number, number]; to: [number, number] } | null>(null);
const drawn = ref<{ from: [number, number]; to: [number, number] } | null>(null);
/** Where a finger rubs; it stays to be seen until the outline has followed. */
const rubbed = ref<[number, number][]>([]);
const rubs = computed(() => props.tool === "piece" || props.tool === "floor");
const wide = computed(() => Math.min(30, dot.value * 2.2));
const MOST_POINTS = 400;
watch(
  () => props.tool,
  () => ((drawn.value = null), (rubbed.value = [])),
);
watch(
  () => props.busy,
  (busy) => busy || (rubbed.value = []),
);
function down(event: PointerEvent) {
  if (event.button) return;
  const at = placeOf(event);
  const grip = (event.target as SVGElement).dataset.corner;
  if (props.tool === "look" && grip !== undefined && mine.value) {
    held.value = { at: [...mine.value.outline[Number(grip)]] as [number, number], to: at };
  } else if (rubs.value && !props.busy) rubbed.value = [at];
  else if (props.tool === "ruler" || props.tool === "cut") drawn.value = { from: at, to: at };
  else return;
  svg.value!.setPointerCapture(event.pointerId);
  event.stopPropagation();
}
function move(event: PointerEvent) {
  if (held.value) held.value = { ...held.value, to: placeOf(event) };
  else if (drawn.value && event.buttons) drawn.value = { ...drawn.value, to: placeOf(event) };
  else if (rubs.value && rubbed.value.length && event.buttons && !props.busy) {
    const [at, last] = [placeOf(event), rubbed.value[rubbed.value.length - 1]];
    if (Math.hypot(at[0] - last[0], at[1] - last[1]) > wide.value / 4 && rubbed.value.length < MOST_POINTS)
      rubbed.value = [...rubbed.value, at];
  }
}
function up() {
  if (held.value) {
    if (Math.hypot(held.value.to[0] - held.value.at[0], held.value.to[1] - held.value.at[1]) > 0.3)
      emit("move", held.value.at, held.value.to);
    held.value = null;
  }
  if (rubs.value && rubbed.value.length && !props.busy) emit("rub", rubbed.value, wide.value);
  if (drawn.value && props.tool === "cut") {
    if (long.value > 5) emit("cut", drawn.value.from, drawn.value.to);
    drawn.value = null;
  }
}
function click(event: MouseEvent) {
  const at = placeOf(event);
  if (props.tool === "corner") emit("corner", at);
  else if (props.tool === "look") {
    const data = (event.target as SVGElement).dataset;
    if (data.shape) emit("choose", Number(data.shape), data.edge ? Number(data.edge) : -1);
  }
}
const long = computed(() =>
  drawn.value ? Math.hypot(drawn.value.to[0] - drawn.value.from[0], drawn.value.to[1] - drawn.value.from[1]) : 0,
);
const behaviour = zoom<SVGSVGElement, unknown>()
  .filter(
    (event: MouseEvent) =>
      event.type === "wheel" || (props.tool === "look" && !(event.target as SVGElement).dataset.corner),
  )
  .scaleExtent([0.8, 16])
  .on("zoom", (event: D3ZoomEvent<SVGSVGElement, unknown>) => (view.value = event.transform));
onMounted(() => svg.value && select(svg.value).call(behaviour).on("dblclick.zoom", null));
watch(
  () => props.trace.id,
  () => svg.value && select(svg.value).call(behaviour.transform, zoomIdentity),
);
const dot = computed(() => Math.max(1.2, box.value.width / 170) / view.value.k);
</script>

<template>
  <svg
    ref="svg"
    class="ground"
    :class="tool"
    :viewBox="`${box.x} ${box.y} ${box.width} ${box.height}`"
    role="application"
    aria-label="The photograph from above"
    @pointerdown.capture="down"
    @pointermove="move"
    @pointerup="up"
    @click="click">
    <g class="table" :transform="view.toString()">
      <image
        v-if="picture.width"
        :href="src"
        :x="corner[0]"
        :y="corner[1]"
        :width="size.width"
        :height="size.height"
        preserveAspectRatio="none" />
      <g v-for="c in trace.cards" :key="c.number" class="card">
        <circle :cx="c.at[0]" :cy="c.at[1]" :r="dot * 3.4" />
        <text :x="c.at[0]" :y="c.at[1]" :font-size="dot * 4.6" :dy="dot * 1.6">{{ c.number }}</text>
      </g>
      <g v-for="s in trace.shapes" :key="s.number" class="shape" :class="{ chosen: s.number === chosen }">
        <path class="area" :d="line(s.outline, true)" :data-shape="s.number" />
        <path v-for="(h, k) in s.holes ?? []" :key="`h${k}`" class="rim" :d="line(h, true)" />
        <path
          v-for="(l, k) in s.lines ?? []"
          :key="`l${k}`"
          class="stroke"
          :d="line(l.points)"
          :style="{ stroke: `var(${KINDS[l.kind ?? 'mark'].colour})` }" />
        <path
          v-for="(e, k) in edges(s)"
          :key="`e${k}`"
          class="rim"
          :class="{ picked: s.number === chosen && k === edge }"
          :d="line(e)"
          :data-shape="s.number"
          :data-edge="k" />
        <text class="number" :x="middle(s)[0]" :y="middle(s)[1]" :font-size="numeral(s)">{{ s.number }}</text>
      </g>
      <template v-if="mine">
        <path
          v-for="(u, k) in found?.unsure ?? []"
          :key="`u${k}`"
          class="unsure"
          :d="`M${u.map((p) => p.join(',')).join('L')}`" />
        <circle
          v-for="k in starts(mine)"
          :key="k"
          class="grip"
          :class="{ tip: mine.darts?.includes(k) }"
          :cx="
            held && held.at[0] === mine.outline[k][0] && held.at[1] === mine.outline[k][1]
              ? held.to[0]
              : mine.outline[k][0]
          "
          :cy="
            held && held.at[0] === mine.outline[k][0] && held.at[1] === mine.outline[k][1]
              ? -held.to[1]
              : -mine.outline[k][1]
          "
          :r="Math.min(dot * 2, numeral(mine) * 0.22)"
          :data-corner="k" />
      </template>
      <path
        v-if="rubbed.length"
        class="rubbed"
        :class="{ waits: busy }"
        :d="line([...rubbed, rubbed[rubbed.length - 1]])"
        :stroke-width="wide" />
      <g v-if="drawn" class="drawn">
        <path :d="line([drawn.from, drawn.to])" />
        <text
          :x="(drawn.from[0] + drawn.to[0]) / 2"
          :y="-(drawn.from[1] + drawn.to[1]) / 2 - dot * 4"
          :font-size="dot * 8">
          {{ show(long) }}
        </text>
      </g>
    </g>
  </svg>
</template>

<style scoped>
.ground {
  flex: 1 1 auto;
  min-height: 320px;
  width: 100%;
  background: var(--foam);
  touch-action: none;
  user-select: none;
  cursor: grab;
}

.ground.corner,
.ground.cut,
.ground.ruler,
.ground.piece,
.ground.floor {
  cursor: crosshair;
}

path {
  vector-effect: non-scaling-stroke;
}

.area {
  fill: transparent;
  cursor: pointer;
}

.shape:not(.chosen) .area:hover,
.chosen .area {
  fill: color-mix(in srgb, var(--verdigris) 14%, transparent);
}

.rim {
  fill: none;
  stroke: #f6f1e6;
  stroke-width: 2.5;
  paint-order: stroke;
  filter: drop-shadow(0 0 1px #12211f);
  cursor: pointer;
}

.chosen .rim {
  stroke: #57d3c6;
  stroke-width: 3;
}

.rim.picked {
  stroke: #ffd470;
  stroke-width: 5;
}

.stroke {
  fill: none;
  stroke-width: 2;
  stroke-dasharray: 5 3;
  pointer-events: none;
}

.unsure {
  fill: none;
  stroke: #ffb020;
  stroke-width: 7;
  opacity: 0.75;
  pointer-events: none;
}

.grip {
  fill: #fbf8f1;
  stroke: #1f5a56;
  stroke-width: 2;
  vector-effect: non-scaling-stroke;
  cursor: move;
}

.grip.tip {
  fill: #f09a86;
}

.rubbed {
  fill: none;
  stroke-linecap: round;
  stroke-linejoin: round;
  vector-effect: none;
  opacity: 0.6;
  pointer-events: none;
}

.piece .rubbed {
  stroke: #57d3c6;
}

.floor .rubbed {
  stroke: #f09a86;
}

.rubbed.waits {
  opacity: 0.35;
}

text {
  font-family: var(--sans);
  font-weight: 700;
  text-anchor: middle;
  pointer-events: none;
  fill: #fbf8f1;
  stroke: #1c1a18;
  stroke-width: 3px;
  paint-order: stroke;
  vector-effect: non-scaling-stroke;
}

.card circle {
  fill: rgb(251 248 241 / 88%);
}

.card text {
  fill: #2e2c2a;
  stroke: none;
}

.drawn path {
  fill: none;
  stroke: #ffd470;
  stroke-width: 3;
}
</style>
