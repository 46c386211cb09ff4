<script setup lang="ts">
import { useResizeObserver } from "@vueuse/core";
import { onBeforeUnmount, onMounted, ref, shallowRef, watch } from "vue";
import { held, snap, type Ink, type Pair, type SheetMap } from "@/canvas/sheetMap";
import type { Chosen, InkRead } from "@/screens/pattern/ink/inkDraft";
import type { InkStage } from "./inkStage";

/** The cast beside the sheet, with the same ink: a point can be dragged on either. */
const props = defineProps<{
  map: SheetMap;
  ink: Ink;
  read: InkRead | undefined;
  chosen: Chosen | null;
  foam: boolean;
  pen: boolean;
  snapping: boolean;
}>();
const emit = defineEmits<{
  choose: [at: Chosen | null];
  move: [at: Chosen, to: Pair];
  drop: [];
  draw: [at: Pair];
  hover: [at: Pair | null];
}>();
const canvas = ref<HTMLCanvasElement>();
const stage = shallowRef<InkStage>();
const trouble = ref("");

function showAll() {
  stage.value?.showBody(props.map);
  showFoam();
  showInk();
}
const showFoam = () =>
  stage.value?.showFoam(props.read?.foam_positions ?? [], props.read?.foam_triangles ?? [], props.foam);
const showInk = () => stage.value?.showInk(props.ink, props.chosen?.key ?? null, props.foam ? 10 : 0);

onMounted(async () => {
  try {
    const { InkStage } = await import("./inkStage");
    if (!canvas.value) return;
    stage.value = new InkStage(canvas.value);
    stage.value.resize(canvas.value.clientWidth, canvas.value.clientHeight);
    showAll();
  } catch {
    trouble.value = "This browser cannot draw in three dimensions. The sheet works all the same.";
  }
});
watch(() => props.map, showAll);
watch([() => props.read, () => props.foam], ([, foam], [, before]) => {
  if (!foam && !before) return;
  showFoam();
  showInk();
});
watch([() => props.ink, () => props.chosen], showInk);
useResizeObserver(canvas, ([entry]) => stage.value?.resize(entry.contentRect.width, entry.contentRect.height));
onBeforeUnmount(() => stage.value?.dispose());

let holding: Chosen | null = null;
let moved = false;
let from: { x: number; y: number } | null = null;

function press(event: PointerEvent) {
  if (event.button || !stage.value) return;
  from = { x: event.clientX, y: event.clientY };
  moved = false;
  if (props.pen) return;
  const { grip } = stage.value.pick(event.clientX, event.clientY);
  if (!grip) return;
  holding = { key: grip.key, index: grip.index };
  stage.value.hold(true);
  canvas.value!.setPointerCapture(event.pointerId);
  emit("choose", holding);
}

let pending: PointerEvent | null = null;
function move(event: PointerEvent) {
  if (!pending) requestAnimationFrame(flush);
  pending = event;
}

function flush() {
  const event = pending;
  pending = null;
  if (!event) return;
  if (!holding) {
    if (!event.buttons) emit("hover", stage.value?.on(event.clientX, event.clientY) ?? null);
    return;
  }
  const raw = stage.value?.on(event.clientX, event.clientY);
  if (!raw) return;
  moved = true;
  const like = props.ink.strokes.find((s) => s.key === holding!.key)?.points[holding.index ?? 0][0] ?? 0;
  const near = held(props.map.cast, [raw[0] + Math.round(like - raw[0]), raw[1]]);
  const got =
    props.snapping && !event.altKey
      ? snap(props.map, props.ink, near, 6, { key: holding.key, index: holding.index ?? 0 })
      : { at: near, to: "" };
  emit("move", holding, got.to ? [got.at[0] + Math.round(near[0] - got.at[0]), got.at[1]] : near);
}

function release(event: PointerEvent) {
  if (pending) flush();
  stage.value?.hold(false);
  if (holding) {
    holding = null;
    if (moved) emit("drop");
    return;
  }
  if (!from || Math.hypot(event.clientX - from.x, event.clientY - from.y) > 4) return;
  const hit = stage.value?.pick(event.clientX, event.clientY);
  if (props.pen) {
    if (hit?.at) emit("draw", hit.at);
  } else emit("choose", hit?.stroke ? { key: hit.stroke, index: null } : null);
}
</script>

<template>
  <div class="holder">
    <canvas
      ref="canvas"
      role="img"
      aria-label="Taped cast with its ink"
      :class="{ pen }"
      @pointerdown.capture="press"
      @pointermove="move"
      @pointerup="release"
      @pointerleave="emit('hover', null)" />
    <p v-if="trouble" class="words">{{ trouble }}</p>
    <div class="turn">
      <button class="press small" title="Turn left" @click="stage?.turn(-0.4)">⟲</button>
      <button class="press small" title="Turn right" @click="stage?.turn(0.4)">⟳</button>
      <button class="press small" title="From behind" @click="stage?.turn(Math.PI)">Back</button>
    </div>
  </div>
</template>

<style scoped>
.holder {
  position: relative;
  min-width: 0;
  min-height: 0;
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

.pen {
  cursor: crosshair;
}
</style>
