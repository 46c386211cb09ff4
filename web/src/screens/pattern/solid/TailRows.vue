<script setup lang="ts">
import LengthField from "@/parts/LengthField.vue";
import { onwards, type TailPoint } from "./solid";

/** The middle line of a tail, place by place, with its width there. */
const props = defineProps<{ points: TailPoint[] }>();
const emit = defineEmits<{ change: [points: TailPoint[]] }>();
const FIELDS = [
  ["x", "to the side"],
  ["y", "back"],
  ["z", "up"],
  ["wide", "width"],
] as const;
const set = (k: number, field: string, value: string) =>
  emit(
    "change",
    props.points.map((p, j) => (j === k ? ({ ...p, [field]: value } as unknown as TailPoint) : p)),
  );
</script>

<template>
  <fieldset class="places">
    <legend>Its middle line</legend>
    <div v-for="(p, k) in points" :key="k" class="place">
      <b class="figures">{{ k + 1 }}</b>
      <LengthField
        v-for="[field, word] in FIELDS"
        :key="field"
        :name="`${field}-${k + 1}`"
        :word="word"
        :value="Number(p[field])"
        @change="set(k, field, $event)" />
      <button
        v-if="points.length > 2"
        class="press small plain"
        :aria-label="`Take place ${k + 1} away`"
        @click="
          emit(
            'change',
            points.filter((_, j) => j !== k),
          )
        ">
        ✕
      </button>
    </div>
    <button class="press small" @click="emit('change', [...points, onwards(points)])">One place more</button>
  </fieldset>
</template>

<style scoped>
.places {
  display: grid;
  gap: 8px;
  padding: 8px;
  border: 1px solid var(--sheet-line);
}

.place {
  display: grid;
  grid-template-columns: 16px repeat(2, minmax(0, 1fr)) 34px;
  gap: 4px 6px;
  align-items: end;
}

.place b {
  grid-row: span 2;
  align-self: center;
}

.place :deep(.field:nth-of-type(3)) {
  grid-column: 2;
}

.place button {
  grid-column: 4;
  grid-row: 1;
}
</style>
