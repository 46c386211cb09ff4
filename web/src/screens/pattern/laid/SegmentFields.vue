<script setup lang="ts">
import LengthField from "@/parts/LengthField.vue";
import type { Segments } from "./laid";
import { number } from "./laid";

/** Measures of plates side by side on a base. */
defineProps<{ shape: Segments }>();
const emit = defineEmits<{ change: [change: Partial<Segments>] }>();
</script>

<template>
  <label class="field"
    ><span class="word">Plates to a panel</span
    ><input
      class="press figures"
      name="laid-count"
      type="number"
      min="2"
      max="40"
      :value="shape.count ?? 5"
      @change="emit('change', { count: Math.min(40, Math.max(2, Math.round(number($event)))) })"
  /></label>
  <LengthField
    word="Each over the last by"
    name="laid-overlap"
    :value="Number(shape.overlap ?? 0)"
    @change="emit('change', { overlap: $event as never })" />
  <LengthField
    word="Their foam"
    name="laid-foam"
    :value="Number(shape.foam)"
    @change="emit('change', { foam: $event as never })" />
</template>
