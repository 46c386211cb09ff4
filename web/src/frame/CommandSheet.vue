<script setup lang="ts">
import { computed, nextTick, ref, watch } from "vue";
import { useRouter } from "vue-router";
import { useBuilds, useHere } from "@/api/queries";
import { COSTUME } from "@/router";
import { stagesOf } from "./stages";

/** Find anything or do anything by typing part of its name. */
const open = defineModel<boolean>({ required: true });
const emit = defineEmits<{ command: [name: string] }>();
const router = useRouter();
const builds = useBuilds();
const { build, piece, pieceId } = useHere();
const text = ref("");
const at = ref(0);
const field = ref<HTMLInputElement>();

interface Entry {
  words: string;
  kind: string;
  run: () => void;
}

const entries = computed<Entry[]>(() => {
  const out: Entry[] = [];
  const go = (to: object | string) => () => void router.push(to);
  if (build.value) {
    const params = { build: build.value.id };
    for (const s of [...stagesOf(piece.value), ...COSTUME])
      out.push({
        words: `${s.word}: ${s.hint}`,
        kind: "go to",
        run: go({ name: s.name, params, query: { piece: pieceId.value || undefined } }),
      });
    for (const p of build.value.pieces)
      out.push({ words: p.name, kind: "piece", run: go({ name: "flatten", params, query: { piece: p.id } }) });
  }
  for (const b of builds.data.value ?? [])
    out.push({ words: b.name, kind: "build", run: go({ name: "flatten", params: { build: b.id } }) });
  out.push({ words: "All builds", kind: "go to", run: go("/") });
  for (const [name, words] of Object.entries({
    undo: "Undo",
    redo: "Do again",
    unit: "Switch millimetres and inches",
    night: "Switch day and night bench",
  }))
    out.push({ words, kind: "do", run: () => emit("command", name) });
  return out;
});
const found = computed(() =>
  entries.value
    .filter((e) =>
      text.value
        .toLowerCase()
        .split(/\s+/)
        .every((w) => e.words.toLowerCase().includes(w)),
    )
    .slice(0, 9),
);

watch(text, () => (at.value = 0));
watch(open, async (now) => {
  if (!now) return;
  text.value = "";
  await nextTick();
  field.value?.focus();
});

function run(entry: Entry | undefined) {
  open.value = false;
  entry?.run();
}
</script>

<template>
  <div v-if="open" class="veil" @click.self="open = false">
    <div class="ask sheet" role="dialog" aria-label="Find or do anything" @keydown.esc="open = false">
      <input
        ref="field"
        v-model="text"
        placeholder="A screen, a piece, something to do…"
        @keydown.down.prevent="at = Math.min(at + 1, found.length - 1)"
        @keydown.up.prevent="at = Math.max(at - 1, 0)"
        @keydown.enter="run(found[at])" />
      <ul class="plain-list">
        <li v-for="(e, i) in found" :key="e.kind + e.words">
          <button :class="{ at: i === at }" @click="run(e)" @mouseenter="at = i">
            <span>{{ e.words }}</span><span class="soft">{{ e.kind }}</span>
          </button>
        </li>
        <li v-if="!found.length" class="soft none">Nothing here has that name.</li>
      </ul>
    </div>
  </div>
</template>

<style scoped>
.veil {
  position: fixed;
  inset: 0;
  z-index: 50;
  background: rgb(40 32 20 / 40%);
}

.ask {
  width: min(560px, calc(100vw - 32px));
  margin: 12vh auto 0;
  padding: 14px;
}

input {
  width: 100%;
  padding: 10px 12px;
  border: 0;
  border-bottom: 2px solid var(--verdigris);
  background: none;
  color: inherit;
  font: 20px var(--sans);
  outline: none;
}

li button {
  display: flex;
  justify-content: space-between;
  gap: 16px;
  width: 100%;
  padding: 10px 12px;
  border: 0;
  background: none;
  text-align: left;
  cursor: pointer;
}

.at {
  background: var(--verdigris-pale) !important;
}

.none {
  padding: 12px;
}
</style>
