<script setup lang="ts">
import LengthField from "@/parts/LengthField.vue";
import { isFilm, mirrored, number, oneLess, oneMore, PLATES, type Detail, type Plate } from "./laid";

/** Measures of a plate, an emblem or a motif, and at how many places it lies. */
defineProps<{ shape: Plate; kind: Detail["kind"]; apart: boolean }>();
const emit = defineEmits<{
  change: [change: Partial<Plate>];
  detail: [change: Partial<Detail>];
  kind: [kind: Detail["kind"]];
}>();
</script>

<template>
  <LengthField
    v-if="kind !== 'joined part'"
    :word="shape.opening === 'seat' ? 'Set in it, across' : 'Across'"
    name="laid-wide"
    :value="Number(shape.wide)"
    @change="emit('change', { wide: $event as never })" />
  <label class="field"
    ><span class="word">Turned, degrees</span
    ><input
      class="press figures"
      name="laid-turn"
      type="number"
      min="-180"
      max="180"
      :value="shape.turn ?? 0"
      @change="emit('change', { turn: number($event) })"
  /></label>
  <label v-if="kind !== 'joined part'" class="field whole"
    ><span class="word">It is</span>
    <select
      class="press"
      name="laid-kind"
      :value="kind"
      @change="emit('kind', ($event.target as HTMLSelectElement).value as Detail['kind'])">
      <option v-for="p in PLATES" :key="p.kind" :value="p.kind">{{ p.word }}</option>
    </select>
  </label>
  <template v-if="!isFilm(kind) && kind !== 'joined part'">
    <LengthField
      word="Its foam"
      name="laid-foam"
      :value="Number(shape.foam)"
      @change="emit('change', { foam: $event as never })" />
    <label class="field"
      ><span class="word">Layers</span
      ><input
        class="press figures"
        name="laid-layers"
        type="number"
        min="1"
        max="6"
        :value="shape.layers ?? 1"
        @change="emit('change', { layers: Math.max(1, Math.round(number($event))) })"
    /></label>
    <LengthField
      v-if="(shape.layers ?? 1) > 1"
      word="Each smaller by"
      name="laid-step"
      :value="Number(shape.step ?? 5)"
      @change="emit('change', { step: $event as never })" />
    <label v-if="kind !== 'gem'" class="tick whole"
      ><input
        type="checkbox"
        name="laid-window"
        :checked="shape.opening === 'window'"
        @change="emit('change', { opening: ($event.target as HTMLInputElement).checked ? 'window' : 'none' })" />
      open in its middle, a rim stays</label
    >
    <LengthField
      v-if="(shape.opening ?? 'none') !== 'none'"
      word="Its rim"
      name="laid-rim"
      :value="Number(shape.rim ?? 10)"
      @change="emit('change', { rim: $event as never })" />
    <label class="tick whole"
      ><input
        type="checkbox"
        name="laid-apart"
        :checked="apart"
        @change="emit('detail', { apart: ($event.target as HTMLInputElement).checked })" />
      of another colour, painted apart</label
    >
  </template>
  <div class="whole places">
    <button class="press small" type="button" name="laid-more" @click="emit('change', oneMore(shape))">
      One more beside it
    </button>
    <button class="press small" type="button" name="laid-mirrored" @click="emit('change', mirrored(shape))">
      One on the other side
    </button>
    <button v-if="shape.also?.length" class="press small" type="button" @click="emit('change', oneLess(shape))">
      One less
    </button>
  </div>
</template>

<style scoped>
.places {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}
</style>
