<script setup lang="ts">
import { computed } from "vue";
import type { Advice, Cut, Schemas } from "@/api/client";
import FlatPicture from "@/canvas/FlatPicture.vue";
import StrainLegend from "@/canvas/StrainLegend.vue";
import { useUnit } from "./units";

/** What the planner found: up to three plans side by side, and where a split or an insert is right. */
const props = defineProps<{ advice: Advice; give: Schemas["AllowanceOut"]; code: string }>();
const emit = defineEmits<{ apply: [cuts: Cut[]]; close: []; thorough: [] }>();
const { show, say } = useUnit();
const seen = (share: number) => (share > 0.75 ? "in plain view" : share > 0.35 ? "half in view" : "out of sight");
const TITLE = {
  none: "No dart wanted",
  darts: "Plans",
  saddle: "A saddle: no dart will do",
  short: "Darts alone are not enough",
};
/** A split comes first where it alone brings the panel under what the foam gives. */
const splitFirst = computed(
  () => props.advice.kind !== "darts" && (props.advice.splits[0]?.p95 ?? Infinity) <= props.advice.limit,
);
const WORTH_SAYING = 20;
/** How a plan stands beside the first: what more or less it asks, and what it costs in cut. */
function beside(k: number) {
  const plan = props.advice.plans[k];
  const least = props.advice.plans.every((p) => p.p95 >= plan.p95);
  const more = plan.length - Math.min(...props.advice.plans.map((p) => p.length));
  if (least && more > WORTH_SAYING) return `Asks least of the foam, and costs ${show(Math.round(more))} more cut.`;
  if (least) return "Asks least of the foam.";
  if (more === 0) return "The shortest cut.";
  return "";
}
/** What the key of a mirror image ends in. */
const MIRRORED = "'";
const names = (plan: Advice["plans"][number]) =>
  plan.flat.darts.length === 1 ? "One dart" : `${plan.flat.darts.length} darts`;
</script>

<template>
  <section class="plans sheet" role="region" aria-label="Dart plans">
    <header>
      <div>
        <h2>{{ code }}: {{ TITLE[advice.kind] }}</h2>
        <p>{{ say(advice.words) }}</p>
      </div>
      <StrainLegend :give="give" />
      <span class="ways">
        <button
          v-if="advice.kind !== 'none'"
          class="press"
          title="Many more darts and pairs are tried; up to a minute, with a way to stop"
          @click="emit('thorough')">
          Search thoroughly
        </button>
        <button class="press" @click="emit('close')">Back to the table</button>
      </span>
    </header>
    <div class="cards">
      <article v-for="(plan, k) in advice.plans" :key="k" :class="{ best: !k && !splitFirst }">
        <FlatPicture :flat="plan.flat" :give="give" />
        <h3>
          {{ names(plan) }} <span class="figures">{{ advice.before.toFixed(1) }} → {{ plan.p95.toFixed(1) }} %</span>
        </h3>
        <p v-for="d in plan.flat.darts.filter((d) => !d.key.endsWith(MIRRORED))" :key="d.key" class="figures soft">
          {{ d.name }}{{ plan.flat.darts.some((o) => o.key === d.key + MIRRORED) ? " and its mirror image" : "" }}:
          {{ show(Math.round(d.intake)) }} wide, {{ show(Math.round(d.left)) }} long, opens {{ d.angle.toFixed(0) }}°
        </p>
        <p v-if="beside(k)">{{ beside(k) }}</p>
        <p class="soft">from the {{ [...new Set(plan.edges)].join(" and the ") }}, {{ seen(plan.seen) }}</p>
        <button class="press main" @click="emit('apply', plan.cuts)">Cut it so</button>
      </article>
      <article
        v-for="(split, k) in advice.splits"
        :key="`s${k}`"
        :class="{ first: splitFirst, best: !k && (splitFirst || !advice.plans.length) }">
        <FlatPicture :flat="split.flat" :give="give" :lines="split.lines" />
        <h3>
          {{ split.kind === "split" ? "Split" : "Slash and insert" }}
          <span class="figures">{{ advice.before.toFixed(1) }} → {{ split.p95.toFixed(1) }} %</span>
        </h3>
        <p class="soft">{{ say(split.words) }}</p>
        <button class="press main" @click="emit('apply', split.cuts)">
          {{ split.kind === "split" ? "Split it here" : "Let in a wedge" }}
        </button>
      </article>
    </div>
  </section>
</template>

<style scoped>
.plans {
  display: grid;
  gap: 14px;
  align-content: start;
  padding: 16px 18px;
  overflow: auto;
  flex: 1;
  min-height: 0;
}

header {
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  align-items: start;
  gap: 14px;
}

header > div:first-child {
  flex: 1 1 340px;
}

header > :deep(.legend) {
  order: 3;
  flex: 0 1 440px;
}

.ways {
  display: flex;
  gap: 8px;
}

.cards {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(220px, 1fr));
  gap: 16px;
  --picture: clamp(190px, 31vh, 420px);
}

article {
  display: grid;
  gap: 6px;
  align-content: start;
  padding-top: 10px;
  border-top: 3px solid var(--sheet-line);
}

.first {
  order: -1;
}

.best {
  border-top-color: var(--verdigris);
}

header .press {
  white-space: nowrap;
}

h3 {
  flex-wrap: wrap;
  display: flex;
  justify-content: space-between;
  gap: 8px;
}
</style>
