<script setup lang="ts">
import LengthField from "@/parts/LengthField.vue";
import { number } from "./laid";
import type { Scales } from "./laid";

/** Measures of scales that lie over each other in rows. */
defineProps<{ shape: Scales }>();
const emit = defineEmits<{ change: [change: Partial<Scales>] }>();
</script>

<template>
  <LengthField
    word="One is wide"
    name="laid-wide"
    :value="Number(shape.wide)"
    @change="emit('change', { wide: $event as never })" />
  <LengthField
    word="and high"
    name="laid-high"
    :value="Number(shape.high)"
    @change="emit('change', { high: $event as never })" />
  <LengthField
    word="Its foam"
    name="laid-foam"
    :value="Number(shape.foam)"
    @change="emit('change', { foam: $event as never })" />
  <label class="field"
    ><span class="word">Covered, %</span
    ><input
      class="press figures"
      name="laid-covered"
      type="number"
      min="10"
      max="80"
      :value="Math.round((shape.covered ?? 0.4) * 100)"
      @change="emit('change', { covered: Math.min(0.8, Math.max(0.1, number($event) / 100)) })"
  /></label>
  <label class="field"
    ><span class="word">Rows, at most</span
    ><input
      class="press figures"
      name="laid-rows"
      inputmode="numeric"
      :value="shape.rows || ''"
      placeholder="all there is room for"
      @change="emit('change', { rows: Math.max(0, Math.round(number($event))) })"
  /></label>
  <label class="field"
    ><span class="word">Outline</span>
    <select
      class="press"
      name="laid-outline"
      :value="shape.outline ?? 'round'"
      @change="emit('change', { outline: ($event.target as HTMLSelectElement).value as Scales['outline'] })">
      <option v-for="o in ['round', 'pointed', 'square']" :key="o">{{ o }}</option>
    </select>
  </label>
</template>
