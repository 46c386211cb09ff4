<script setup lang="ts">
import { select } from "d3-selection";
import { zoom, zoomIdentity, type D3ZoomEvent } from "d3-zoom";
import { useResizeObserver } from "@vueuse/core";
import { computed, onMounted, ref, watch, watchPostEffect, type Ref } from "vue";
import type { Flat, Panel, Pattern } from "@/api/client";
import { useUnit } from "@/parts/units";
import DartMarks from "./DartMarks.vue";
import InsideLines from "./InsideLines.vue";
import { cutPath, extent, path } from "./flatPaths";
import { TEXT, corner, placeLabel, type Standing } from "./labels";
import { bodyAt, colorTable, edgeAway, nearestOnBody, nearestOnEdge, strainAt } from "./strainBands";
import { paintSheets } from "./strainPaint";

/**
 * The panels on the table like cut paper: outline, darts, ticks, centre line, label, and what the foam must give.
 * tried comes as a ref, so that what moves under the hand paints this table and not the screen round it.
 */
const props = defineProps<{
  pattern: Pattern;
  strain: boolean;
  chosen: string;
  tried: Ref<{ code: string; flat: Flat | null; trouble: string } | null>;
  darting: boolean;
  pointed?: { panel: number; place: readonly number[] } | null;
}>();
const emit = defineEmits<{
  choose: [code: string];
  near: [panel: Panel];
  begin: [panel: Panel, mouth: [number, number]];
  tip: [panel: Panel, key: string, to: [number, number]];
  drop: [];
  point: [place: [number, number] | null];
}>();
const { show, say } = useUnit();
const svg = ref<SVGSVGElement>();
const ground = ref<HTMLCanvasElement>();
const size = ref({ width: 0, height: 0 });
const at = ref<{ x: number; y: number; words: string } | null>(null);
const view = ref(zoomIdentity);
const EDGE = 14;
/** Room for the words at the hand, px. */
const POINTER = 160;
/** A panel that is being tried shows as it would lie; its middle stays where it was. */
const laid = computed(() =>
  props.pattern.panels.map((panel) => {
    const own = extent(panel);
    const moving = props.tried.value?.code === panel.label.code;
    const flat: Flat = (moving && props.tried.value?.flat) || panel;
    const size = extent(flat);
    const x = panel.place[0] + (own.left + own.right - size.left - size.right) / 2;
    const y = panel.place[1] + (own.low + own.high - size.low - size.high) / 2;
    return { panel: flat, label: panel.label, piece: panel, size, outline: cutPath(flat), x, y: -y, moving };
  }),
);
const box = computed(() => {
  const beside = laid.value.some((l) => l.panel.darts.length) ? 60 : 20;
  const left = Math.min(...laid.value.map((l) => l.x + l.size.left)) - EDGE - beside;
  const right = Math.max(...laid.value.map((l) => l.x + l.size.right)) + EDGE + beside;
  const top = Math.min(...laid.value.map((l) => l.y - l.size.high)) - EDGE;
  const low = Math.max(...laid.value.map((l) => l.y - l.size.low)) + EDGE + 14;
  return [left, top, right - left, low - top] as [number, number, number, number];
});

/** Where a place of the body lies on a flat panel: the vertex nearest to it. */
function onPanel(l: (typeof laid.value)[number]): readonly number[] | null {
  if (props.pointed?.panel !== l.piece.number) return null;
  const [u, v] = props.pointed.place;
  const mirrored = l.piece.twin && !l.panel.uv.some(([a]) => Math.abs(((a - u + 1.5) % 1) - 0.5) < 0.03);
  const away = l.panel.uv.map(([a, b]) => Math.hypot(Math.abs(((a - (mirrored ? -u : u) + 2.5) % 1) - 0.5) * 3, b - v));
  return l.panel.vertices[away.indexOf(Math.min(...away))];
}

function middle(points: readonly (readonly number[])[]): readonly number[] {
  return points[Math.floor(points.length / 2)];
}

const LEAST_TEXT = 12;
const fit = computed(
  () => Math.min(size.value.width / box.value[2], size.value.height / box.value[3]) * view.value.k || 1,
);
/** How much larger than drawn in mm words must be, to be read at arm's length. */
const grown = computed(() => Math.max(1, LEAST_TEXT / TEXT / fit.value));
/** Where each label stands; while a panel moves, its label moves no more than it must. */
const stood = new Map<string, Standing>();
const labels = computed(() =>
  laid.value.map((l) => {
    const placed = placeLabel(l.panel, grown.value, fit.value, l.moving ? stood.get(l.label.code)?.at : undefined);
    stood.set(l.label.code, placed);
    return { ...placed, at: placed.whole ? corner(placed) : placed.at };
  }),
);

const words = (x: number, y: number) => `translate(${x} ${y}) scale(${grown.value})`;

function local(event: PointerEvent, target: SVGGraphicsElement): [number, number] {
  const p = new DOMPoint(event.clientX, event.clientY).matrixTransform(target.getScreenCTM()!.inverse());
  return [p.x, -p.y];
}

let held: { key: string; panel: Panel } | null = null;
let hand = [0, 0];
/** The number beside the hand moves when the panel does: a screen painted for it alone would be painted twice. */
watch(
  () => props.tried.value,
  (tried) => {
    const was = props.pattern.panels.find((p) => p.label.code === tried?.code);
    const words = tried?.trouble
      ? say(tried.trouble)
      : `${tried?.flat?.p95.toFixed(1)} %, was ${was?.p95.toFixed(1)} %`;
    at.value = held && tried ? { x: hand[0] + 8, y: hand[1] - 48, words } : null;
  },
);
function press(event: PointerEvent, l: (typeof laid.value)[number]) {
  emit("choose", l.label.code);
  const key = (event.target as SVGElement).dataset.dart;
  const target = event.currentTarget as SVGGraphicsElement;
  if (key) held = { key, panel: l.piece };
  else if (props.darting) {
    held = { key: "", panel: l.piece };
    emit("begin", l.piece, nearestOnEdge(l.panel, local(event, target)));
  } else return;
  event.stopPropagation();
  target.setPointerCapture(event.pointerId);
}

/** A dart may be begun beside the panel too: its nearest edge is meant. */
const BESIDE = 40;
function pressBeside(event: PointerEvent) {
  if (!props.darting || held) return;
  const [x, y] = local(event, svg.value!.firstElementChild as SVGGElement);
  const away = laid.value
    .map((l) => ({ l, at: [x - l.x, y + l.y] as [number, number] }))
    .map((a) => ({ ...a, far: edgeAway(a.l.panel, a.at) }));
  const { l, at, far } = away.reduce((a, b) => (b.far < a.far ? b : a));
  if (far * fit.value > BESIDE) return;
  held = { key: "", panel: l.piece };
  emit("choose", l.label.code);
  emit("begin", l.piece, nearestOnEdge(l.panel, at));
  svg.value!.querySelector(`[data-panel="${l.label.code}"]`)!.setPointerCapture(event.pointerId);
}

function release() {
  if (held) emit("drop");
  held = null;
}

const behaviour = zoom<SVGSVGElement, unknown>()
  .filter((event: MouseEvent) => !held && !props.darting && !event.button && !(event.target as SVGElement).dataset.dart)
  .scaleExtent([0.6, 12])
  .on("zoom", (event: D3ZoomEvent<SVGSVGElement, unknown>) => (view.value = event.transform));
onMounted(() => svg.value && select(svg.value).call(behaviour));
watch([() => props.pattern.panels.length, () => props.pattern.name], reset);
useResizeObserver(
  ground,
  ([entry]) => (size.value = { width: entry.contentRect.width, height: entry.contentRect.height }),
);
const colors = computed(() => colorTable(props.pattern.allowance));
watchPostEffect(() => {
  if (ground.value && size.value.width)
    paintSheets(ground.value, laid.value, { box: box.value, zoom: view.value }, props.strain ? colors.value : null);
});
function reset() {
  if (svg.value) select(svg.value).call(behaviour.transform, zoomIdentity);
}

function point(event: PointerEvent, l: (typeof laid.value)[number]) {
  const p = local(event, event.currentTarget as SVGGraphicsElement);
  const frame = svg.value!.getBoundingClientRect();
  const [x, y] = [event.clientX - frame.left, event.clientY - frame.top];
  if (held) {
    // In a dart's gap there is no foam: its nearest edge counts, so a dart is shortened by drawing its tip back.
    emit("tip", held.panel, held.key, bodyAt(l.panel, p) ?? nearestOnBody(l.panel, p));
    hand = [x, y];
    return;
  }
  const strain = strainAt(l.panel, p);
  emit("point", bodyAt(l.panel, p));
  at.value =
    strain === null
      ? null
      : {
          x,
          y,
          words:
            Math.abs(strain) < 0.05
              ? "nothing to give"
              : `${strain > 0 ? "stretch" : "squeeze"} ${Math.abs(strain).toFixed(1)} %`,
        };
}
defineExpose({ reset });
</script>

<template>
  <div class="table">
    <canvas ref="ground" aria-hidden="true" />
    <svg
      ref="svg"
      :class="{ darting }"
      :viewBox="box.join(' ')"
      role="img"
      :aria-label="`${pattern.name}, ${laid.length} panels laid flat`"
      @pointerdown="pressBeside">
      <g :transform="view.toString()">
        <g
          v-for="(l, n) in laid"
          :key="l.label.code"
          class="panel"
          :class="{ chosen: laid.length > 1 && l.label.code === chosen }"
          :data-panel="l.label.code"
          :transform="`translate(${l.x} ${l.y})`"
          @pointerdown="press($event, l)"
          @pointerup="release"
          @pointermove="point($event, l)"
          @pointerleave="((at = null), emit('point', null))">
          <path class="cut" :d="l.outline" />
          <InsideLines :panel="l.panel" />
          <path v-for="(line, i) in l.panel.marks.flatMap((m) => m.lines)" :key="i" class="tick" :d="path(line)" />
          <template v-for="e in l.panel.edges" :key="e.name">
            <text
              v-if="e.name.startsWith('closing')"
              class="seam"
              :transform="
                words(
                  middle(e.points)[0] + grown * (middle(e.points)[0] > (l.size.left + l.size.right) / 2 ? 9 : -9),
                  -middle(e.points)[1],
                )
              ">
              {{ e.name.slice(-1) }}
            </text>
          </template>
          <template v-for="label in [labels[n]]" :key="String(label.whole)">
            <g class="label" :transform="`translate(${label.at[0]} ${-label.at[1]}) scale(${label.scale})`">
              <template v-if="label.whole">
                <path d="M-16 24V-16m-4 7 4-7 4 7" class="arrow" />
                <text class="code" x="-8" y="0">{{ l.label.code }}</text>
                <text x="-8" y="10">{{ l.piece.twin ? "cut 1 + 1 turned over" : l.label.lines[1] }}</text>
                <text x="-8" y="18.5">
                  {{ l.piece.face }} face · {{ show(Math.round(l.panel.outline_length)) }} of cut
                </text>
              </template>
              <text v-else class="code alone" y="5">{{ l.label.code }}</text>
            </g>
          </template>
          <DartMarks :darts="l.panel.darts" :grown="grown" :fit="fit" @near="emit('near', l.piece)" />
          <circle v-if="onPanel(l)" class="pointed" :cx="onPanel(l)![0]" :cy="-onPanel(l)![1]" r="7" />
          <g
            v-if="strain && l.panel.worst > 0.8"
            class="worst"
            :transform="`translate(${l.panel.worst_at[0]} ${-l.panel.worst_at[1]})`">
            <circle r="3.2" />
            <text :transform="words(5.5, 2.6)">{{ l.panel.worst.toFixed(1) }} %</text>
          </g>
        </g>
      </g>
    </svg>
    <span
      v-if="at"
      class="pointer figures"
      :class="{ stop: tried.value?.trouble }"
      role="status"
      :style="{ left: `${Math.min(at.x + 14, size.width - POINTER)}px`, top: `${at.y + 10}px` }"
      >{{ at.words }}</span
    >
  </div>
</template>

<style scoped>
.table {
  position: relative;
  flex: 1;
  min-height: 260px;
  contain: strict;
  will-change: transform;
  /* Opaque: what lies under it need not be painted again while a panel moves. */
  background: var(--vellum-deep);
}

canvas,
svg {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
}

svg {
  cursor: grab;
  touch-action: none;
}

.cut {
  fill: transparent;
  fill-rule: evenodd;
  stroke: #2e2c2a;
  stroke-width: 1.1;
  stroke-linejoin: round;
}

.night .cut {
  stroke: #120f0c;
}

.pointed {
  fill: var(--ochre-fill);
  fill-opacity: 0.85;
  stroke: var(--graphite);
  pointer-events: none;
}

.tick {
  stroke: #2e2c2a;
  stroke-width: 0.8;
}

text {
  fill: #2e2c2a;
  font: 6.6px var(--sans);
  user-select: none;
  pointer-events: none;
}

.seam {
  fill: var(--graphite-soft);
  font: 700 10px var(--slab);
  text-anchor: middle;
}

.code {
  font: 700 15px var(--slab);
}

.label text {
  paint-order: stroke;
  stroke: rgb(251 248 241 / 75%);
  stroke-width: 2px;
}

.alone {
  text-anchor: middle;
}

.arrow {
  fill: none;
  stroke: #2e2c2a;
  stroke-width: 1.1;
}

.chosen .cut {
  stroke: var(--verdigris);
  stroke-width: 2.4;
}

.darting {
  cursor: crosshair;
}

.worst,
.label {
  pointer-events: none;
}

.worst circle {
  fill: none;
  stroke: #2e2c2a;
  stroke-width: 1.1;
}

.worst text {
  font-weight: 700;
  paint-order: stroke;
  stroke: #fbf8f1;
  stroke-width: 2px;
}

.pointer {
  position: absolute;
  padding: 3px 9px;
  background: #3b3f45;
  color: #f6f1e6;
  border-radius: 3px;
  font-weight: 700;
  pointer-events: none;
  user-select: none;
  white-space: nowrap;
}

.pointer.stop {
  max-width: 260px;
  background: var(--oxide);
  white-space: normal;
}
</style>
