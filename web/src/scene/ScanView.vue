<script setup lang="ts">
import { useResizeObserver } from "@vueuse/core";
import { onBeforeUnmount, onMounted, ref, shallowRef, watch } from "vue";
import type { Schemas } from "@/api/client";
import type { Ends, ScanStage, Spot } from "./scanStage";

/** The scan on a turntable; its two end points can be dragged over the skin. */
const props = defineProps<{
  mesh: Schemas["ScanMeshOut"];
  ends: Ends | null;
  fit: Schemas["TubeFitOut"] | null;
  miss: boolean;
}>();
const emit = defineEmits<{ moved: [index: number, to: Spot] }>();
const canvas = ref<HTMLCanvasElement>();
const stage = shallowRef<ScanStage>();
const trouble = ref("");

onMounted(async () => {
  try {
    const { ScanStage } = await import("./scanStage");
    if (!canvas.value) return;
    stage.value = new ScanStage(canvas.value);
    stage.value.resize(canvas.value.clientWidth, canvas.value.clientHeight);
    stage.value.showBody(props.mesh);
    if (props.ends) stage.value.nearTo(props.ends);
    showRest();
  } catch {
    trouble.value = "This browser cannot draw in three dimensions. The ends can still be set in numbers.";
  }
});
function showRest() {
  stage.value?.showFit(props.fit, props.miss);
  stage.value?.showEnds(props.ends);
}
watch(
  () => props.mesh,
  (mesh) => stage.value?.showBody(mesh),
);
watch([() => props.fit, () => props.miss, () => props.ends], showRest);
watch(
  () =>
    props.ends
      ? Math.hypot(...props.ends.low.map((v, i) => v - props.ends!.high[i]))
          .toFixed(0)
          .slice(0, -2) + props.ends.low.map((v) => Math.round(v / 150)).join()
      : "",
  () => props.ends && stage.value?.nearTo(props.ends),
);
useResizeObserver(canvas, ([entry]) => stage.value?.resize(entry.contentRect.width, entry.contentRect.height));
onBeforeUnmount(() => stage.value?.dispose());

let holding: number | null = null;
let last: Spot | null = null;
function press(event: PointerEvent) {
  const index = stage.value?.pickEnd(event.clientX, event.clientY) ?? null;
  if (index === null) return;
  holding = index;
  last = null;
  stage.value!.hold(true);
  canvas.value!.setPointerCapture(event.pointerId);
}

function move(event: PointerEvent) {
  if (holding === null) return;
  const at = stage.value?.touch(event.clientX, event.clientY);
  if (!at) return;
  last = at;
  stage.value!.moveBall(holding, at);
}

function release() {
  stage.value?.hold(false);
  if (holding !== null && last) emit("moved", holding, last);
  holding = null;
}
defineExpose({ far: () => stage.value?.far() });
</script>

<template>
  <div class="holder">
    <canvas
      ref="canvas"
      role="img"
      aria-label="Scanned body with the ends of the segment"
      @pointerdown.capture="press"
      @pointermove="move"
      @pointerup="release" />
    <p v-if="trouble" class="words">{{ trouble }}</p>
    <div class="turn">
      <button class="press small" title="Turn left" @click="stage?.turn(-0.5)">⟲</button>
      <button class="press small" title="Turn right" @click="stage?.turn(0.5)">⟳</button>
      <button class="press small" @click="stage?.far()">Whole body</button>
      <button v-if="ends" class="press small" @click="stage?.nearTo(ends)">Near</button>
    </div>
  </div>
</template>

<style scoped>
.holder {
  position: relative;
  flex: 1;
  min-height: 320px;
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
</style>
