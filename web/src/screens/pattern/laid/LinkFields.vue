<script setup lang="ts">
import LengthField from "@/parts/LengthField.vue";
import { number, type Links } from "./laid";

/** Measures of linked rings, and how they are bought. */
defineProps<{ shape: Links; sleeve: boolean }>();
const emit = defineEmits<{ change: [change: Partial<Links>] }>();
const count = (event: Event) => Math.max(0, Math.round(number(event)));
</script>

<template>
  <LengthField
    word="Column to column"
    name="laid-wide"
    :value="Number(shape.wide)"
    @change="emit('change', { wide: $event as never })" />
  <LengthField
    word="Row to row"
    name="laid-high"
    :value="Number(shape.high)"
    @change="emit('change', { high: $event as never })" />
  <label class="field"
    ><span class="word">Links on a strip</span
    ><input
      class="press figures"
      name="laid-strip"
      inputmode="numeric"
      :value="shape.strip || ''"
      placeholder="not in strips"
      @change="emit('change', { strip: count($event) })"
  /></label>
  <label class="field"
    ><span class="word">Rows, at most</span
    ><input
      class="press figures"
      name="laid-rows"
      inputmode="numeric"
      :value="shape.rows || ''"
      placeholder="all there is room for"
      @change="emit('change', { rows: count($event) })"
  /></label>
  <LengthField
    word="Edge strips, wide"
    name="laid-edge"
    :value="Number(shape.edge ?? 0)"
    @change="emit('change', { edge: $event as never })" />
  <LengthField
    word="Their foam"
    name="laid-foam"
    :value="Number(shape.foam)"
    @change="emit('change', { foam: $event as never })" />
  <LengthField
    v-if="sleeve"
    word="Lower under the arm"
    name="laid-cap"
    :value="Number(shape.cap ?? 0)"
    @change="emit('change', { cap: $event as never })" />
</template>
