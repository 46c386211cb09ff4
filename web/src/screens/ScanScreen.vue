<script setup lang="ts">
import { computed, ref, shallowRef, watch } from "vue";
import { useRouter } from "vue-router";
import { api, Refusal, take, type MeasurementsIn, type Schemas } from "@/api/client";
import { keepSet, say, useAsk, useCatalogue, useChange, useHere } from "@/api/queries";
import EmptySheet from "@/parts/EmptySheet.vue";
import ScreenFrame from "@/parts/ScreenFrame.vue";
import { useUnit } from "@/parts/units";
import { MISS_BANDS, MISS_COLOURS, type Ends, type Spot } from "@/scene/scanStage";
import ScanView from "@/scene/ScanView.vue";

type Segment = Schemas["EndsIn"]["segment"];
const { build, piece } = useHere();
const router = useRouter();
const catalogue = useCatalogue();
const { show, say: words } = useUnit();
const wearerId = computed(() => build.value?.wearer_id ?? 0);
const enabled = computed(() => wearerId.value > 0);
const path = () => ({ params: { path: { wearer: wearerId.value } } });
const scans = useAsk({
  queryKey: ["scans", wearerId],
  queryFn: () => take(api.GET("/api/wearers/{wearer}/scans", path())),
  enabled,
});
const sets = useAsk({
  queryKey: ["sets", wearerId],
  queryFn: () => take(api.GET("/api/wearers/{wearer}/measurement-sets", path())),
  enabled,
});
const bodies = useAsk({
  queryKey: ["scanner-bodies"],
  queryFn: () => take(api.GET("/api/scanner/bodies")),
  staleTime: Infinity,
});

const chosen = ref(0);
const scan = computed(() => scans.data.value?.find((s) => s.id === chosen.value) ?? scans.data.value?.[0]);
const scanId = computed(() => scan.value?.id ?? 0);
const mesh = useAsk({
  queryKey: [
    "scan-mesh",
    scanId,
    computed(() => JSON.stringify([scan.value?.unit, scan.value?.up, scan.value?.front])),
  ],
  queryFn: () => take(api.GET("/api/scans/{scan}/mesh", { params: { path: { scan: scanId.value } } })),
  enabled: computed(() => scanId.value > 0),
});

const SEGMENTS: Segment[] = ["torso", "upper arm", "forearm", "thigh", "lower leg"];
const segment = ref<Segment>("lower leg");
const side = ref<"left" | "right">("left");
watch(
  piece,
  (now) => {
    if (now && (SEGMENTS as string[]).includes(now.segment)) segment.value = now.segment as Segment;
  },
  { immediate: true },
);

const ends = shallowRef<Ends | null>(null);
const how = ref("");
const fit = shallowRef<Schemas["TubeFitOut"] | null>(null);
const trouble = ref("");
const miss = ref(true);
const fitting = ref(false);
let turn = 0;

const reading = (): Schemas["ScanReading-Input"] => ({
  segment: segment.value,
  side: segment.value === "torso" ? "both" : side.value,
  scan: scan.value!.file,
  unit: scan.value!.unit,
  up: scan.value!.up,
  front: scan.value!.front,
  low: ends.value!.low,
  high: ends.value!.high,
  ahead: ends.value!.ahead,
});

async function propose() {
  if (!scan.value) return;
  const mine = ++turn;
  trouble.value = "";
  fit.value = null;
  ends.value = null;
  try {
    const got = await take(
      api.POST("/api/scans/{scan}/ends", {
        params: { path: { scan: scanId.value } },
        body: { segment: segment.value, side: side.value },
      }),
    );
    if (mine !== turn) return;
    how.value = got.how;
    ends.value = { low: got.low as Spot, high: got.high as Spot, ahead: got.front as Spot };
    await fitNow();
  } catch (error) {
    if (mine === turn) trouble.value = (error as Error).message;
  }
}

async function fitNow() {
  const mine = ++turn;
  fitting.value = true;
  trouble.value = "";
  try {
    const got = await take(api.POST("/api/scans/fit", { body: reading() }));
    if (mine === turn) fit.value = got;
  } catch (error) {
    if (mine !== turn) return;
    fit.value = null;
    trouble.value = error instanceof Refusal ? error.message : "It cannot be fitted";
  } finally {
    if (mine === turn) fitting.value = false;
  }
}
watch([scanId, () => scan.value?.unit, () => scan.value?.up, () => scan.value?.front, segment, side], propose, {
  immediate: true,
});

const along = (e: Ends): Spot => e.high.map((v, i) => v - e.low[i]) as Spot;
async function moved(index: number, at: Spot) {
  const got = await take(
    api.POST("/api/scans/{scan}/middle", {
      params: { path: { scan: scanId.value } },
      body: { at, way: segment.value === "torso" ? [0, 0, 1] : along(ends.value!) },
    }),
  );
  ends.value = { ...ends.value!, [index ? "high" : "low"]: got.at as Spot };
  how.value = "moved by hand";
  await fitNow();
}

function nudge(index: number, mm: number) {
  const e = ends.value!;
  const way = along(e);
  const size = Math.hypot(...way);
  const key = index ? "high" : "low";
  ends.value = { ...e, [key]: e[key].map((v, i) => v + (way[i] / size) * mm) as Spot };
  how.value = "moved by hand";
  void fitNow();
}

function turnFront(degrees: number) {
  const a = (degrees * Math.PI) / 180;
  const [x, y, z] = ends.value!.ahead;
  ends.value = { ...ends.value!, ahead: [x * Math.cos(a) - y * Math.sin(a), x * Math.sin(a) + y * Math.cos(a), z] };
  void fitNow();
}

const setStance = useChange((change: object) => {
  const s = scan.value!;
  return take(
    api.PUT("/api/scans/{scan}/stance", {
      params: { path: { scan: s.id } },
      body: { unit: s.unit, up: s.up, front: s.front, ...change },
    }),
  );
});
const remove = useChange(() => take(api.DELETE("/api/scans/{scan}", { params: { path: { scan: scanId.value } } })));

const sending = ref(false);
const bring = useChange(async (file: File) => {
  sending.value = true;
  try {
    const answer = await fetch(`/api/wearers/${wearerId.value}/scans?name=${encodeURIComponent(file.name)}`, {
      method: "POST",
      body: file,
      headers: { Prefer: "problem-as-answer", "content-type": "application/octet-stream" },
    });
    const got = (await answer.json()) as { id?: number; detail?: string };
    if (!got.id) throw new Error(got.detail ?? "The file could not be read");
    chosen.value = got.id;
  } finally {
    sending.value = false;
  }
});

function pick(event: Event) {
  const input = event.target as HTMLInputElement;
  if (input.files?.[0]) bring.mutate(input.files[0]);
  input.value = "";
}

const shape = ref("middling");
const job = ref<Schemas["JobOut"] | null>(null);
const runScanner = useChange(async () => {
  job.value = await take(
    api.POST("/api/wearers/{wearer}/scanner", {
      ...path(),
      body: { shape: shape.value, seed: Math.floor(Math.random() * 999) },
    }),
  );
  while (job.value.state === "running") {
    await new Promise((done) => setTimeout(done, 250));
    job.value = await take(api.GET("/api/jobs/{job}", { params: { path: { job: job.value.id } } }));
  }
  if (job.value.state === "failed") say(job.value.words, "error");
  if (job.value.result) chosen.value = job.value.result;
  job.value = null;
});
const stop = () => job.value && void take(api.DELETE("/api/jobs/{job}", { params: { path: { job: job.value.id } } }));

const newest = computed(() => sets.data.value?.[0]);
const inUse = computed(() =>
  newest.value?.readings.scans.find((s) => s.segment === segment.value && (s.side === side.value || s.side === "both")),
);
const now = () => new Date(Date.now() - new Date().getTimezoneOffset() * 60_000).toISOString().slice(0, 10);

/** Put the reading into the newest set, or begin one with it. */
const use = useChange(async () => {
  const body = JSON.parse(JSON.stringify(newest.value?.readings ?? { taken_on: now(), limbs: [] })) as MeasurementsIn;
  const mine = reading();
  body.scans = [
    ...(body.scans ?? []).filter(
      (s) => s.segment !== mine.segment || (s.side !== mine.side && s.side !== "both" && mine.side !== "both"),
    ),
    mine,
  ];
  body.confirmed = [...new Set([...(body.confirmed ?? []), ...(fit.value?.questions ?? []).map((q) => q.key)])];
  if (newest.value)
    keepSet(
      await take(api.PUT("/api/measurement-sets/{number}", { params: { path: { number: newest.value.id } }, body })),
    );
  else await take(api.POST("/api/wearers/{wearer}/measurement-sets", { ...path(), body }));
  say(`The ${mine.segment} now comes from the scan`);
});
const leave = useChange(async () => {
  const body = JSON.parse(JSON.stringify(newest.value!.readings)) as MeasurementsIn;
  body.scans = (body.scans ?? []).filter(
    (s) => s !== undefined && !(s.segment === segment.value && (s.side === side.value || s.side === "both")),
  );
  keepSet(
    await take(api.PUT("/api/measurement-sets/{number}", { params: { path: { number: newest.value!.id } }, body })),
  );
});
const template = computed(
  () =>
    catalogue.data.value?.templates.find((t) => t.segment === segment.value && t.drawn) ??
    catalogue.data.value?.templates.find((t) => t.segment === segment.value),
);
const addPiece = useChange(async () => {
  const t = template.value!;
  const made = await take(
    api.POST("/api/builds/{build}/pieces", {
      params: { path: { build: build.value!.id } },
      body: {
        name: "",
        design: { ...t.design, side: segment.value === "torso" ? "both" : side.value } as Schemas["PieceDesign-Input"],
      },
    }),
  );
  await router.push({ name: "ink", params: { build: build.value!.id }, query: { piece: made.id } });
});
const verdict = computed(() =>
  !fit.value
    ? ""
    : fit.value.p95 < 1
      ? "The tube follows the scan"
      : fit.value.p95 < 2.5
        ? "The tube follows the scan roughly"
        : "The tube does not follow the scan here",
);
const AXES = ["x", "-x", "y", "-y", "z", "-z"];
</script>

<template>
  <ScreenFrame
    title="Off a scan"
    :about="
      scan ? `${scan.name}, ${scan.triangles.toLocaleString()} triangles` : 'A body as a mesh: OBJ, STL, PLY or GLB'
    ">
    <template #tools>
      <RouterLink class="press" :to="{ name: 'wearer', query: piece ? { piece: piece.id } : {} }"
        >Back to the tape</RouterLink
      >
    </template>
    <div class="bar">
      <label class="press main"
        ><input class="file" type="file" name="scan-file" accept=".obj,.stl,.ply,.glb" @change="pick" />{{
          sending ? "Reading the file …" : "Bring in a scan"
        }}</label
      >
      <span class="device">
        <select v-model="shape" class="press" aria-label="Body on the simulated scanner">
          <option v-for="s in bodies.data.value" :key="s" :value="s">{{ s }}</option>
        </select>
        <button
          class="press"
          :disabled="Boolean(job)"
          title="A simulated scanner with made-up bodies, noise and holes"
          @click="runScanner.mutate(undefined)">
          Scan with the simulated scanner
        </button>
      </span>
      <select
        v-if="(scans.data.value?.length ?? 0) > 1"
        class="press"
        aria-label="Scan"
        :value="scanId"
        @change="chosen = Number(($event.target as HTMLSelectElement).value)">
        <option v-for="s in scans.data.value" :key="s.id" :value="s.id">{{ s.name }}</option>
      </select>
    </div>
    <div v-if="job" class="job words" role="status">
      <progress :value="job.share" max="1" /> <b class="figures">{{ Math.round(job.share * 100) }} %</b>
      <span>{{ job.words }}</span>
      <button class="press small" @click="stop">Stop</button>
    </div>
    <EmptySheet v-if="scans.isSuccess.value && !scan && !job" title="No scan of this wearer yet">
      <p>
        A phone's body scan or a mesh from any scanner will do, arms a little away from the sides, in the clothes worn
        under the armour. Holes and noise are no matter.
      </p>
    </EmptySheet>
    <template v-if="scan && mesh.data.value">
      <div class="tabs" role="tablist">
        <button
          v-for="s in SEGMENTS"
          :key="s"
          role="tab"
          :aria-selected="s === segment"
          :class="{ on: s === segment }"
          @click="segment = s">
          {{ s }}
        </button>
        <span v-if="segment !== 'torso'" role="group" aria-label="Side">
          <button
            v-for="s in ['left', 'right'] as const"
            :key="s"
            class="press small"
            :class="{ main: s === side }"
            @click="side = s">
            {{ s }}
          </button>
        </span>
      </div>
      <ScanView :mesh="mesh.data.value" :ends="ends" :fit="fit" :miss="miss" @moved="moved" />
    </template>

    <template v-if="scan" #notes>
      <section v-if="scan.warnings.length" class="warn">
        <p v-for="w in scan.warnings" :key="w">{{ words(w) }}</p>
      </section>
      <section class="fit">
        <h3>{{ segment }}{{ segment === "torso" ? "" : `, ${side}` }}</h3>
        <p v-if="trouble" class="words stop">{{ words(trouble) }}</p>
        <p v-else-if="fitting && !fit" class="soft">Fitting …</p>
        <template v-if="fit">
          <p>
            <b>{{ verdict }}</b>
          </p>
          <p class="row">
            <span>95 % of it within</span><b class="figures p95">{{ fit.p95.toFixed(2) }} mm</b>
          </p>
          <p class="row">
            <span>Mean, worst</span
            ><span class="figures">{{ fit.mean.toFixed(2) }}, {{ fit.worst.toFixed(1) }} mm</span>
          </p>
          <label class="tick"><input v-model="miss" type="checkbox" name="miss" /> Show what it misses</label>
          <p v-if="miss" class="bands small">
            <span v-for="(limit, i) in MISS_BANDS" :key="limit"
              ><i :style="{ background: MISS_COLOURS.inside[i + 1] }" /><i
                :style="{ background: MISS_COLOURS.outside[i + 1] }" />
              over {{ limit }}</span
            >
          </p>
          <p v-for="w in fit.warnings" :key="w" class="soft">{{ words(w) }}</p>
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
      <section v-if="fit" class="go">
        <p v-for="q in fit.questions" :key="q.key" class="words stop" role="alert">{{ words(q.message) }}</p>
        <button class="press main big" @click="use.mutate(undefined)">
          {{ fit.questions.length ? "I have looked: use it" : inUse ? "Use this fit instead" : "Use it for patterns" }}
        </button>
        <button v-if="inUse" class="press small" @click="leave.mutate(undefined)">Back to the tape's readings</button>
        <button v-if="inUse && template" class="press" @click="addPiece.mutate(undefined)">
          Ink a {{ template.word.toLowerCase() }} on it →
        </button>
      </section>
      <section v-if="ends">
        <h3>Ends and front</h3>
        <p class="soft small">
          {{ how ? `Proposed from ${how}.`.replace("Proposed from moved", "Moved") : "" }} Drag the balls over the skin,
          or step them:
        </p>
        <p v-for="(word, i) in ['Lower end', 'Upper end']" :key="word" class="row">
          <span><i class="ball" :class="{ up: i }" />{{ word }}</span
          ><span
            ><button class="press small" :title="`${word}: 5 mm down the limb`" @click="nudge(i, -5)">−5</button>
            <button class="press small" :title="`${word}: 5 mm up the limb`" @click="nudge(i, 5)">+5</button></span
          >
        </p>
        <p class="row">
          <span>Front</span
          ><span
            ><button class="press small" @click="turnFront(-10)">−10°</button>
            <button class="press small" @click="turnFront(10)">+10°</button></span
          >
        </p>
        <button class="press small" @click="propose">Propose again</button>
      </section>
      <section>
        <h3>How the file is read</h3>
        <p v-if="mesh.data.value" class="soft">
          It stands {{ show(Math.round(mesh.data.value.height)) }} tall. If that is wrong, change the unit.
        </p>
        <div class="three">
          <label class="field"
            ><span class="word">Unit</span
            ><select
              name="unit"
              :value="scan.unit"
              @change="setStance.mutate({ unit: ($event.target as HTMLSelectElement).value })">
              <option v-for="u in ['mm', 'cm', 'm', 'in']" :key="u">{{ u }}</option>
            </select></label
          >
          <label class="field"
            ><span class="word">Up</span
            ><select
              name="up"
              :value="scan.up"
              @change="setStance.mutate({ up: ($event.target as HTMLSelectElement).value })">
              <option v-for="a in AXES" :key="a">{{ a }}</option>
            </select></label
          >
          <label class="field"
            ><span class="word">Front</span
            ><select
              name="front"
              :value="scan.front"
              @change="setStance.mutate({ front: ($event.target as HTMLSelectElement).value })">
              <option v-for="a in AXES" :key="a">{{ a }}</option>
            </select></label
          >
        </div>
        <button class="press small" title="Undo brings it back" @click="remove.mutate(undefined)">
          Remove this scan
        </button>
      </section>
    </template>
  </ScreenFrame>
</template>

<style scoped>
section {
  display: grid;
  gap: 8px;
  justify-items: stretch;
}

.bar,
.device {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
}

.file {
  position: absolute;
  width: 1px;
  height: 1px;
  opacity: 0;
}

.job {
  display: flex;
  gap: 12px;
  align-items: center;
}

.tabs {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  align-items: center;
}

.tabs > button {
  min-height: 40px;
  padding: 4px 14px;
  border: 0;
  border-bottom: 3px solid transparent;
  background: none;
  font: 700 17px var(--slab);
  cursor: pointer;
}

.tabs .on {
  border-color: var(--verdigris);
  background: var(--sheet);
}

h3::first-letter {
  text-transform: uppercase;
}

.row {
  display: flex;
  justify-content: space-between;
  gap: 8px;
  align-items: center;
}

.p95 {
  font-size: 22px;
}

.big {
  min-height: 50px;
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

.ball {
  display: inline-block;
  width: 13px;
  height: 13px;
  margin-right: 8px;
  border-radius: 50%;
  background: #9c3a29;
}

.ball.up {
  background: #c98a1b;
}

.three {
  display: grid;
  grid-template-columns: repeat(3, 1fr);
  gap: 8px;
}

.three select {
  width: 100%;
  height: 36px;
}

.warn {
  padding-left: 10px;
  border-left: 5px solid var(--ochre-fill);
}
</style>
