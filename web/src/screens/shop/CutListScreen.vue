<script setup lang="ts">
import { computed, ref } from "vue";
import { api, take, type Schemas } from "@/api/client";
import { useAsk, useHere } from "@/api/queries";
import EmptySheet from "@/frame/EmptySheet.vue";
import ScreenFrame from "@/frame/ScreenFrame.vue";
import TabRow from "@/frame/TabRow.vue";
import { useUnit } from "@/parts/units";
import { sizeOf, together, totals } from "./cutList";

/** Every outline of the costume that is cut: by piece or by sheet, with what each sheet takes in blades and minutes. */
const { buildId } = useHere();
const { show, say } = useUnit();
const list = useAsk({
  queryKey: ["cut-list", buildId],
  queryFn: (how) =>
    take(api.GET("/api/builds/{build}/cut-list", { ...how, params: { path: { build: buildId.value } } })),
  enabled: computed(() => buildId.value > 0),
});
const TABS = { piece: "By piece", sheet: "By sheet" };
const tab = ref<keyof typeof TABS>("piece");
const made = computed(() => list.data.value);
const groups = computed(() => (made.value ? together(made.value, tab.value) : []));
const about = computed(() => {
  if (!made.value) return "Reading every pattern…";
  const { parts, minutes } = totals(made.value);
  return `${parts} parts to cut, about ${Math.max(1, Math.round(minutes / 6) / 10)} h with the knife`;
});
const count = (row: Schemas["CutRowOut"]) =>
  row.turned ? `${row.as_drawn} + ${row.turned} turned over` : String(row.as_drawn);
</script>

<template>
  <ScreenFrame title="Cut list" :about="about">
    <template #tools>
      <template v-if="made">
        <a class="press" :href="`/api/builds/${buildId}/cut-list.csv`">As a table, CSV</a>
        <a class="press" :href="`/api/builds/${buildId}/cut-list.pdf`">To tick, PDF</a>
      </template>
    </template>
    <TabRow :tabs="TABS" :on="tab" label="How the list is ordered" @pick="tab = $event" />
    <EmptySheet v-if="made && !groups.length" title="Nothing to cut yet">
      Add a piece and measure its wearer: its panels come here by themselves.
    </EmptySheet>
    <div v-else class="list">
      <section v-for="g in groups" :key="g.word">
        <h3>
          {{ say(g.word) }} <span class="soft figures">{{ g.told }}</span>
        </h3>
        <p v-if="g.trouble" class="stop">{{ say(g.trouble) }}</p>
        <table v-else>
          <thead>
            <tr>
              <th class="wide">Label</th>
              <th>{{ tab === "piece" ? "Foam" : "Part" }}</th>
              <th class="many">How many</th>
              <th>Size</th>
              <th class="far knife">Knife, one</th>
              <th class="far min">Min</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="row in g.rows" :key="row.code + row.name">
              <td>
                <b class="code">{{ row.code }}</b>
                <span v-if="tab === 'piece' && row.name.includes(': ')" class="soft">{{
                  row.name.split(": ")[1]
                }}</span>
              </td>
              <td>{{ tab === "piece" ? `${show(row.thickness)} ${row.kind}` : row.name }}</td>
              <td class="figures">{{ count(row) }}</td>
              <td class="figures">{{ say(sizeOf(row)) }}</td>
              <td class="figures far">{{ show(Math.round(row.outline + row.inner)) }}</td>
              <td class="figures far">{{ Math.max(1, Math.round(row.minutes)) }}</td>
            </tr>
          </tbody>
        </table>
      </section>
    </div>
    <template v-if="made" #notes>
      <section>
        <h3>From each sheet</h3>
        <p v-for="s in made.sheets" :key="`${s.kind}${s.thickness}`" class="sum">
          <b>{{ show(s.thickness) }} {{ s.kind }} foam</b>
          <span class="figures">{{ s.parts }} parts, {{ (s.area / 1e6).toFixed(2) }} m²</span>
          <span class="soft figures"
            >{{ (s.outline / 1000).toFixed(1) }} m of cut, {{ Math.round(s.minutes) }} min<template v-if="s.blades"
              >, {{ s.blades }} fresh {{ s.blades === 1 ? "edge" : "edges" }}</template
            ></span
          >
        </p>
        <p class="soft">The foam itself, without what falls away between the parts.</p>
      </section>
      <section>
        <h3>Two lefts</h3>
        <p v-if="!made.lefts.length">Every pair has one as drawn and one turned over.</p>
        <p v-for="words in made.lefts" :key="words" class="look">{{ say(words) }}.</p>
      </section>
    </template>
  </ScreenFrame>
</template>

<style scoped>
.list {
  display: grid;
  gap: 22px;
  align-content: start;
  min-height: 0;
  overflow: auto;
}

h3 .soft {
  margin-left: 8px;
  font: 400 16px var(--sans);
}

table {
  width: 100%;
  min-width: 620px;
  table-layout: fixed;
  border-collapse: collapse;
  background: var(--sheet);
  box-shadow: var(--shadow);
}

th {
  padding: 8px 14px;
  color: var(--graphite-soft);
  font: 400 15px var(--sans);
  text-align: left;
}

td {
  padding: 9px 14px;
  border-top: 1px solid var(--sheet-line);
}

.far {
  text-align: right;
}

.wide {
  width: 26%;
}

.many {
  width: 19%;
}

.knife {
  width: 13%;
}

.min {
  width: 9%;
}

.code {
  margin-right: 10px;
  font: 700 18px var(--slab);
  white-space: nowrap;
}

.sum {
  display: grid;
  gap: 2px;
}

section {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 8px;
}

.stop {
  color: var(--oxide);
}

.look {
  padding-left: 10px;
  border-left: 4px solid var(--ochre-fill);
}

@media (max-width: 760px) {
  section {
    overflow-x: auto;
  }

  td,
  th {
    padding: 8px;
  }
}
</style>
