<script setup lang="ts">
import LengthField from "@/parts/LengthField.vue";
import { number, type Cuff } from "./laid";

/** Measures of a cuff or a collar that goes on from an edge. */
defineProps<{ shape: Cuff }>();
const emit = defineEmits<{ change: [change: Partial<Cuff>] }>();
const degrees = (event: Event) => Math.min(120, Math.max(-80, number(event)));
</script>

<template>
  <LengthField
    word="High"
    name="laid-high"
    :value="Number(shape.high)"
    @change="emit('change', { high: $event as never })" />
  <label class="field"
    ><span class="word">Outwards, degrees</span
    ><input
      class="press figures"
      name="laid-flare"
      type="number"
      min="-80"
      max="120"
      :value="shape.flare ?? 20"
      @change="emit('change', { flare: degrees($event) })"
  /></label>
  <LengthField
    word="Ends longer by"
    name="laid-over"
    :value="Number(shape.over ?? 0)"
    @change="emit('change', { over: $event as never })" />
  <LengthField
    word="Its foam"
    name="laid-foam"
    :value="Number(shape.foam)"
    @change="emit('change', { foam: $event as never })" />
</template>
