<script setup lang="ts">
import { onMounted, ref } from "vue";
import { useUnit } from "@/parts/units";
import type { AskedLayer } from "./useTraces";

/** What a layer of a brought-in drawing holds, where its name does not say it. */
defineProps<{ asked: AskedLayer }>();
defineEmits<{ said: [what: string] }>();
const { say } = useUnit();
const self = ref<HTMLElement>();
onMounted(() => self.value?.scrollIntoView({ block: "nearest" }));
/** What the program calls the rectangle that may be a sheet's frame: of that it is asked only whether it is a panel. */
const FRAME = "the rectangle round everything";
const ANSWERS = [
  { key: "holes", word: "Cut out", frame: false },
  { key: "panels", word: "Panels of their own", frame: true },
  { key: "folds", word: "Fold lines", frame: false },
  { key: "marks", word: "Only drawn on", frame: false },
  { key: "out", word: "Leave out", frame: true },
];
</script>

<template>
  <div ref="self" class="asks" role="group" aria-label="What a layer holds">
    <p>
      <b>{{ asked.file.name }}</b>: {{ say(asked.words) }}
    </p>
    <button
      v-for="a in ANSWERS.filter((x) => x.frame || asked.layer !== FRAME)"
      :key="a.key"
      class="press"
      @click="$emit('said', `${asked.layer}=${a.key}`)">
      {{ a.word }}
    </button>
  </div>
</template>

<style scoped>
.asks {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 0.6rem;
  margin: 0.6rem 0;
  scroll-margin-bottom: 5rem;
}
.asks p {
  flex-basis: 100%;
  margin: 0;
  overflow-wrap: anywhere;
}
</style>
