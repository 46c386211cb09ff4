<script setup lang="ts">
import { useUnit, weight } from "@/parts/units";
import type { Laid } from "./laid";

/** What lies on the piece: each part with what it asks for, to be changed or taken off. */
defineProps<{ rows: readonly Laid[]; held: string; bare: readonly string[] }>();
const emit = defineEmits<{ pick: [key: string]; takeOff: [key: string] }>();
const { say, unit } = useUnit();
const told = (row: Laid) =>
  [
    row.minutes === null ? "" : `${Math.round(row.minutes)} min`,
    row.grams === null ? "" : row.grams < 0.5 ? "next to no weight" : weight(row.grams, unit.value),
  ]
    .filter(Boolean)
    .join(", ");
</script>

<template>
  <section aria-label="What lies on it">
    <h3>What lies on it</h3>
    <p v-if="!rows.length" class="soft">Nothing yet: choose a line, then a trim or a row of rivets along it.</p>
    <article v-for="row in rows" :key="row.key" :class="{ held: row.key === held }">
      <b>{{ row.name }}</b>
      <span>{{ say(row.words) }}</span>
      <span class="soft figures">{{ told(row) }}</span>
      <span v-for="p in row.problems" :key="p" class="stop">{{ say(p) }}.</span>
      <span class="acts">
        <button class="press small" :aria-label="`Change ${row.name}`" @click="emit('pick', row.key)">Change</button>
        <button class="press small plain" :aria-label="`Take off ${row.name}`" @click="emit('takeOff', row.key)">
          Take off
        </button>
      </span>
    </article>
    <p v-if="bare.length" class="soft">
      Without a line yet, with the length you typed: {{ bare.join(", ") }}. The bench has them.
    </p>
  </section>
</template>

<style scoped>
section {
  display: grid;
  gap: 10px;
}

article {
  display: grid;
  gap: 4px;
  padding: 10px 0 10px 12px;
  border-left: 4px solid var(--foam);
}

article.held {
  border-color: var(--verdigris);
  background: var(--verdigris-pale);
}

.stop {
  color: var(--oxide);
}

.acts {
  display: flex;
  gap: 8px;
}
</style>
