<script setup lang="ts">
import LengthField from "@/parts/LengthField.vue";
import type { Row } from "./laid";
import { number } from "./laid";

/** Measures of a row: how far apart, where it begins, what it keeps off, and the punch it is struck with. */
defineProps<{ shape: Row; size: number; stitches: boolean; within: boolean }>();
const emit = defineEmits<{ change: [change: Partial<Row>]; size: [mm: never] }>();
const ticked = (event: Event) => (event.target as HTMLInputElement).checked;
</script>

<template>
  <LengthField
    word="From middle to middle"
    name="laid-pitch"
    :value="Number(shape.pitch)"
    @change="emit('change', { pitch: $event as never })" />
  <LengthField word="Across" name="laid-size" :value="size" @change="emit('size', $event as never)" />
  <label v-if="stitches" class="field"
    ><span class="word">Prongs of your punch</span
    ><input
      class="press figures"
      name="laid-prongs"
      inputmode="numeric"
      :value="shape.prongs || ''"
      placeholder="none"
      @change="emit('change', { prongs: Math.min(12, Math.max(0, Math.round(number($event)))) })"
  /></label>
  <label v-if="!shape.prongs" class="field whole"
    ><span class="word">First and last</span>
    <select
      class="press"
      name="laid-ends"
      :value="shape.ends ?? 'half a pitch'"
      @change="emit('change', { ends: ($event.target as HTMLSelectElement).value as Row['ends'] })">
      <option value="half a pitch">half of that from the ends</option>
      <option value="at the ends">at the very ends</option>
    </select>
  </label>
  <label v-if="within" class="tick whole"
    ><input type="checkbox" name="laid-both" :checked="shape.both" @change="emit('change', { both: ticked($event) })" />
    on both sides of the line</label
  >
  <label class="tick whole"
    ><input
      type="checkbox"
      name="laid-clear"
      :checked="shape.clear"
      @change="emit('change', { clear: ticked($event) })" />
    none on an anchor, a magnet or a hole</label
  >
</template>
