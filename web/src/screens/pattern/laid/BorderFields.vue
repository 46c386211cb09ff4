<script setup lang="ts">
import LengthField from "@/parts/LengthField.vue";
import type { Border } from "./laid";

/** Measures of a strip: how wide and thick, how its profile and its corners are. */
defineProps<{ shape: Border }>();
const emit = defineEmits<{ change: [change: Partial<Border>] }>();
const PROFILES: readonly (readonly [NonNullable<Border["profile"]>, string])[] = [
  ["flat", "flat"],
  ["rounded", "edges rounded"],
  ["half-round", "half-round"],
  ["triangular", "triangular, slit from corner to corner"],
];
</script>

<template>
  <LengthField
    word="Wide"
    name="laid-width"
    :value="Number(shape.width)"
    @change="emit('change', { width: $event as never })" />
  <LengthField
    word="Its foam"
    name="laid-foam"
    :value="Number(shape.foam)"
    @change="emit('change', { foam: $event as never })" />
  <LengthField
    word="Bought in lengths of"
    name="laid-bought"
    :value="Number(shape.bought ?? 0)"
    @change="emit('change', { bought: $event as never })" />
  <label class="field whole"
    ><span class="word">Its profile</span>
    <select
      class="press"
      name="laid-profile"
      :value="shape.profile ?? 'flat'"
      @change="emit('change', { profile: ($event.target as HTMLSelectElement).value as Border['profile'] })">
      <option v-for="[key, word] in PROFILES" :key="key" :value="key">{{ word }}</option>
    </select>
  </label>
  <label class="field whole"
    ><span class="word">At corners</span>
    <select
      class="press"
      name="laid-corners"
      :value="shape.corners ?? 'mitred'"
      @change="emit('change', { corners: ($event.target as HTMLSelectElement).value as Border['corners'] })">
      <option value="mitred">mitred, at half their angle</option>
      <option value="one piece">one piece cut round</option>
    </select>
  </label>
</template>
