<script setup lang="ts">
import { computed, ref } from "vue";
import { boxOf, meets, moved, within } from "./nestHand";
import type { Part, Sheet } from "./useNest";

/** A sheet of foam with its parts, seen as it lies on the table; a part is taken and put elsewhere. */
const props = defineProps<{
  sheet: Sheet;
  clearance: number;
  chosen: string;
  wrong: ReadonlySet<string>;
  held: boolean;
}>();
const emit = defineEmits<{ pick: [key: string]; put: [part: Part] }>();

const PAD = 8;
const box = computed(() => boxOf(props.sheet.outline));
const view = computed(() => {
  const { left, low, right, high } = box.value;
  return `${left - PAD} ${-high - PAD} ${right - left + 2 * PAD} ${high - low + 2 * PAD}`;
});
const path = (rings: readonly (readonly (readonly number[])[])[]) =>
  rings.map((r) => "M" + r.map(([x, y]) => `${x} ${-y!}`).join("L") + "Z").join("");
/** A name is as large as the part is wide there; what nobody could read stands in the notes of a part. */
const READ = 11;
const shapes = computed(() =>
  props.sheet.parts.map((part) => {
    const [x, y, radius] = part.widest;
    const size = Math.min(44, (1.7 * radius!) / Math.max(2, part.code.length * 0.55));
    return { part, d: path([part.outline, ...part.holes]), x: x!, y: -y!, size };
  }),
);

const svg = ref<SVGSVGElement>();
const hand = ref<{ part: Part; from: [number, number]; by: [number, number] } | null>(null);
const there = computed(() => hand.value && moved(hand.value.part, ...hand.value.by));
const hits = computed(() => {
  if (!there.value) return new Set<string>();
  const found = meets(there.value, props.sheet.parts, props.clearance);
  const out = !within(there.value, props.sheet.outline, props.clearance);
  return new Set(found.length || out ? [...found, there.value.key] : []);
});

function at(event: PointerEvent): [number, number] {
  const m = svg.value!.getScreenCTM()!.inverse();
  const p = new DOMPoint(event.clientX, event.clientY).matrixTransform(m);
  return [p.x, -p.y];
}
function take(event: PointerEvent, part: Part) {
  emit("pick", part.key);
  if (props.held) return;
  svg.value!.setPointerCapture(event.pointerId);
  hand.value = { part, from: at(event), by: [0, 0] };
}
function move(event: PointerEvent) {
  if (!hand.value) return;
  const [x, y] = at(event);
  hand.value = { ...hand.value, by: [x - hand.value.from[0], y - hand.value.from[1]] };
}
function put() {
  const now = there.value;
  const far = hand.value && Math.hypot(...hand.value.by) > 1;
  hand.value = null;
  if (now && far) emit("put", now);
}
const rest = computed(() => {
  const r = props.sheet.rest;
  return r && { x: r[0]!, y: -r[3]!, width: r[2]! - r[0]!, height: r[3]! - r[1]! };
});
</script>

<template>
  <svg
    ref="svg"
    class="nest-sheet"
    :viewBox="view"
    role="img"
    :aria-label="`${sheet.key} with ${sheet.parts.length} parts`"
    @pointermove="move"
    @pointerup="put"
    @pointercancel="hand = null">
    <defs>
      <pattern id="rest" width="26" height="26" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
        <line x1="0" y1="0" x2="0" y2="26" />
      </pattern>
    </defs>
    <path class="foam" :d="path([sheet.outline])" />
    <rect v-if="rest" class="rest" v-bind="rest" />
    <line v-for="x in sheet.cuts" :key="x" class="straight" :x1="x" :x2="x" :y1="-box.high" :y2="-box.low" />
    <g
      v-for="s in shapes"
      :key="s.part.key"
      class="part"
      :class="{
        chosen: s.part.key === chosen,
        locked: s.part.locked,
        turned: s.part.turned,
        wrong: wrong.has(s.part.key) || hits.has(s.part.key),
      }"
      :data-part="s.part.key"
      :transform="hand && hand.part.key === s.part.key ? `translate(${hand.by[0]} ${-hand.by[1]})` : undefined"
      @pointerdown.prevent="take($event, s.part)">
      <path :d="s.d" fill-rule="evenodd" />
      <text v-if="s.size >= READ" :x="s.x" :y="s.y + s.size * 0.34" :font-size="s.size">{{ s.part.code }}</text>
    </g>
  </svg>
</template>

<style scoped>
.nest-sheet {
  display: block;
  width: 100%;
  max-height: 56vh;
  touch-action: none;
}

.foam {
  fill: var(--foam, #3b3f45);
}

.rest {
  fill: url("#rest");
}

pattern line {
  stroke: #5a6068;
  stroke-width: 5;
}

.straight {
  stroke: var(--ochre-fill);
  stroke-width: 3;
  stroke-dasharray: 22 12;
}

.part {
  cursor: grab;
}

.part path {
  fill: #fbf8f1;
  stroke: #2e2c2a;
  stroke-width: 1.4;
}

.part.turned path {
  fill: #efe3c6;
}

.part text {
  fill: #2e2c2a;
  font-family: var(--slab);
  font-weight: 700;
  text-anchor: middle;
  pointer-events: none;
}

.part.locked path {
  stroke: #d9b779;
  stroke-width: 6;
}

.part.chosen path {
  fill: #bfe0db;
  stroke: #2f7f79;
  stroke-width: 5;
}

.part.wrong path {
  fill: #f0c9be;
  stroke: var(--oxide);
  stroke-width: 5;
}
</style>
