<script setup lang="ts">
import { computed, reactive } from "vue";
import type { Schemas } from "@/api/client";
import { useUnit } from "@/parts/units";
import { amount, byShop, numberIn, type Supply } from "./supplies";

/** What to buy, shop by shop: ticked in the shop, with what was paid, and brought home together. */
const props = defineProps<{ lines: readonly Supply[]; money: (n: number) => string; busy: boolean }>();
const emit = defineEmits<{ home: [rows: Schemas["CameIn"][]]; file: [file: File] }>();
const { say } = useUnit();
const shops = computed(() => byShop(props.lines));
const ticked = reactive<Record<string, boolean>>({});
const paid = reactive<Record<string, string>>({});
const key = (l: Supply) => `${l.name} ${l.unit}`;
const costs = (lines: readonly Supply[]) => lines.reduce((a, l) => a + (l.cost ?? 0), 0);
const chosen = computed(() => shops.value.flatMap((s) => s.lines).filter((l) => ticked[key(l)]));
function home() {
  const rows = chosen.value.map((l) => ({
    name: l.name,
    unit: l.unit,
    amount: l.packs * l.pack,
    paid: numberIn(paid[key(l)] ?? "") ?? null,
  }));
  for (const l of chosen.value) delete ticked[key(l)];
  emit("home", rows);
}
function file(event: Event) {
  const input = event.target as HTMLInputElement;
  if (input.files?.[0]) emit("file", input.files[0]);
  input.value = "";
}
</script>

<template>
  <section v-for="s in shops" :key="s.shop" class="sheet">
    <h3>
      {{ s.shop || "No shop yet" }} <span class="soft figures">{{ costs(s.lines) ? money(costs(s.lines)) : "" }}</span>
    </h3>
    <div v-for="l in s.lines" :key="key(l)" class="row" :class="{ on: ticked[key(l)] }">
      <label>
        <input v-model="ticked[key(l)]" type="checkbox" :name="`got ${l.name}`" />
        <b>{{ say(l.name) }}</b>
        <span class="figures">{{ l.packs }} × {{ amount(l.pack) }} {{ l.unit }}</span>
      </label>
      <input
        v-model="paid[key(l)]"
        class="press figures"
        inputmode="decimal"
        :name="`paid ${l.name}`"
        :aria-label="`${l.name}: paid`"
        :placeholder="l.cost === null ? 'paid' : l.cost.toFixed(2)" />
    </div>
  </section>
  <div class="acts">
    <button class="press main" :disabled="!chosen.length || busy" @click="home">
      {{ chosen.length ? `Bring home ${chosen.length} ticked` : "Tick what you have bought" }}
    </button>
    <label class="press"
      >A ticked list, CSV <input type="file" name="ticked" accept=".csv,text/csv" @change="file"
    /></label>
  </div>
</template>

<style scoped>
section {
  display: grid;
  flex: none;
  gap: 0;
  padding: 14px 18px;
}

h3 {
  display: flex;
  gap: 14px;
  align-items: baseline;
  justify-content: space-between;
  margin: 0 0 8px;
}

.row {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 104px;
  gap: 12px;
  align-items: center;
  min-height: 52px;
  border-top: 1px solid var(--sheet-line);
}

.row label {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 14px;
  align-items: center;
  padding: 8px 0;
  cursor: pointer;
}

.row input[type="checkbox"] {
  width: 24px;
  height: 24px;
  accent-color: var(--verdigris);
}

.row.on b {
  text-decoration: line-through;
}

.row > input {
  min-width: 0;
  padding: 6px 8px;
}

@media (max-width: 760px) {
  .row label {
    display: grid;
    grid-template-columns: 24px minmax(0, 1fr);
  }

  .row label .figures {
    grid-column: 2;
  }
}

.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 12px;
}

.acts input[type="file"] {
  display: none;
}
</style>
