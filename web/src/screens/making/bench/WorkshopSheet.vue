<script setup lang="ts">
import { computed } from "vue";
import { api, take, type Schemas } from "@/api/client";
import { say as tell, useAsk, useChange, useKept } from "@/api/queries";
import { useCraft } from "./useBench";

/** What is in the workshop, and how fast its maker works. */
const craft = useCraft();
type Owned = Schemas["Owned-Input"];
const owned = useKept<Owned>(
  "owned",
  () => take(api.GET("/api/owned")),
  (body) => take(api.PUT("/api/owned", { body })),
);
const has = (list: "protection" | "kit", word: string) =>
  (owned.data.value?.[list] as string[] | undefined)?.includes(word);
const flip = (list: "protection" | "kit", word: string) =>
  owned.change((now) => {
    const rows = (now[list] ?? []) as string[];
    return { ...now, [list]: rows.includes(word) ? rows.filter((x) => x !== word) : [...rows, word] } as Owned;
  });
const paces = useAsk({ queryKey: ["paces"], queryFn: (how) => take(api.GET("/api/paces", how)) });
const save = useChange(
  (rows: Record<string, number>) => take(api.PUT("/api/paces", { body: { rows } as Schemas["OwnPaces"] })),
  undefined,
  "paces",
);
const UNIT = { mm: "m a minute", m2: "m² a minute", piece: "min each" };
const shown = (p: Schemas["PaceOut"], v: number) => (p.per === "mm" ? v / 1000 : v);
function type(p: Schemas["PaceOut"], field: HTMLInputElement) {
  const text = field.value.trim().replace(",", ".");
  const value = Number(text);
  if (text && !(value > 0)) {
    tell("Write a number above nothing, or leave it empty for the usual pace.", "error");
    field.value = p.own ? String(shown(p, p.own)) : "";
    return;
  }
  const rows = Object.fromEntries(
    (paces.data.value ?? []).filter((x) => x.own && x.key !== p.key).map((x) => [x.key, x.own!]),
  );
  if (text) rows[p.key] = p.per === "mm" ? value * 1000 : value;
  save.mutate(rows);
}
const learned = computed(() => (paces.data.value ?? []).filter((p) => p.timed));
function words(p: Schemas["PaceOut"]) {
  if (p.learned) return `You take ${Math.round(100 * p.learned)} % of the estimate (${p.timed} timed).`;
  return p.timed ? `${p.timed} timed; from 5 on it is believed.` : "";
}
</script>

<template>
  <div class="workshop">
    <section class="sheet" aria-label="What you have">
      <h3>What you have</h3>
      <p class="soft">
        What is missing turns the plan another way: without a vapour mask there is no cement and no spray.
      </p>
      <h4>On you</h4>
      <div class="choice">
        <button
          v-for="p in craft.data.value?.protection ?? []"
          :key="p"
          class="press"
          :aria-pressed="has('protection', p)"
          @click="flip('protection', p)">
          {{ has("protection", p) ? "✓ " : "" }}{{ p }}
        </button>
      </div>
      <h4>In the workshop</h4>
      <div class="choice">
        <button
          v-for="k in craft.data.value?.kit ?? []"
          :key="k"
          class="press"
          :aria-pressed="has('kit', k)"
          @click="flip('kit', k)">
          {{ has("kit", k) ? "✓ " : "" }}{{ k }}
        </button>
      </div>
      <button
        class="press"
        :aria-pressed="owned.data.value?.dry_days"
        @click="owned.change((now) => ({ ...now, dry_days: !now.dry_days }))">
        {{ owned.data.value?.dry_days ? "✓ Dry, mild days are in sight" : "No dry day in sight" }}
      </button>
    </section>
    <section class="sheet" aria-label="How fast you work">
      <h3>How fast you work</h3>
      <p class="soft">
        Estimates, until you type your own or time your steps with “Start the clock”.
        <template v-if="!learned.length">Nothing is timed yet.</template>
      </p>
      <table class="ruled">
        <thead>
          <tr>
            <th>Work</th>
            <th>Usual</th>
            <th>Yours</th>
            <th></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="p in paces.data.value ?? []" :key="p.key">
            <td>{{ p.words }}</td>
            <td class="figures">{{ +shown(p, p.usual).toPrecision(3) }} {{ UNIT[p.per] }}</td>
            <td>
              <input
                v-says="p.own ? +shown(p, p.own).toPrecision(4) : ''"
                class="press figures"
                :name="`pace-${p.key}`"
                placeholder="–"
                @change="type(p, $event.target as HTMLInputElement)" />
            </td>
            <td class="small">{{ words(p) }}</td>
          </tr>
        </tbody>
      </table>
    </section>
  </div>
</template>

<style scoped>
.workshop {
  display: grid;
  grid-template-columns: minmax(280px, 380px) minmax(0, 1fr);
  gap: 16px;
  align-items: start;
}

section {
  display: grid;
  gap: 12px;
  padding: 16px 20px;
}

h4 {
  margin: 0;
}

.choice {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}

.choice .press {
  min-height: 48px;
}

td input {
  width: 86px;
  cursor: text;
}

@media (max-width: 900px) {
  .workshop {
    grid-template-columns: minmax(0, 1fr);
  }

  section {
    overflow-x: auto;
  }
}
</style>
