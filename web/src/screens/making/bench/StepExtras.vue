<script setup lang="ts">
import { computed, ref, watch } from "vue";
import { clock } from "@/parts/units";
import { usePhotographs, useSeconds, type Bench, type Mark, type Step } from "./useBench";

/** Beside a step: how long it takes, what one would do otherwise, and how it looked. */
const props = defineProps<{ step: Step; bench: Bench }>();
const emit = defineEmits<{ mark: [mark: Mark] }>();
const now = useSeconds();
const begun = computed(() => props.step.begun_at);
const noting = ref(false);
const words = ref(props.step.note);
watch([() => props.step.key, () => props.step.note], () => (words.value = props.step.note));
watch(
  () => props.step.key,
  () => (noting.value = false),
);
const photographs = computed(() => props.bench.photographs.filter((p) => p.step === props.step.key));
const { add, remove } = usePhotographs(() => props.bench.piece_id);
function taken(event: Event) {
  const field = event.target as HTMLInputElement;
  if (field.files?.[0]) add.mutate({ file: field.files[0], step: props.step.key, words: props.step.title });
  field.value = "";
}
function keep() {
  noting.value = false;
  if (words.value !== props.step.note) emit("mark", { key: props.step.key, note: words.value });
}
</script>

<template>
  <section class="extras" aria-label="Clock, note and photograph">
    <button v-if="begun && step.state !== 'done'" class="press figures" disabled>
      Hands on for {{ clock(Math.max(0, now / 1000 - begun)) }}
    </button>
    <button v-else-if="step.state !== 'done'" class="press" @click="emit('mark', { key: step.key, begin: true })">
      Start the clock
    </button>
    <span v-else-if="step.took" class="soft figures">took {{ Math.max(1, Math.round(step.took)) }} min</span>
    <button class="press" :aria-expanded="noting" @click="noting = !noting">
      {{ step.note ? "Your note" : "Note" }}
    </button>
    <label class="press">
      Photograph
      <input class="sr" type="file" accept="image/*" capture="environment" name="photograph" @change="taken" />
    </label>
    <p v-if="step.note && !noting" class="note">{{ step.note }}</p>
    <form v-if="noting" class="noting" @submit.prevent="keep">
      <textarea v-model="words" class="press" rows="3" aria-label="What you would do otherwise" maxlength="4000" />
      <button class="press main" type="submit">Keep the note</button>
    </form>
    <figure v-for="p in photographs" :key="p.id">
      <img :src="`/api/photographs/${p.id}/file`" :alt="p.words" />
      <button class="press plain small" @click="remove.mutate(p.id)">Take it away</button>
    </figure>
  </section>
</template>

<style scoped>
.extras {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: center;
}

.press {
  position: relative;
  min-height: 48px;
}

.note {
  flex-basis: 100%;
  padding-left: 12px;
  border-left: 3px solid var(--plum);
}

.noting {
  display: grid;
  flex-basis: 100%;
  gap: 8px;
  justify-items: start;
}

textarea {
  width: 100%;
  max-width: 620px;
  font: inherit;
  cursor: text;
}

figure {
  display: grid;
  margin: 0;
}

img {
  max-width: 180px;
  max-height: 130px;
  border: 5px solid var(--sheet-line);
}

.sr {
  position: absolute;
  clip-path: inset(50%);
  width: 1px;
}
</style>
