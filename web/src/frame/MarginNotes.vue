<script setup lang="ts">
import { ref } from "vue";
import type { Note, Value } from "@/api/client";
import { figure, useUnit } from "@/parts/units";

/** Figures with their making: a press opens the formula, the reason and what would change it. */
defineProps<{ notes: readonly Note[] }>();
const { unit, say } = useUnit();
const open = ref<string>("");

function parts(note: Note): { text: string; value?: Value }[] {
  return note.formula.split(/(\{\d+\})/).map((piece) => {
    const at = /^\{(\d+)\}$/.exec(piece);
    return at
      ? { text: "", value: note.values[Number(at[1])] }
      : { text: piece.replace(/ x /g, " × ").replace("3.1416", "π") };
  });
}
</script>

<template>
  <ul class="plain-list notes">
    <li v-for="note in notes" :key="note.title" :class="{ open: open === note.title }">
      <button class="head" :aria-expanded="open === note.title" @click="open = open === note.title ? '' : note.title">
        <span>{{ note.title }}</span>
        <b class="figures">{{ figure(note.result, unit) }}</b>
      </button>
      <div v-if="open === note.title" class="making">
        <p class="figures formula">
          <template v-for="(part, i) in parts(note)" :key="i">
            <abbr v-if="part.value" :title="part.value.word">{{ figure(part.value, unit) }}</abbr>
            <template v-else>{{ part.text }}</template>
          </template>
          = <b>{{ figure(note.result, unit) }}</b>
        </p>
        <p v-if="note.measured" class="figures">
          {{ note.measured.word }}: <b>{{ figure(note.measured, unit) }}</b>
        </p>
        <p class="soft">{{ say(note.reason) }}</p>
        <p v-if="note.change" class="soft"><b>To change it:</b> {{ say(note.change) }}</p>
      </div>
    </li>
  </ul>
</template>

<style scoped>
li {
  border-bottom: 1px solid var(--sheet-line);
}

.head {
  display: flex;
  justify-content: space-between;
  gap: 10px;
  width: 100%;
  padding: 8px 0;
  border: 0;
  background: none;
  text-align: left;
  cursor: pointer;
}

.head span {
  border-bottom: 1px dotted var(--graphite-soft);
}

.head b {
  white-space: nowrap;
}

.open .head span {
  border-bottom-style: solid;
}

.making {
  display: grid;
  gap: 6px;
  padding: 2px 0 12px;
  font-size: 15px;
}

.formula {
  padding: 6px 8px;
  background: var(--vellum);
}

abbr {
  text-decoration: underline dotted var(--verdigris);
  text-underline-offset: 3px;
  cursor: help;
}
</style>
