<script setup lang="ts">
import type { Schemas } from "@/api/client";
import { useUnit } from "@/parts/units";
import { MISS_BANDS, MISS_COLOURS } from "@/scene/misses";

/** How well a tube follows the scan, and the girths it gives. */
defineProps<{
  title: string;
  fit: Schemas["TubeFitOut"] | null;
  trouble: string;
  fitting: boolean;
}>();
const miss = defineModel<boolean>("miss", { required: true });
const { show, say: words } = useUnit();
</script>

<template>
  <section class="fit">
    <h3>{{ title }}</h3>
    <p v-if="trouble" class="words stop">{{ words(trouble) }}</p>
    <p v-else-if="fitting && !fit" class="soft">Fitting …</p>
    <template v-if="fit">
      <p>
        <b>{{ fit.verdict }}</b>
      </p>
      <p class="ends">
        <span>95 % of it within</span><b class="figures p95">{{ fit.p95.toFixed(2) }} mm</b>
      </p>
      <p class="ends">
        <span>Mean, worst</span><span class="figures">{{ fit.mean.toFixed(2) }}, {{ fit.worst.toFixed(1) }} mm</span>
      </p>
      <label class="tick"><input v-model="miss" type="checkbox" name="miss" /> Show what it misses</label>
      <p v-if="miss" class="bands small">
        <span v-for="(limit, i) in MISS_BANDS" :key="limit"
          ><i :style="{ background: MISS_COLOURS.inside[i + 1] }" /><i
            :style="{ background: MISS_COLOURS.outside[i + 1] }" />
          over {{ limit }}</span
        >
      </p>
      <p v-for="w in fit.warnings" :key="w" class="words look">{{ words(w) }}</p>
      <table class="girths">
        <thead>
          <tr class="soft small">
            <th>Girths</th>
            <td title="A tape runs straight over hollows">by tape</td>
            <td title="The skin where it is cut, into every hollow">of the cut</td>
          </tr>
        </thead>
        <tbody>
          <tr v-for="s in fit.stations" :key="s.station">
            <th>
              {{ s.station }} <span class="soft small">{{ s.at ? `at ${show(Math.round(s.at))}` : "" }}</span>
            </th>
            <td class="figures">{{ show(Math.round(s.tape)) }}</td>
            <td class="figures soft">{{ show(Math.round(s.girth)) }}</td>
          </tr>
        </tbody>
      </table>
    </template>
  </section>
</template>

<style scoped>
section {
  display: grid;
  gap: 8px;
  justify-items: stretch;
}

h3::first-letter {
  text-transform: uppercase;
}

.p95 {
  font-size: 22px;
}

.tick {
  display: flex;
  gap: 8px;
  align-items: center;
}

.bands {
  display: flex;
  gap: 12px;
}

.bands i {
  display: inline-block;
  width: 13px;
  height: 13px;
}

.girths th {
  padding: 2px 10px 2px 0;
  font-weight: 400;
  text-align: left;
}

.girths td {
  white-space: nowrap;
  padding: 2px 6px;
  text-align: right;
}
</style>
