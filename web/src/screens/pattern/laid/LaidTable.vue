<script setup lang="ts">
import { useElementSize } from "@vueuse/core";
import { computed, ref } from "vue";
import type { Panel, Schemas } from "@/api/client";
import { cutPath, extent, path } from "@/canvas/flatPaths";
import { bodyAt } from "@/canvas/strainBands";
import PartMarks from "./PartMarks.vue";
import { away, isStudded, linesOf, type Detail, type Laid, type Place } from "./laid";

/** The panels with what lies on them: a press on a line chooses it, a drag of what the hand holds moves it inwards. */
const props = defineProps<{
  panels: readonly Panel[];
  lines: readonly Schemas["LineThereOut"][];
  rows: readonly Laid[];
  draft: Detail | null;
  line: string;
  spot: Place | null;
}>();
const emit = defineEmits<{ line: [name: string]; pick: [key: string]; far: [mm: number]; place: [at: Place] }>();

const svg = ref<SVGSVGElement>();
const { width, height } = useElementSize(svg);
const near = ref("");
const EDGE = 16;
/** Layers of one panel lie on each other: what is laid on it shows on the outermost. */
const seen = computed(() => {
  const on = new Set(props.lines.flatMap((l) => l.shown.map((s) => s.code)));
  return props.panels.filter((p) => on.has(p.label.code)).map((p) => ({ panel: p, size: extent(p), cut: cutPath(p) }));
});
const box = computed(() => {
  const sides = seen.value.map(({ panel: p, size }) => [
    p.place[0] + size.left,
    p.place[1] + size.low,
    p.place[0] + size.right,
    p.place[1] + size.high,
  ]);
  const low = [0, 1].map((k) => Math.min(...sides.map((s) => s[k])) - EDGE);
  const high = [2, 3].map((k) => Math.max(...sides.map((s) => s[k])) + EDGE);
  return [low[0], -high[1], high[0] - low[0], high[1] - low[1]];
});
/** mm of a finger's reach on the screen, so that thin lines are met at any size. */
const reach = computed(() => 22 / (Math.min(width.value / box.value[2], height.value / box.value[3]) || 1));
const chosen = computed(() => new Set(props.draft ? linesOf(props.draft) : [props.line]));
const onPanel = (code: string, shown: readonly { code: string; rings: number[][][] }[]) =>
  shown.filter((s) => s.code === code).flatMap((s) => s.rings);
const isRow = (row: Laid) => isStudded(row.detail as Detail);

function place(event: MouseEvent, panel: Panel): [number, number] {
  const at = new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.value!.getScreenCTM()!.inverse());
  return [at.x - panel.place[0], -at.y - panel.place[1]];
}

const shift = (panel: Panel) => `translate(${panel.place[0]} ${-panel.place[1]})`;
const still = computed(() => props.rows.filter((r) => r.key !== props.draft?.key));
const moving = computed(() => props.rows.filter((r) => r.key === props.draft?.key));
/** Scales at a row's ends are cut off at the foam's edge; nothing else reaches past it unsaid. */
const clipped = (row: Laid, panel: Panel) =>
  ["scales", "links"].includes(row.detail.shape?.form ?? "") ? `url('#foam-${panel.label.code}')` : undefined;

let held: Panel | null = null;
function grip(event: PointerEvent, panel: Panel) {
  held = panel;
  (event.currentTarget as SVGElement).setPointerCapture(event.pointerId);
}
function move(event: PointerEvent) {
  if (!held) return;
  if (props.draft?.shape?.form === "plate") return put(event, held);
  const code = held.label.code;
  const own = props.lines.filter((l) => chosen.value.has(l.name)).flatMap((l) => onPanel(code, l.shown));
  if (own.length) emit("far", away(place(event, held), own));
}
/** Where on the body the hand is, on the foam of a panel. */
function put(event: MouseEvent, panel: Panel) {
  const at = bodyAt(panel, place(event, panel));
  if (at) emit("place", at);
}
/** The panel's vertex nearest to the chosen place, where it is marked. */
function spotOn(panel: Panel) {
  if (!props.spot || props.draft) return null;
  const [u, v] = props.spot;
  const away = panel.uv.map(([a, b]) => Math.hypot((a - u) * 4, b - v));
  const least = Math.min(...away);
  return least < 0.2 ? panel.vertices[away.indexOf(least)] : null;
}
const release = () => (held = null);
</script>

<template>
  <div class="ground">
    <template v-if="seen.length">
      <svg ref="svg" :viewBox="box.join(' ')" role="img" aria-label="Panels with what lies on them">
        <g v-for="{ panel, cut } in seen" :key="panel.label.code" :transform="shift(panel)">
          <clipPath :id="`foam-${panel.label.code}`"><path :d="cut" clip-rule="evenodd" /></clipPath>
          <path class="shade" :d="cut" />
          <path class="paper" :d="cut" @click="put($event, panel)" />
          <g
            v-for="row in still"
            :key="row.key"
            class="part"
            :class="{ row: isRow(row) }"
            :data-part="row.key"
            :clip-path="clipped(row, panel)"
            @pointerdown="emit('pick', row.key)">
            <title>{{ row.name }}</title>
            <PartMarks :shown="row.shown" :code="panel.label.code" />
          </g>
        </g>
      </svg>
      <!-- What moves lies on a sheet of its own: hundreds of rivets are not drawn anew for it. -->
      <svg class="live" :viewBox="box.join(' ')">
        <g v-for="{ panel } in seen" :key="panel.label.code" :transform="shift(panel)">
          <g
            v-for="row in moving"
            :key="row.key"
            class="part held"
            :data-part="row.key"
            :clip-path="clipped(row, panel)"
            @pointerdown="grip($event, panel)"
            @pointermove="move"
            @pointerup="release"
            @pointercancel="release">
            <title>{{ row.name }}</title>
            <PartMarks :shown="row.shown" :code="panel.label.code" />
          </g>
          <g v-for="row in rows" :key="`${row.key} wrong`" class="wrong">
            <PartMarks :shown="row.wrong" :code="panel.label.code" />
          </g>
          <circle v-if="spotOn(panel)" class="spot" :cx="spotOn(panel)![0]" :cy="-spotOn(panel)![1]" r="6" />
        </g>
      </svg>
      <svg class="live" :viewBox="box.join(' ')">
        <g v-for="{ panel } in seen" :key="panel.label.code" :transform="shift(panel)">
          <template v-for="one in lines" :key="one.name">
            <g
              v-if="onPanel(panel.label.code, one.shown).length"
              class="line"
              :class="{ chosen: chosen.has(one.name), near: near === one.name }"
              :data-line="one.name"
              @pointerenter="near = one.name"
              @pointerleave="near = ''"
              @click="emit('line', one.name)">
              <title>{{ one.name }}</title>
              <template v-for="(ring, k) in onPanel(panel.label.code, one.shown)" :key="k">
                <path class="reach" :d="path(ring)" :stroke-width="reach" />
                <path class="seen" :d="path(ring)" />
              </template>
            </g>
          </template>
        </g>
      </svg>
    </template>
    <span v-if="near" class="name">{{ near }}</span>
  </div>
</template>

<style scoped>
.ground {
  position: relative;
  flex: 1;
  min-height: 300px;
  background: var(--vellum-deep);
}

svg {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
  touch-action: none;
  will-change: transform;
}

.live {
  pointer-events: none;
}

.live .part,
.live .line {
  pointer-events: auto;
}

.paper {
  fill: #fbf8f1;
  fill-rule: evenodd;
  stroke: #2e2c2a;
  stroke-width: 1;
}

/* Drawn, not filtered: a filter is worked out anew for every picture of what moves over it. */
.shade {
  fill: rgb(60 45 20 / 16%);
  fill-rule: evenodd;
  transform: translate(1px, 3px);
}

.part path {
  fill: #4a5058;
  stroke: #23262a;
  stroke-width: 0.8;
  cursor: pointer;
}

.part.row path {
  fill: var(--tape-deep);
  stroke: #4d3a15;
}

.part.held path {
  fill: var(--verdigris);
  stroke: var(--verdigris-deep);
  cursor: grab;
}

.wrong {
  fill: var(--oxide);
  stroke: var(--oxide);
  stroke-width: 3;
  pointer-events: none;
}

.spot {
  fill: var(--ochre-fill);
  stroke: var(--graphite);
  pointer-events: none;
}

.line {
  cursor: pointer;
}

.reach {
  fill: none;
  stroke: transparent;
  stroke-linecap: round;
}

.seen {
  fill: none;
  stroke: transparent;
  stroke-width: 3;
  vector-effect: non-scaling-stroke;
  pointer-events: none;
}

.near .seen {
  stroke: var(--ochre-fill);
}

.chosen .seen {
  stroke: var(--verdigris);
  stroke-width: 4;
}

.name {
  position: absolute;
  left: 14px;
  bottom: 10px;
  padding: 3px 10px;
  background: var(--foam);
  color: var(--on-dark);
  border-radius: 3px;
  font-weight: 700;
  pointer-events: none;
}
</style>
