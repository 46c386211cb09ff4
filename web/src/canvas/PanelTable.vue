<script setup lang="ts">
import { select } from "d3-selection";
import { zoom, zoomIdentity, type D3ZoomEvent } from "d3-zoom";
import { useResizeObserver } from "@vueuse/core";
import { computed, onMounted, ref, watch, watchPostEffect } from "vue";
import type { Panel, Pattern } from "@/api/client";
import { useUnit } from "@/parts/units";
import { scaleOf, strainAt } from "./strainBands";
import { paintSheets } from "./strainPaint";

/** The panels on the table like cut paper: outline, ticks, centre line, label, and what the foam must give. */
const props = defineProps<{ pattern: Pattern; strain: boolean }>();
const { show } = useUnit();
const svg = ref<SVGSVGElement>();
const ground = ref<HTMLCanvasElement>();
const size = ref(0);
const at = ref<{ x: number; y: number; words: string } | null>(null);
const view = ref(zoomIdentity);
const BETWEEN = 36;
const EDGE = 14;

const sized = computed(() =>
  props.pattern.panels.map((panel) => {
    const rim = outline(panel);
    const xs = rim.map((p) => p[0]);
    const ys = rim.map((p) => p[1]);
    return { panel, size: { left: Math.min(...xs), right: Math.max(...xs), low: Math.min(...ys), high: Math.max(...ys) }, outline: path(rim, true) };
  }),
);

/** Rows of ``columns`` panels; the first numbers lie lowest, as they do on the limb. */
function inRows(columns: number) {
  const rows = Array.from({ length: Math.ceil(sized.value.length / columns) }, (_, r) => sized.value.slice(r * columns, (r + 1) * columns)).reverse();
  let y = 0;
  let width = 0;
  const laid = rows.flatMap((row) => {
    let x = 0;
    const tall = Math.max(...row.map((l) => l.size.high - l.size.low));
    const out = row.map((l) => {
      const place = { ...l, x: x - l.size.left, y: y + (tall + l.size.high + l.size.low) / 2 };
      x += l.size.right - l.size.left + BETWEEN;
      return place;
    });
    y += tall + BETWEEN;
    width = Math.max(width, x - BETWEEN);
    return out;
  });
  return { laid, width, height: y - BETWEEN };
}

/** As many columns as let the panels be drawn largest. */
const table = computed(() => {
  const options = sized.value.map((_, i) => inRows(i + 1));
  return options.reduce((a, b) => (Math.max(b.width, b.height * 1.05) < Math.max(a.width, a.height * 1.05) ? b : a));
});
const laid = computed(() => table.value.laid);
const box = computed(() => [-EDGE - 20, -EDGE - 6, table.value.width + 2 * EDGE + 40, table.value.height + 2 * EDGE + 34] as [number, number, number, number]);

function outline(panel: Panel): [number, number][] {
  return panel.edges.flatMap((e) => e.points.slice(0, -1)) as [number, number][];
}

function path(points: readonly (readonly number[])[], close = false): string {
  return `M${points.map((p) => `${p[0]},${-p[1]}`).join("L")}${close ? "Z" : ""}`;
}

function middle(points: readonly (readonly number[])[]): readonly number[] {
  return points[Math.floor(points.length / 2)];
}

function labelPlace(l: (typeof laid.value)[number]) {
  return { x: (l.size.left + l.size.right) / 2, y: -(l.size.low + l.size.high) / 2 };
}

const behaviour = zoom<SVGSVGElement, unknown>()
  .scaleExtent([0.6, 12])
  .on("zoom", (event: D3ZoomEvent<SVGSVGElement, unknown>) => (view.value = event.transform));
onMounted(() => svg.value && select(svg.value).call(behaviour));
watch(() => props.pattern.panels.length, reset);
useResizeObserver(ground, ([entry]) => (size.value = entry.contentRect.width * 10_000 + entry.contentRect.height));
watchPostEffect(() => {
  if (ground.value && size.value) paintSheets(ground.value, laid.value, { box: box.value, zoom: view.value }, props.strain ? scaleOf(props.pattern.allowance) : null);
});
function reset() {
  if (svg.value) select(svg.value).call(behaviour.transform, zoomIdentity);
}

function point(event: PointerEvent, l: (typeof laid.value)[number]) {
  const target = event.currentTarget as SVGGraphicsElement;
  const local = new DOMPoint(event.clientX, event.clientY).matrixTransform(target.getScreenCTM()!.inverse());
  const strain = strainAt(l.panel, [local.x, -local.y]);
  const frame = svg.value!.getBoundingClientRect();
  at.value =
    strain === null ? null : { x: event.clientX - frame.left, y: event.clientY - frame.top, words: Math.abs(strain) < 0.05 ? "nothing to give" : `${strain > 0 ? "stretch" : "squeeze"} ${Math.abs(strain).toFixed(1)} %` };
}
defineExpose({ reset });
</script>

<template>
  <div class="table">
    <canvas ref="ground" aria-hidden="true" />
    <svg ref="svg" :viewBox="box.join(' ')" role="img" :aria-label="`${pattern.name}, ${laid.length} panels laid flat`">
      <g :transform="view.toString()">
        <g v-for="l in laid" :key="l.panel.label.code" class="panel" :data-panel="l.panel.label.code" :transform="`translate(${l.x} ${l.y})`" @pointermove="point($event, l)" @pointerleave="at = null">
          <path class="cut" :d="l.outline" />
          <path class="centre" :d="path(l.panel.centre)" />
          <path v-for="(line, i) in l.panel.marks.flatMap((m) => m.lines)" :key="i" class="tick" :d="path(line)" />
          <template v-for="e in l.panel.edges" :key="e.name">
            <text v-if="e.name.startsWith('closing')" class="seam" :x="middle(e.points)[0] + (middle(e.points)[0] > (l.size.left + l.size.right) / 2 ? 8 : -8)" :y="-middle(e.points)[1]">
              {{ e.name.slice(-1) }}
            </text>
          </template>
          <g class="label" :transform="`translate(${labelPlace(l).x} ${labelPlace(l).y})`">
            <path d="M-16 24V-16m-4 7 4-7 4 7" class="arrow" />
            <text class="code" x="-8" y="0">{{ l.panel.label.code }}</text>
            <text x="-8" y="10">{{ l.panel.twin ? "cut 1 + 1 turned over" : `cut 1, ${l.panel.side}` }}</text>
            <text x="-8" y="18.5">{{ l.panel.face }} face · {{ show(Number(l.panel.outline_length)) }} of cut</text>
          </g>
          <g v-if="strain && l.panel.worst > 0.8" class="worst" :transform="`translate(${l.panel.worst_at[0]} ${-l.panel.worst_at[1]})`">
            <circle r="3.2" />
            <text x="5.5" y="2.6">{{ l.panel.worst.toFixed(1) }} %</text>
          </g>
        </g>
      </g>
    </svg>
    <span v-if="at" class="pointer figures" :style="{ left: `${at.x + 14}px`, top: `${at.y + 10}px` }">{{ at.words }}</span>
  </div>
</template>

<style scoped>
.table {
  position: relative;
  flex: 1;
  min-height: 260px;
  contain: strict;
  will-change: transform;
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
  stroke: #2e2c2a;
  stroke-width: 1.1;
  stroke-linejoin: round;
}

.night .cut {
  stroke: #120f0c;
}

.centre {
  fill: none;
  stroke: #5f5a52;
  stroke-width: 0.5;
  stroke-dasharray: 6 2.5;
}

.tick {
  stroke: #2e2c2a;
  stroke-width: 0.8;
}

text {
  fill: #2e2c2a;
  font: 6.6px var(--sans);
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

.arrow {
  fill: none;
  stroke: #2e2c2a;
  stroke-width: 1.1;
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
  white-space: nowrap;
}
</style>
