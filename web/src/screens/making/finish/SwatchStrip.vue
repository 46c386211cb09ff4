<script setup lang="ts">
import { minutes } from "@/parts/units";
import type { Painted } from "./useFinish";

/**
 * The layers of a stack as a strip that builds up from the foam: each one lies over a little less than the one before.
 */
defineProps<{ painted: Painted; step: number }>();
const emit = defineEmits<{ step: [step: number] }>();
const SHEEN = [
  "none",
  "linear-gradient(120deg, #fff3, #fff0 60%)",
  "linear-gradient(120deg, #fff9, #fff0 45%, #fff5 60%, #fff0)",
  "linear-gradient(115deg, #fff, #7c868f 30%, #fff 48%, #5d666e 70%, #eef2f5)",
];
</script>

<template>
  <div class="strip" role="group" aria-label="Layers building up">
    <button
      v-for="c in painted.coats"
      :key="c.at"
      class="swatch"
      :class="{ on: step === c.at }"
      :style="{ background: `${SHEEN[c.gloss]}, ${c.colour}` }"
      :title="`${c.word}, ${c.coats} ${c.coats > 1 ? 'coats' : 'coat'}`"
      :aria-pressed="step === c.at"
      @click="emit('step', step === c.at ? 0 : c.at)">
      <span>{{ c.at }}</span>
    </button>
    <p class="soft small figures">
      {{ painted.coats.reduce((n, c) => n + c.coats, 0) }} coats,
      {{ minutes(painted.coats.reduce((n, c) => n + (c.coats - 1) * c.recoat + c.settle, 0)) }} of waiting
    </p>
  </div>
</template>

<style scoped>
.strip {
  display: flex;
  flex-wrap: wrap;
  align-items: end;
  gap: 0;
}

.swatch {
  display: grid;
  place-items: end start;
  flex: 1 1 44px;
  min-width: 44px;
  max-width: 120px;
  height: 64px;
  padding: 4px 8px;
  border: 0;
  box-shadow: -3px 0 6px rgb(0 0 0 / 25%);
  cursor: pointer;
}

.swatch span {
  padding: 0 6px;
  background: var(--sheet);
  color: var(--graphite);
  font-weight: 700;
}

.on {
  outline: 4px solid var(--ochre-fill);
  z-index: 1;
}

p {
  flex-basis: 100%;
  margin-top: 4px;
}
</style>
