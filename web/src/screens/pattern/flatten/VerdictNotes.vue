<script setup lang="ts">
import { computed } from "vue";
import type { Panel, Pattern } from "@/api/client";
import { useUnit } from "@/parts/units";
import { STATE } from "./verdicts";

/** What a panel asks of its foam, and the way to its darts. spared: names of edges that no dart may open on. */
const props = defineProps<{
  panel: Panel;
  alone: boolean;
  give: Pattern["allowance"];
  busy: boolean;
  settled: boolean;
}>();
const emit = defineEmits<{ plan: [] }>();
const spared = defineModel<string[]>("spared", { required: true });
const { say: words } = useUnit();
const edges = computed(() => [
  ...new Set(
    props.panel.edges.filter((e) => e.kind !== "dart").map((e) => e.name.replace(/, part \d+$| \(mirrored\)$/g, "")),
  ),
]);
const spare = (name: string) =>
  (spared.value = spared.value.includes(name) ? spared.value.filter((n) => n !== name) : [...spared.value, name]);
</script>

<template>
  <section class="verdict" :class="STATE[panel.verdict.state]">
    <h3>{{ alone ? "" : `${panel.label.code}: ` }}{{ words(panel.verdict.sentence) }}</h3>
    <table>
      <thead>
        <tr>
          <td />
          <th>95 % of it<br />gives at most</th>
          <th>comfortable,<br />warm{{ give.measured ? "" : " (est.)" }}</th>
        </tr>
      </thead>
      <tbody class="figures">
        <tr>
          <th>stretch</th>
          <td>
            <b>{{ panel.stretch_p95.toFixed(1) }} %</b>
          </td>
          <td>{{ give.stretch.toFixed(1) }} %</td>
        </tr>
        <tr>
          <th>squeeze</th>
          <td>
            <b>{{ panel.squeeze_p95.toFixed(1) }} %</b>
          </td>
          <td>{{ give.squeeze.toFixed(1) }} %</td>
        </tr>
        <tr>
          <th>either</th>
          <td>
            <b class="p95">{{ panel.p95.toFixed(1) }} %</b>
          </td>
          <td />
        </tr>
      </tbody>
    </table>
    <p v-if="!settled" class="soft small">Still settling: these figures and lines are the first, quick ones.</p>
    <p class="soft">{{ words(panel.verdict.advice) }}</p>
    <button
      class="press"
      :class="{ main: ['hard', 'split'].includes(panel.verdict.state) }"
      :disabled="busy"
      @click="emit('plan')">
      Plan its darts
    </button>
    <details>
      <summary>Edges to spare</summary>
      <p class="chips">
        <button
          v-for="e in edges"
          :key="e"
          class="press small"
          :class="{ main: spared.includes(e) }"
          :aria-pressed="spared.includes(e)"
          @click="spare(e)">
          {{ e }}
        </button>
      </p>
    </details>
  </section>
</template>

<style scoped>
section {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 7px;
}

.chips {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  padding-top: 6px;
}

.verdict {
  padding-left: 12px;
  border-left: 5px solid var(--verdigris);
}

.verdict.warm {
  border-color: var(--ochre-fill);
}

.verdict.hard {
  border-color: var(--plum);
}

.verdict.stop {
  border-color: var(--oxide);
}

.verdict th {
  font-weight: 400;
  text-align: left;
}

.verdict thead th {
  color: var(--graphite-soft);
  font-size: 13px;
  line-height: 1.25;
}

.verdict table :is(td, thead th) {
  padding: 1px 0 1px 10px;
  text-align: right;
}

.p95 {
  font-size: 20px;
}
</style>
