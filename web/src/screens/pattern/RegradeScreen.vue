<script setup lang="ts">
import { computed, ref, shallowRef, watch } from "vue";
import { api, take, type Schemas } from "@/api/client";
import { say, useAsk, useHere, useSettings } from "@/api/queries";
import { path } from "@/canvas/flatPaths";
import EmptySheet from "@/frame/EmptySheet.vue";
import ScreenFrame from "@/frame/ScreenFrame.vue";
import { useUnit } from "@/parts/units";

/** After measuring again: piece by piece, what still fits, what a strip mends, what must be cut anew. */
const { build, buildId } = useHere();
const { say: words } = useUnit();
const settings = useSettings();
const paper = computed(() => settings.data.value?.paper ?? "A4");
const wearer = computed(() => build.value?.wearer_id ?? 0);
const sets = useAsk({
  queryKey: ["sets", wearer],
  queryFn: (how) =>
    take(api.GET("/api/wearers/{wearer}/measurement-sets", { ...how, params: { path: { wearer: wearer.value } } })),
  enabled: computed(() => wearer.value > 0),
});
const older = computed(() =>
  [...(sets.data.value ?? [])].sort((a, b) => b.readings.taken_on.localeCompare(a.readings.taken_on)).slice(1),
);
const since = ref(0);
watch(older, (list) => list.length && !since.value && (since.value = list[0].id), { immediate: true });
const job = shallowRef<Schemas["JobOut"] | null>(null);
const found = shallowRef<Schemas["RegradeOut"] | null>(null);
const done = ref(0);
const chosen = ref("");

async function run() {
  found.value = null;
  try {
    job.value = await take(
      api.POST("/api/builds/{build}/regrades", {
        params: { path: { build: buildId.value } },
        body: { since: since.value },
      }),
    );
    while (job.value.state === "running") {
      await new Promise((next) => setTimeout(next, 250));
      job.value = await take(api.GET("/api/jobs/{job}", { params: { path: { job: job.value.id } } }));
    }
    if (job.value.state === "failed") say(job.value.words, "error");
    if (job.value.state === "done") {
      done.value = job.value.id;
      found.value = await take(api.GET("/api/regrades/{job}", { params: { path: { job: job.value.id } } }));
    }
  } catch (error) {
    say((error as Error).message, "error");
  } finally {
    job.value = null;
  }
}
watch([since, buildId], () => since.value && buildId.value && void run(), { immediate: true });
const stop = () => job.value && void take(api.DELETE("/api/jobs/{job}", { params: { path: { job: job.value.id } } }));

const WORD = { fits: "still fits", strip: "wants a strip", trim: "trim it", again: "cut again" };
const ORDER = ["again", "strip", "trim", "fits"] as const;
const rows = computed(() =>
  (found.value?.pieces ?? []).map((p) => ({
    ...p,
    state: ORDER.find((s) => p.panels.some((c) => c.state === s)) ?? "fits",
  })),
);
const shown = computed(
  () =>
    rows.value.flatMap((p) => p.panels).find((c) => c.code === chosen.value) ??
    rows.value.flatMap((p) => p.panels).find((c) => c.state !== "fits"),
);
const strips = computed(() => rows.value.some((p) => p.panels.some((c) => c.state === "strip")));
const box = computed(() => {
  const all = shown.value
    ? [...shown.value.old, ...shown.value.new]
    : [
        [0, 0],
        [1, 1],
      ];
  const [xs, ys] = [all.map((p) => p[0]), all.map((p) => p[1])];
  const [left, top] = [Math.min(...xs) - 12, -Math.max(...ys) - 12];
  return [left, top, Math.max(...xs) + 12 - left, -Math.min(...ys) + 12 - top].join(" ");
});
</script>

<template>
  <ScreenFrame
    title="What still fits"
    :about="
      found ? `Cut to the measures of ${found.since}, laid on the newest.` : 'The same ink on the newest measures.'
    ">
    <template #tools>
      <select v-if="older.length" v-model="since" class="press" name="since" aria-label="Measures the suit was cut to">
        <option v-for="s in older" :key="s.id" :value="s.id">cut to {{ s.readings.taken_on }}</option>
      </select>
      <a v-if="strips" class="press" :href="`/api/regrades/${done}/strips.svg`" download>Strips, SVG</a>
      <a v-if="strips" class="press main" :href="`/api/regrades/${done}/strips.pdf?paper=${paper}`" download
        >Strips to cut, PDF</a
      >
      <RouterLink class="press" :to="{ name: 'wearer', params: { build: buildId } }">Back to the tape</RouterLink>
    </template>
    <div v-if="job" class="job words" role="status">
      <progress :value="job.share" max="1" /> <b class="figures">{{ Math.round(job.share * 100) }} %</b>
      <span>{{ job.words }}</span>
      <button class="press small" @click="stop">Stop</button>
    </div>
    <EmptySheet v-if="sets.isSuccess.value && !older.length" title="Measured only once"
      >Measure again, and every piece is held against the body as it is now.</EmptySheet
    >
    <div v-if="found" class="split">
      <ul class="plain-list sheet">
        <li v-for="p in rows" :key="p.piece" :class="p.state">
          <h3>
            {{ p.name }} <span>{{ p.trouble ? "cannot be laid" : WORD[p.state] }}</span>
          </h3>
          <p v-if="p.trouble">{{ words(p.trouble) }}</p>
          <button
            v-for="c in p.panels"
            :key="c.code"
            class="line"
            :aria-pressed="c.code === shown?.code"
            @click="chosen = c.code">
            <b>{{ c.code }}</b> <span>{{ words(c.words) }}</span>
          </button>
        </li>
      </ul>
      <figure v-if="shown" class="sheet">
        <svg :viewBox="box" role="img" :aria-label="`${shown.code}, old and new outline`">
          <path v-if="shown.strip" class="strip" :class="shown.state" :d="path(shown.strip, true)" />
          <path class="old" :d="path(shown.old, true)" />
          <path class="new" :d="path(shown.new, true)" />
        </svg>
        <figcaption>
          <b>{{ shown.code }}</b>
          <span class="soft">grey: as it was cut; dark: on the body now. {{ words(shown.words) }}</span>
        </figcaption>
      </figure>
    </div>
  </ScreenFrame>
</template>

<style scoped>
.split {
  display: grid;
  grid-template-columns: minmax(280px, 1fr) minmax(0, 1.1fr);
  gap: 18px;
  flex: 1;
  min-height: 0;
}

ul {
  padding: 14px 18px;
  overflow: auto;
}

li {
  display: grid;
  gap: 4px;
  padding: 8px 0 8px 12px;
  border-left: 5px solid var(--verdigris);
  margin-bottom: 10px;
}

li.strip,
li.trim {
  border-color: var(--ochre-fill);
}

li.again {
  border-color: var(--oxide);
}

h3 {
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  gap: 8px;
}

h3 span {
  font: 400 16px var(--sans);
  color: var(--graphite-soft);
}

.line {
  display: flex;
  gap: 10px;
  padding: 5px 8px;
  border: 0;
  background: none;
  text-align: left;
  cursor: pointer;
}

.line b {
  white-space: nowrap;
}

.line[aria-pressed="true"] {
  background: var(--vellum);
}

figure {
  display: flex;
  flex-direction: column;
  gap: 10px;
  margin: 0;
  padding: 16px;
  min-height: 320px;
}

svg {
  flex: 1;
  min-height: 0;
}

path {
  fill: none;
  stroke-width: 2;
  vector-effect: non-scaling-stroke;
}

.old {
  stroke: var(--graphite-soft);
  stroke-dasharray: 6 5;
}

.new {
  stroke: var(--graphite);
}

path.strip {
  fill: color-mix(in srgb, var(--ochre) 45%, transparent);
}

path.trim {
  fill: color-mix(in srgb, var(--oxide) 35%, transparent);
}

.job {
  display: flex;
  align-items: center;
  gap: 12px;
}

@media (max-width: 760px) {
  .split {
    grid-template-columns: 1fr;
  }
}
</style>
