<script setup lang="ts">
import { useResizeObserver } from "@vueuse/core";
import { onBeforeUnmount, onMounted, ref, shallowRef, watch } from "vue";
import type { Schemas } from "@/api/client";
import type { SolidStage } from "./solidStage";

/** A solid that can be turned. lit: number of the panel that is looked at. */
const props = defineProps<{ solid: Schemas["SolidOut"]; lit: number }>();
const canvas = ref<HTMLCanvasElement>();
const stage = shallowRef<SolidStage>();
const trouble = ref("");
const show = () => stage.value?.show(props.solid, props.lit);

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
useResizeObserver(canvas, ([entry]) => stage.value?.resize(entry.contentRect.width, entry.contentRect.height));
onBeforeUnmount(() => stage.value?.dispose());
</script>

<template>
  <div class="round">
    <canvas ref="canvas" role="img" aria-label="The shape, which can be turned" />
    <p v-if="trouble" class="words">{{ trouble }}</p>
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
}
</style>
