<script setup lang="ts">
import { useResizeObserver } from "@vueuse/core";
import { onBeforeUnmount, onMounted, ref, shallowRef, watch } from "vue";
import type { Cast, Schemas } from "@/api/client";
import { useUnit } from "@/parts/units";
import type { CastStage, StationPlace } from "./stage";

/** The cast in three dimensions: drag to turn, wheel to come nearer; buttons do the same with a knuckle. */
const props = defineProps<{
  cast: Cast;
  foam: boolean;
  small?: boolean;
  lit?: number;
  dot?: readonly number[] | null;
  laid?: readonly Laid[];
  held?: string;
}>();
type Laid = Pick<Schemas["LaidOut"], "key" | "worn" | "detail">;
type At = { panel: number; place: [number, number] };
const emit = defineEmits<{ point: [at: At | null]; choose: [panel: number]; touch: [place: [number, number]] }>();
const { show } = useUnit();
const canvas = ref<HTMLCanvasElement>();
const stage = shallowRef<CastStage>();
const places = ref<StationPlace[]>([]);
const trouble = ref("");

onMounted(async () => {
  try {
    const { CastStage } = await import("./stage");
    if (!canvas.value) return;
    stage.value = new CastStage(canvas.value, (now) => (places.value = now));
    stage.value.resize(canvas.value.clientWidth, canvas.value.clientHeight);
    stage.value.show(props.cast, props.foam);
    stage.value.light(props.lit ?? 0);
    lay();
  } catch {
    trouble.value = "This browser cannot draw in three dimensions. The pattern is made all the same.";
  }
});
const lay = () => stage.value?.lay(props.laid ?? [], props.held ?? "");
watch([() => props.cast, () => props.foam], () => {
  stage.value?.show(props.cast, props.foam);
  lay();
});
watch([() => props.laid, () => props.held], lay);
watch(
  () => props.lit,
  (panel) => stage.value?.light(panel ?? 0),
);
watch(
  () => props.dot,
  (place) => stage.value?.mark(place ?? null),
);
const under = (event: PointerEvent | MouseEvent) => stage.value?.under(event.clientX, event.clientY) ?? null;
const onFoam = (event: PointerEvent) => {
  const found = under(event);
  return found?.panel ? found : null;
};
function tap(event: MouseEvent) {
  const found = under(event);
  if (!found) return;
  emit("touch", found.place);
  if (found.panel) emit("choose", found.panel);
}
useResizeObserver(canvas, ([entry]) => stage.value?.resize(entry.contentRect.width, entry.contentRect.height));
onBeforeUnmount(() => stage.value?.dispose());
</script>

<template>
  <div class="cast" :class="{ small }">
    <canvas
      ref="canvas"
      :aria-label="`Taped cast, ${cast.side}`"
      role="img"
      @pointermove="emit('point', $event.buttons ? null : onFoam($event))"
      @pointerleave="emit('point', null)"
      @click="tap" />
    <p v-if="trouble" class="words">{{ trouble }}</p>
    <template v-if="!small">
      <span
        v-for="p in places"
        v-show="p.shown"
        :key="p.name"
        class="station"
        :style="{ left: `${p.x}px`, top: `${p.y}px` }">
        {{ p.name }} <b class="figures">{{ show(p.girth) }}</b>
      </span>
    </template>
    <div class="turn">
      <button class="press small" title="Turn left" @click="stage?.turn(-0.4)">⟲</button>
      <button class="press small" title="Turn right" @click="stage?.turn(0.4)">⟳</button>
      <template v-if="!small">
        <button class="press small" title="Nearer" @click="stage?.zoom(0.85)">+</button>
        <button class="press small" title="Farther" @click="stage?.zoom(1.18)">−</button>
      </template>
    </div>
  </div>
</template>

<style scoped>
.cast {
  position: relative;
  flex: 1;
  min-height: 340px;
  contain: paint;
}

.cast.small {
  flex: none;
  height: 212px;
  min-height: 0;
}

canvas {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
  cursor: grab;
  touch-action: none;
}

.station {
  position: absolute;
  padding: 2px 10px;
  margin-left: 14px;
  background: var(--sheet);
  box-shadow: var(--shadow);
  white-space: nowrap;
  transform: translateY(-50%);
  pointer-events: none;
}

.station::before {
  content: "";
  position: absolute;
  right: 100%;
  top: 50%;
  width: 14px;
  border-top: 1.5px solid var(--graphite);
}
</style>
