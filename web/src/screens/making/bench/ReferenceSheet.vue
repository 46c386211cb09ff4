<script setup lang="ts">
import { computed, ref } from "vue";
import type { DesignIn, Piece } from "@/api/client";
import { made, usePhotographs, type Bench } from "./useBench";

/** What the piece is made after: pictures with their version and side, and the details that have to match. */
const props = defineProps<{ bench: Bench; piece: Piece }>();
const emit = defineEmits<{ change: [change: (now: DesignIn) => DesignIn] }>();
const pictures = computed(() => props.bench.photographs.filter((p) => !p.step));
const list = computed(() => props.piece.design.making.checklist);
const fresh = ref("");
const words = ref("");
const ticked = (key: string, k: number) => props.bench.steps.find((s) => s.key === key)?.checks_done.includes(k + 1);
const { add, name, remove } = usePhotographs(() => props.bench.piece_id);
function taken(event: Event) {
  const field = event.target as HTMLInputElement;
  for (const file of field.files ?? []) add.mutate({ file, step: "", words: words.value });
  words.value = "";
  field.value = "";
}
function put() {
  const text = fresh.value.trim();
  if (!text) return;
  emit(
    "change",
    made((now) => ({ checklist: [...(now.checklist ?? []), { text }] })),
  );
  fresh.value = "";
}
const drop = (n: number) =>
  emit(
    "change",
    made((now) => ({ checklist: (now.checklist ?? []).filter((_, k) => k !== n) })),
  );
</script>

<template>
  <div class="reference">
    <section class="sheet" aria-label="Pictures">
      <h3>Pictures of the reference</h3>
      <p class="soft">
        Say which version and which side each one shows: two versions mixed make a piece that matches neither.
      </p>
      <form class="give" @submit.prevent>
        <label class="field"
          ><span class="word">Version and side</span
          ><input
            v-model="words"
            class="press"
            name="reference-words"
            maxlength="200"
            placeholder="second outfit, left side"
        /></label>
        <label class="press main"
          >Add a picture<input class="sr" type="file" accept="image/*" name="reference-picture" @change="taken"
        /></label>
      </form>
      <div class="pictures">
        <figure v-for="p in pictures" :key="p.id">
          <img :src="`/api/photographs/${p.id}/file`" :alt="p.words" />
          <input
            v-says="p.words"
            class="press"
            placeholder="which version, which side?"
            :aria-label="`What picture ${p.id} shows`"
            @change="name.mutate({ id: p.id, words: ($event.target as HTMLInputElement).value })" />
          <button class="press plain small" @click="remove.mutate(p.id)">Take it away</button>
        </figure>
        <p v-if="!pictures.length" class="soft">
          None yet. A picture of the front, one of the back, one of each detail.
        </p>
      </div>
    </section>
    <section class="sheet" aria-label="Details to match">
      <h3>Details to match</h3>
      <p class="soft">Each is ticked twice: at the taped try-on, and before primer.</p>
      <ol class="plain-list">
        <li v-for="(c, k) in list" :key="k">
          <span>{{ c.text }}</span>
          <span class="soft small"
            >{{ ticked("dry-fit", k) ? "✓" : "○" }} taped on · {{ ticked("dust-primer", k) ? "✓" : "○" }} before
            primer</span
          >
          <button class="press plain small" :aria-label="`Take out ${c.text}`" @click="drop(k)">Take out</button>
        </li>
      </ol>
      <form class="give" @submit.prevent="put">
        <label class="field wide"
          ><span class="word">A detail</span
          ><input
            v-model="fresh"
            class="press"
            name="reference-check"
            maxlength="200"
            placeholder="the ridge ends two fingers above the hem"
        /></label>
        <button class="press main" type="submit">Add it</button>
      </form>
    </section>
  </div>
</template>

<style scoped>
.reference {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(380px, 1fr));
  gap: 16px;
  align-items: start;
}

section {
  display: grid;
  gap: 12px;
  padding: 16px 20px;
}

.pictures {
  display: flex;
  flex-wrap: wrap;
  gap: 14px;
}

figure {
  display: grid;
  gap: 4px;
  width: 210px;
  margin: 0;
}

img {
  width: 210px;
  height: 160px;
  object-fit: contain;
  background: var(--vellum);
}

figure input {
  cursor: text;
}

li {
  display: flex;
  gap: 12px;
  align-items: center;
  justify-content: space-between;
  min-height: 48px;
  border-bottom: 1px solid var(--sheet-line);
  font-size: 18px;
}

.give input {
  width: 260px;
}

.give .wide input {
  width: 320px;
}

.sr {
  position: absolute;
  clip-path: inset(50%);
  width: 1px !important;
}

@media (max-width: 760px) {
  .reference {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
