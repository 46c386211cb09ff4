<script setup lang="ts">
import { useResizeObserver } from "@vueuse/core";
import { onBeforeUnmount, onMounted, ref, shallowRef, watch } from "vue";
import type { Schemas } from "@/api/client";
import type { FigureStage, Pose, Spot } from "./figureStage";

/** The costume on its wearer: drag beside an anchor to turn, an anchor to move it over its piece. */
const props = defineProps<{
  figure: Schemas["FigureOut"];
  piece: number;
  anchors: readonly Schemas["AnchorOut"][];
  pose: Pose;
  marks: readonly { at: readonly number[]; piece: number; side?: string; hint?: boolean }[];
}>();
const emit = defineEmits<{ drop: [name: string, side: string, at: Spot]; choose: [piece: number] }>();
const canvas = ref<HTMLCanvasElement>();
const stage = shallowRef<FigureStage>();
const trouble = ref("");
const close = ref(false);
/** Grows when the picture has come to rest: then places on it are read anew. */
const seen = ref(0);

const showMarks = () =>
  stage.value?.mark(
    props.marks.map((m) => ({ at: m.at, hint: m.hint, region: stage.value!.regionOf(m.piece, m.side) })),
  );
onMounted(async () => {
  try {
    const { FigureStage } = await import("./figureStage");
    if (!canvas.value) return;
    stage.value = new FigureStage(canvas.value, () => (seen.value += 1));
    stage.value.resize(canvas.value.clientWidth, canvas.value.clientHeight);
    stage.value.show(props.figure);
    stage.value.choose(props.piece, props.anchors);
    showMarks();
    stage.value.setPose(props.pose);
  } catch {
    trouble.value = "This browser cannot draw in three dimensions. The lists say the same.";
  }
});
watch(
  () => props.figure,
  () => {
    stage.value?.show(props.figure);
    stage.value?.choose(props.piece, props.anchors);
  },
);
watch([() => props.piece, () => props.anchors], () => stage.value?.choose(props.piece, props.anchors));
watch(
  () => props.pose,
  (pose) => stage.value?.setPose(pose),
  { deep: true },
);
watch(() => props.marks, showMarks);
watch(close, (now) => stage.value?.near(now));
useResizeObserver(canvas, ([entry]) => stage.value?.resize(entry.contentRect.width, entry.contentRect.height));
onBeforeUnmount(() => stage.value?.dispose());

let holding: { name: string; side: string } | null = null;
let at: Spot | null = null;
let from: { x: number; y: number } | null = null;

function press(event: PointerEvent) {
  if (event.button || !stage.value) return;
  from = { x: event.clientX, y: event.clientY };
  holding = stage.value.anchorAt(event.clientX, event.clientY);
  at = null;
  if (!holding) return;
  stage.value.hold(true);
  canvas.value!.setPointerCapture(event.pointerId);
}

function move(event: PointerEvent) {
  if (holding) at = stage.value?.carry(holding.name, holding.side, event.clientX, event.clientY) ?? at;
}

function release(event: PointerEvent) {
  stage.value?.hold(false);
  const still = from && Math.hypot(event.clientX - from.x, event.clientY - from.y) < 4;
  if (holding && at) emit("drop", holding.name, holding.side, at);
  else if (still && stage.value) {
    const piece = stage.value.pieceAt(event.clientX, event.clientY);
    if (piece) emit("choose", piece);
  }
  holding = null;
  from = null;
}
</script>

<template>
  <div class="figure">
    <canvas
      ref="canvas"
      role="img"
      aria-label="The costume on its wearer"
      @pointerdown.capture="press"
      @pointermove="move"
      @pointerup="release" />
    <p v-if="trouble" class="words">{{ trouble }}</p>
    <ul v-if="stage" :key="seen" class="sr" :data-seen="seen">
      <li
        v-for="a in anchors"
        :key="a.name + a.side"
        :data-anchor="a.name"
        :data-side="a.side"
        :data-x="Math.round(stage.screen(a.at).x)"
        :data-y="Math.round(stage.screen(a.at).y)">
        {{ a.name }}
      </li>
    </ul>
    <div class="turn">
      <button class="press small" title="Turn left" @click="stage?.turn(-0.5)">⟲</button>
      <button class="press small" title="Turn right" @click="stage?.turn(0.5)">⟳</button>
      <button class="press small" @click="stage?.turn(Math.PI)">Back</button>
      <button class="press small" :aria-pressed="close" @click="close = !close">
        {{ close ? "Whole figure" : "Near" }}
      </button>
    </div>
  </div>
</template>

<style scoped>
.figure {
  position: relative;
  flex: 1 1 300px;
  min-width: 290px;
  min-height: 430px;
  contain: paint;
}

canvas {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
  cursor: grab;
  touch-action: none;
}

.sr {
  position: absolute;
  width: 1px;
  height: 1px;
  overflow: hidden;
  clip-path: inset(50%);
}
</style>
