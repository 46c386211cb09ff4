<script setup lang="ts">
import LengthField from "@/parts/LengthField.vue";
import type { Damage } from "./laid";
import { number } from "./laid";

/** How much of a beating it took, and another throw of it. */
defineProps<{ shape: Damage }>();
const emit = defineEmits<{ change: [change: Partial<Damage>] }>();
</script>

<template>
  <LengthField
    word="Off edges by"
    name="laid-inset"
    :value="Number(shape.inset ?? 6)"
    @change="emit('change', { inset: $event as never })" />
  <LengthField
    word="As far from the line as"
    name="laid-wide"
    :value="Number(shape.wide ?? 60)"
    @change="emit('change', { wide: $event as never })" />
  <label class="field"
    ><span class="word">How many to a panel</span
    ><input
      class="press figures"
      name="laid-count"
      type="number"
      min="1"
      max="80"
      :value="shape.count ?? 8"
      @change="emit('change', { count: Math.min(80, Math.max(1, Math.round(number($event)))) })"
  /></label>
  <LengthField
    word="The longest"
    name="laid-size"
    :value="Number(shape.size ?? 20)"
    @change="emit('change', { size: $event as never })" />
  <button
    class="press whole"
    type="button"
    name="laid-again"
    @click="emit('change', { seed: ((shape.seed ?? 0) + 1) % 10000 })">
    Throw them again
  </button>
</template>
