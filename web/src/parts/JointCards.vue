<script setup lang="ts">
import { reactive } from "vue";
import type { Schemas } from "@/api/client";
import JointSection from "./JointSection.vue";
import { useUnit } from "./units";

/** Every seam and dart with the section of its edges, which changes along it where the fold does. */
type Joint = Schemas["JointOut"];
defineProps<{ joints: Joint[]; sides: boolean }>();
const { show, say } = useUnit();
/** How far along each joint the section is looked at, as a share: the joint may grow while it is looked at. */
const shares = reactive<Record<number, number>>({});
const at = (j: Joint, n: number) => Math.round((shares[n] ?? 0.5) * (j.stations.length - 1));
const here = (j: Joint, n: number) => j.stations[at(j, n)];
const changes = (j: Joint) => new Set(j.stations.map((s) => Math.round(s.bevel))).size > 1;
</script>

<template>
  <ul class="joints">
    <li v-for="(j, n) in joints" :key="n" class="sheet">
      <h3>
        {{ j.name }}<span v-if="sides" class="soft">, {{ j.side }}</span>
      </h3>
      <JointSection :fold="here(j, n).fold" :bevel="here(j, n).bevel" :foam="j.foam" />
      <p class="figures">
        <b>{{ here(j, n).bevel ? `${here(j, n).bevel.toFixed(0)}° off square` : "square" }}</b>
        <span class="soft"
          >folds {{ Math.abs(here(j, n).fold).toFixed(0) }}°, {{ show(Math.round(here(j, n).at)) }} from its
          {{ j.ends[0] }}</span
        >
      </p>
      <input
        v-if="changes(j)"
        type="range"
        min="0"
        :max="j.stations.length - 1"
        :value="at(j, n)"
        :aria-label="`Where along the ${j.name}`"
        @input="shares[n] = Number(($event.target as HTMLInputElement).value) / (j.stations.length - 1)" />
      <p>{{ say(j.words) }}</p>
      <p v-if="j.move >= 0.3" class="soft">
        The pattern is drawn on the middle of the foam: trace {{ show(j.move) }} outside it there, and cut back to the
        other face.
      </p>
    </li>
  </ul>
</template>

<style scoped>
.joints {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(250px, 1fr));
  gap: 14px;
  margin: 0 0 18px;
  padding: 0;
  list-style: none;
}

li {
  padding: 12px 16px 14px;
}

h3::first-letter {
  text-transform: uppercase;
}

.figures {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 10px;
  align-items: baseline;
}

.figures b {
  font-size: 20px;
}

input[type="range"] {
  width: 100%;
  accent-color: var(--verdigris);
}
</style>
