<script setup lang="ts">
import { useResizeObserver } from "@vueuse/core";
import { onBeforeUnmount, onMounted, ref, shallowRef, watch } from "vue";
import type { Schemas } from "@/api/client";
import type { SolidStage } from "./solidStage";

/** A solid that can be turned. lit: number of the panel that is looked at. seam: places of one that is being drawn. */
const props = defineProps<{ solid: Schemas["SolidOut"]; lit: number; seam?: readonly (readonly number[])[] }>();
const emit = defineEmits<{ touch: [place: [number, number, number]] }>();
const canvas = ref<HTMLCanvasElement>();
const stage = shallowRef<SolidStage>();
const trouble = ref("");
function show() {
  stage.value?.show(props.solid, props.lit);
  stage.value?.showSeam(props.seam ?? []);
}
const pressed = { x: 0, y: 0 };
/** A press that turns it is no touch. */
function release(event: PointerEvent) {
  if (Math.hypot(event.clientX - pressed.x, event.clientY - pressed.y) > 5) return;
  const place = stage.value?.pick(event.clientX, event.clientY);
  if (place) emit("touch", place);
}

onMounted(async () => {
  try {
    const made = await import("./solidStage");
    if (!canvas.value) return;
    stage.value = new made.SolidStage(canvas.value);
    stage.value.resize(canvas.value.clientWidth, canvas.value.clientHeight);
    show();
  } catch {
    trouble.value = "This browser cannot draw in three dimensions. Its panels are drawn below all the same.";
  }
});
watch([() => props.solid, () => props.lit], show);
watch(
  () => props.seam,
  (seam) => stage.value?.showSeam(seam ?? []),
);
useResizeObserver(canvas, ([entry]) => stage.value?.resize(entry.contentRect.width, entry.contentRect.height));
onBeforeUnmount(() => stage.value?.dispose());
</script>

<template>
  <div class="round">
    <canvas
      ref="canvas"
      role="img"
      aria-label="The shape, which can be turned"
      @pointerdown="Object.assign(pressed, { x: $event.clientX, y: $event.clientY })"
      @pointerup="release" />
    <p v-if="trouble" class="words">{{ trouble }}</p>
    <div class="turn">
      <button class="press small" title="Turn left" @click="stage?.turn(-0.4)">⟲</button>
      <button class="press small" title="Turn right" @click="stage?.turn(0.4)">⟳</button>
      <button class="press small" title="Nearer" @click="stage?.zoom(0.85)">+</button>
      <button class="press small" title="Farther" @click="stage?.zoom(1.18)">−</button>
    </div>
  </div>
</template>

<style scoped>
.round {
  position: relative;
  min-height: 0;
}

canvas {
  width: 100%;
  height: 100%;
  display: block;
  cursor: grab;
  touch-action: none;
}
</style>
