<script setup lang="ts">
import { useRafFn } from "@vueuse/core";
import { computed, ref, watch } from "vue";
import { useRoute, useRouter } from "vue-router";
import { api, take, type Schemas } from "@/api/client";
import { say as tell, useAsk, useChange, useHere } from "@/api/queries";
import ScreenFrame from "@/frame/ScreenFrame.vue";
import { useUnit } from "@/parts/units";
import CutterBed from "./CutterBed.vue";
import CutterFields from "./CutterFields.vue";
import { at, saidAt, UP } from "./cutterPlay";

/** A sheet on the simulated cutter: its way played with knife and time, dry or in earnest, stopped, and measured. */
const { buildId } = useHere();
const { show, say } = useUnit();
const route = useRoute();
const router = useRouter();
const material = computed(() => String(route.query.material ?? ""));
const sheet = computed(() => String(route.query.sheet ?? ""));
const path = computed(() => ({ build: buildId.value, material: material.value }));

const asked = useAsk({
  queryKey: ["cutter-play", buildId, material, sheet],
  queryFn: (how) =>
    take(
      api.GET("/api/builds/{build}/nest/{material}/play", {
        ...how,
        params: { path: path.value, query: { sheet: sheet.value } },
      }),
    ),
  enabled: computed(() => buildId.value > 0 && !!sheet.value),
});
const made = computed(() => asked.data.value);
const nest = computed(() => ({
  name: "nest",
  params: { build: buildId.value },
  query: { ...route.query, sheet: undefined },
}));

const dry = ref(false);
const pace = ref(20);
const seconds = ref(0);
const playing = ref(false);
const cut = ref<Schemas["PlayedOut"] | null>(null);
const now = computed(() => at(made.value?.events ?? [[0, 0, 0, UP]], seconds.value));
const raf = useRafFn(
  ({ delta }) => {
    seconds.value = Math.min(made.value!.seconds, seconds.value + (delta / 1000) * pace.value);
    if (seconds.value >= made.value!.seconds) end();
  },
  { immediate: false },
);
function go() {
  if (seconds.value >= made.value!.seconds) seconds.value = 0;
  cut.value = null;
  playing.value = true;
  raf.resume();
}
function rest() {
  playing.value = false;
  raf.pause();
}
const measuring = ref(false);
async function measure(until: number) {
  const query = { sheet: sheet.value, dry: dry.value, until };
  measuring.value = true;
  try {
    const params = { path: path.value, query };
    cut.value = await take(api.GET("/api/builds/{build}/nest/{material}/play", { params }));
  } catch (lost) {
    tell((lost as Error).message, "error");
  } finally {
    measuring.value = false;
  }
}
/** The machine is stopped, or has come to its end: what lies cut on its bed is measured. */
function end() {
  rest();
  void measure(seconds.value + (seconds.value >= made.value!.seconds ? 1 : 0));
}
watch([made, dry], () => {
  rest();
  seconds.value = 0;
  cut.value = null;
});

const free = computed(() => cut.value?.parts.filter((p) => p.worst !== null) ?? []);
const worst = computed(() => Math.max(0, ...free.value.map((p) => p.worst!)));
const all = computed(() => !!cut.value && !dry.value && cut.value.parts.every((p) => p.right));
const done = useChange(async () => {
  const query = { sheet: sheet.value };
  await take(api.POST("/api/builds/{build}/nest/{material}/cut", { params: { path: path.value, query } }));
  await router.push(nest.value);
});
const clock = (s: number) => `${Math.floor(s / 60)}:${String(Math.floor(s % 60)).padStart(2, "0")}`;
const said = computed(() => saidAt(made.value?.remarks ?? [], seconds.value));
const state = computed(() => {
  if (!made.value) return "";
  const depth = now.value.depth;
  if (depth === UP) return seconds.value >= made.value.seconds ? "home" : "tool up";
  if (dry.value) return "dry run, tool up";
  return depth === 0 ? "pen drawing" : `knife ${show(depth)} deep`;
});
const file = computed(
  () =>
    `/api/builds/${buildId.value}/nest/${encodeURIComponent(material.value)}/knife` +
    `?sheet=${encodeURIComponent(sheet.value)}`,
);
</script>

<template>
  <ScreenFrame title="Cutter" :about="say(`${material} mm, ${sheet}`)">
    <template #tools>
      <router-link class="press" :to="nest">Back to Nest</router-link>
      <a v-if="made" class="press" :href="file">Knife code</a>
    </template>
    <p v-if="asked.error.value" class="stop" role="alert">{{ say((asked.error.value as Error).message) }}</p>
    <template v-if="made">
      <CutterBed :made="made" :now="now" :dry="dry" :seconds="seconds" />
      <div class="desk sheet">
        <b class="state figures" role="status">{{ state }}</b>
        <span class="figures">{{ clock(seconds) }} of {{ clock(made.seconds) }}</span>
        <span class="soft said">{{ say(said) }}</span>
      </div>
      <input
        v-model.number="seconds"
        class="line"
        type="range"
        min="0"
        :max="made.seconds"
        step="0.1"
        aria-label="Time"
        @input="((cut = null), rest())" />
      <div class="presses">
        <button v-if="!playing" class="press main" @click="go">{{ dry ? "Run dry" : "Cut" }}</button>
        <button v-else class="press" @click="rest">Hold</button>
        <button class="press" :disabled="!seconds || measuring" @click="end">Stop</button>
        <label class="choice"><input v-model="dry" name="dry" type="checkbox" /> dry run, tool up</label>
        <label class="choice"
          >Shown
          <select v-model.number="pace" class="press" name="pace">
            <option :value="1">as it is</option>
            <option :value="20">20 times as quick</option>
            <option :value="120">120 times as quick</option>
          </select></label
        >
      </div>
    </template>
    <template v-if="made || asked.error.value" #notes>
      <section v-if="cut">
        <h3>{{ dry ? "Dry run" : "What it cut" }}</h3>
        <p v-if="dry" class="soft">The way is clear of clamps and stays on the sheet. Nothing was cut.</p>
        <template v-else>
          <p :class="{ stop: !all }" class="sum">
            <b>{{ free.length }} of {{ cut.parts.length }} parts cut free</b>
            <span v-if="free.length"
              >at most {{ worst.toFixed(2) }} mm off their pattern; {{ cut.allowed }} mm is let pass</span
            >
          </p>
          <ul class="soft">
            <li v-for="p in cut.parts" :key="p.key" :class="{ stop: p.worst !== null && !p.right }">
              {{ p.code }}: {{ p.worst === null ? "not cut free" : `${p.worst.toFixed(2)} mm` }}
            </li>
          </ul>
          <button v-if="all" class="press main" @click="done.mutate()">It is cut: take it off the stock</button>
        </template>
      </section>
      <section v-if="made">
        <h3>Corners</h3>
        <p v-if="!made.over_cut">An upright blade cuts corners to the bottom: it runs past none.</p>
        <p v-else>
          The blade runs {{ show(made.over_cut) }} past a corner, so that its tip cuts it at the bottom, too.
          <template v-if="made.left_by_hand">
            At {{ made.left_by_hand }} of {{ made.corners }} it stops short, since it would go into a part or off the
            sheet: finish these with a blade.
          </template>
        </p>
        <p v-if="made.tabs" class="soft">
          {{ made.tabs }} small {{ made.tabs === 1 ? "part is" : "parts are" }} held by two tabs each: tear them off,
          sand the stubs.
        </p>
        <p class="soft">Folds, scores and grooves are drawn, not cut: how deep they go is told on Foam.</p>
      </section>
      <CutterFields />
    </template>
  </ScreenFrame>
</template>

<style scoped>
section {
  display: grid;
  gap: 8px;
}

.desk {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 22px;
  align-items: baseline;
  padding: 10px 16px;
}

.state {
  min-width: 190px;
  font: 700 24px var(--slab);
}

.said {
  overflow-wrap: anywhere;
}

.line {
  width: 100%;
  margin: 0;
  accent-color: var(--verdigris);
}

.presses {
  display: flex;
  flex-wrap: wrap;
  gap: 10px 14px;
  align-items: center;
}

.choice {
  display: flex;
  gap: 8px;
  align-items: center;
}

.sum {
  display: grid;
}

ul {
  margin: 0;
  padding-left: 18px;
}

.stop {
  color: var(--oxide);
}
</style>
