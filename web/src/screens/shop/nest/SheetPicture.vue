<script setup lang="ts">
import { computed, ref, shallowRef, watch } from "vue";
import PartInHand from "./PartInHand.vue";
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
const hand = shallowRef<{ part: Part; from: [number, number] } | null>(null);
const by = shallowRef<[number, number]>([0, 0]);
const there = () => hand.value && moved(hand.value.part, ...by.value);
const inHand = computed(() => shapes.value.find((s) => s.part.key === hand.value?.part.key));
/** Drawn anew only where it changes: with hundreds of parts the whole sheet cannot follow a hand. */
const hits = shallowRef<ReadonlySet<string>>(new Set());
watch([hand, by], () => {
  const now = there();
  const found = now ? meets(now, props.sheet.parts, props.clearance) : [];
  const out = now && !within(now, props.sheet.outline, props.clearance);
  const next = now && (found.length || out) ? [...found, now.key] : [];
  if (next.length !== hits.value.size || next.some((k) => !hits.value.has(k))) hits.value = new Set(next);
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
  by.value = [0, 0];
  hand.value = { part, from: at(event) };
}
function move(event: PointerEvent) {
  if (!hand.value) return;
  const [x, y] = at(event);
  by.value = [x - hand.value.from[0], y - hand.value.from[1]];
}
function put() {
  const now = there();
  const far = hand.value && Math.hypot(...by.value) > 1;
  hand.value = null;
  if (now && far) emit("put", now);
}
const rest = computed(() => {
  const r = props.sheet.rest;
  return r && { x: r[0]!, y: -r[3]!, width: r[2]! - r[0]!, height: r[3]! - r[1]! };
});
</script>

<template>
  <div class="board">
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
          lifted: inHand === s,
        }"
        :data-part="s.part.key"
        @pointerdown.prevent="take($event, s.part)">
        <path :d="s.d" fill-rule="evenodd" />
        <text v-if="s.size >= READ" :x="s.x" :y="s.y + s.size * 0.34" :font-size="s.size">{{ s.part.code }}</text>
      </g>
    </svg>
    <PartInHand v-if="inHand" :view="view" :d="inHand.d" :wrong="hits.size > 0" :by="() => by" />
  </div>
</template>

<style scoped>
.board {
  position: relative;
}

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

.part.lifted {
  opacity: 0.25;
}

.part.wrong path {
  fill: #f0c9be;
  stroke: var(--oxide);
  stroke-width: 5;
}
</style>
