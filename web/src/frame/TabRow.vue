<script setup lang="ts" generic="Key extends string">
import { computed } from "vue";

/** The parts of a screen, in a row; counts stand behind their words. On a phone the row is pushed sideways. */
const props = defineProps<{
  tabs: Record<Key, string>;
  on: Key;
  counts?: Partial<Record<Key, number | string>>;
  label: string;
}>();
const rows = computed(() => Object.entries(props.tabs) as [Key, string][]);
const emit = defineEmits<{ pick: [key: Key] }>();
</script>

<template>
  <nav class="tabs" :aria-label="label">
    <button
      v-for="[key, word] in rows"
      :key="key"
      :class="{ on: on === key }"
      :aria-current="on === key"
      @click="emit('pick', key)">
      {{ word }}<span v-if="counts?.[key]" class="figures">{{ counts[key] }}</span>
    </button>
    <slot />
  </nav>
</template>

<style scoped>
.tabs {
  display: flex;
  flex: none;
  flex-wrap: wrap;
  gap: 4px 22px;
  align-items: end;
  border-bottom: 1.5px solid var(--tape-deep);
}

button {
  display: flex;
  gap: 8px;
  align-items: center;
  min-height: 48px;
  margin-bottom: -1.5px;
  padding: 0 2px;
  border: 0;
  border-bottom: 5px solid transparent;
  background: none;
  font: 600 18px var(--slab);
  white-space: nowrap;
  cursor: pointer;
}

.on {
  border-bottom-color: var(--verdigris);
}

span {
  min-width: 22px;
  padding: 1px 6px;
  border-radius: 11px;
  background: var(--tape);
  color: #2e2c2a;
  font: 600 14px var(--sans);
  text-align: center;
}

@media (max-width: 760px) {
  .tabs {
    flex-wrap: nowrap;
    overflow-x: auto;
    scrollbar-width: none;
  }
}
</style>
