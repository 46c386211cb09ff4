<script setup lang="ts">
import { useIntervalFn, useWakeLock } from "@vueuse/core";
import { computed, onBeforeUnmount, ref, watch } from "vue";
import { api, take, type Schemas } from "@/api/client";
import { say as tell, useChange, useHere, useKept, usePieceQuery } from "@/api/queries";
import { ring } from "@/frame/bell";
import CautionGate from "@/parts/CautionGate.vue";
import NoPattern from "@/frame/NoPattern.vue";
import ScreenFrame from "@/frame/ScreenFrame.vue";
import { clock, useUnit } from "@/parts/units";
import GunFields from "@/screens/making/foam/GunFields.vue";
import HeatPhases from "@/screens/making/foam/HeatPhases.vue";
import ScrapTests from "@/screens/making/foam/ScrapTests.vue";

/** The heat coach: a big number and what to do now, fed by a probe that reads the face. */
const { build, piece, pieceId } = useHere();
const { show, say } = useUnit();
const heat = usePieceQuery("heat", pieceId, (p, how) =>
  take(api.GET("/api/pieces/{piece}/heat", { ...how, params: { path: { piece: p } } })),
);
type Gun = Schemas["HeatGun-Output"];
const gun = useKept<Gun>(
  "heat-gun",
  () => take(api.GET("/api/heat-gun")),
  (body) => take(api.PUT("/api/heat-gun", { body: body as Schemas["HeatGun-Input"] })),
);
const setGun = (change: (now: Gun) => Partial<Schemas["HeatGun-Input"]>) =>
  gun.change((now) => ({ ...now, ...change(now) }) as Gun);

const chosen = ref(0);
const faces = ref<1 | 2>(2);
const probe = ref<"simulated" | "own">("simulated");
const pace = ref(1);
const sheet = computed(() => heat.data.value?.sheets[Math.min(chosen.value, heat.data.value.sheets.length - 1)]);
const run = ref<Schemas["RunState"] | null>(null);
const awake = useWakeLock();
const answered = (state: Schemas["RunState"]) => {
  if (state.act !== run.value?.act || state.ended !== run.value?.ended) ring();
  run.value = state;
};
const looks = useIntervalFn(
  async () => {
    if (!run.value) return;
    try {
      answered(await take(api.GET("/api/heat-runs/{run}", { params: { path: { run: run.value.id } } })));
    } catch (lost) {
      tell((lost as Error).message, "error");
      run.value = null;
    }
    if (!run.value || run.value.ended) looks.pause();
  },
  500,
  { immediate: false },
);
const start = useChange(async () => {
  const body = {
    thickness: sheet.value!.thickness,
    kind: sheet.value!.kind,
    faces: faces.value,
    probe: probe.value,
    pace: pace.value,
  };
  answered(await take(api.POST("/api/heat-runs", { body })));
  looks.resume();
  if (awake.isSupported.value) void awake.request("screen").catch(() => undefined);
});
const did = useChange(async (what: "turned" | "shaped" | "stop") => {
  const params = { path: { run: run.value!.id } };
  if (what === "turned") answered(await take(api.POST("/api/heat-runs/{run}/turned", { params })));
  else if (what === "shaped") answered(await take(api.POST("/api/heat-runs/{run}/shaped", { params })));
  else answered(await take(api.POST("/api/heat-runs/{run}/stop", { params })));
});
watch(
  () => run.value?.ended,
  (ended) => ended && awake.isActive.value && void awake.release(),
);
onBeforeUnmount(() => looks.pause());
watch(pieceId, () => (chosen.value = 0));
const going = computed(() => run.value && !run.value.ended);
const share = computed(() => Math.min(100, ((run.value?.face ?? 20) / (heat.data.value?.scorch ?? 150)) * 100));
const inside = computed(() => Math.min(100, ((run.value?.middle ?? 20) / (heat.data.value?.scorch ?? 150)) * 100));
const big = computed(() => {
  if (!run.value) return "";
  if (run.value.act === "turn") return "↻";
  return run.value.act === "done" ? "✓" : clock(run.value.number);
});
</script>

<template>
  <ScreenFrame
    title="Heat coach"
    :about="piece ? `How long under the gun for the ${piece.name.toLowerCase()}, and what to do now.` : ''">
    <template #tools>
      <RouterLink class="press" :to="{ name: 'bench', query: { piece: pieceId } }">← Bench</RouterLink>
    </template>
    <NoPattern v-if="!heat.data.value || heat.isError.value" :error="heat.error.value" />
    <template v-else-if="run && (going || run.act === 'done')">
      <section class="sheet coach" :class="run.act" aria-label="Coach" role="status">
        <p class="now">{{ run.words }}</p>
        <b class="figures number" data-number>{{ big }}</b>
        <div
          class="gauge"
          role="img"
          :aria-label="`Face ${run.face.toFixed(0)} degrees, middle ${run.middle.toFixed(0)}`">
          <span class="face" :style="{ width: `${share}%` }" />
          <span class="middle" :style="{ width: `${inside}%` }" />
          <u :style="{ left: `${(heat.data.value.forming / heat.data.value.scorch) * 100}%` }"
            ><span>takes shape</span></u
          >
          <u class="end" style="left: 100%"><span>scorches</span></u>
        </div>
        <p class="figures read">
          <span
            >{{ run.side }} face <b>{{ run.face.toFixed(0) }} °C</b></span
          >
          <span
            >middle <b>{{ run.middle.toFixed(0) }} °C</b> <i class="soft">worked out</i></span
          >
          <span class="soft">{{ clock(run.passed) }} since you began</span>
        </p>
        <div class="acts">
          <button v-if="run.act === 'turn'" class="press main big" @click="did.mutate('turned')">
            It is turned over
          </button>
          <button v-if="run.act === 'shape'" class="press main big" @click="did.mutate('shaped')">
            It is in shape
          </button>
          <button v-if="going" class="press big" @click="did.mutate('stop')">Stop</button>
          <button v-else class="press main big" @click="run = null">Next patch</button>
        </div>
      </section>
    </template>
    <template v-else>
      <section class="sheet plan" aria-label="Plan">
        <div v-if="heat.data.value.sheets.length > 1" class="shapes">
          <button
            v-for="(s, n) in heat.data.value.sheets"
            :key="n"
            class="press"
            :aria-pressed="n === chosen"
            @click="chosen = n">
            {{ show(s.thickness) }} {{ s.kind }}
          </button>
        </div>
        <template v-if="sheet">
          <h3>{{ show(sheet.thickness) }} {{ sheet.kind }} foam</h3>
          <p v-if="sheet.trouble" class="words stop">
            <span>{{ say(sheet.trouble) }}.</span>
          </p>
          <template v-else>
            <p class="say">{{ say(sheet.words) }}</p>
            <HeatPhases
              v-if="sheet.plan"
              :plan="sheet.plan"
              :words="sheet.words"
              :seconds="sheet.seconds"
              :scorch="heat.data.value.scorch"
              :forming="heat.data.value.forming" />
          </template>
          <div v-if="sheet.better" class="words better">
            <p>
              <b>Better at {{ sheet.better.setting }}, {{ show(sheet.better.distance) }} away.</b>
              {{ say(sheet.better.words) }}
            </p>
            <button
              class="press"
              @click="setGun(() => ({ setting: sheet!.better!.setting, distance: sheet!.better!.distance }))">
              Hold it so
            </button>
          </div>
          <CautionGate v-if="build" :build="build.id" :keys="['heat', 'burning']">
            <div class="acts">
              <label class="field"
                ><span class="word">Probe</span>
                <select v-model="probe" class="press big" name="probe">
                  <option value="simulated">simulated, to try it</option>
                  <option value="own">my own, posting its readings</option>
                </select>
              </label>
              <label v-if="probe === 'simulated'" class="field"
                ><span class="word">Its time runs</span>
                <select v-model.number="pace" class="press big" name="pace">
                  <option :value="1">as it is</option>
                  <option :value="5">5 times as fast</option>
                  <option :value="20">20 times as fast</option>
                </select>
              </label>
              <label class="field"
                ><span class="word">Warm</span>
                <select v-model.number="faces" class="press big" name="faces">
                  <option :value="2">both faces in turn</option>
                  <option :value="1">the outer face only</option>
                </select>
              </label>
              <button class="press main big" @click="start.mutate(undefined)">Gun on: start</button>
            </div>
          </CautionGate>
          <p class="soft">
            {{ Math.ceil(heat.data.value.patches) }} patches of this size go over the whole piece. A piece is warmed
            patch by patch, seams and grooves last.
          </p>
        </template>
      </section>
      <ScrapTests v-if="gun.data.value" :gun="gun.data.value" :factor="heat.data.value.factor" @keep="setGun" />
    </template>

    <template v-if="heat.data.value && gun.data.value" #notes>
      <GunFields :gun="gun.data.value" :note="heat.data.value.note" @keep="(change) => setGun(() => change)" />
      <section>
        <h3>What it knows</h3>
        <p class="soft">
          The face is read; the middle is worked out by conduction through the sheet. No plan lets a face come past
          {{ (heat.data.value.scorch - 12).toFixed(0) }} °C; it scorches at about
          {{ heat.data.value.scorch.toFixed(0) }} (est.).
        </p>
      </section>
    </template>
  </ScreenFrame>
</template>

<style scoped>
.coach,
.plan {
  display: grid;
  gap: 16px;
  padding: 24px 30px;
}

.coach {
  justify-items: start;
  border-left: 12px solid var(--verdigris);
}

.coach.heat {
  border-color: var(--ochre-fill);
}

.coach.turn,
.coach.rest {
  border-color: var(--plum);
}

.coach.shape {
  border-color: var(--oxide);
}

.now {
  font: 700 34px/1.15 var(--slab);
}

.number {
  font: 700 132px/1 var(--slab);
}

.say {
  font-size: 20px;
}

.better {
  align-items: center;
  justify-content: space-between;
}

.better .press {
  flex: none;
}

.gauge {
  position: relative;
  width: 100%;
  height: 34px;
  margin-bottom: 24px;
  background: var(--vellum);
}

.gauge span {
  position: absolute;
  left: 0;
}

.gauge .face {
  top: 0;
  height: 50%;
  background: var(--ochre-fill);
}

.gauge .middle {
  bottom: 0;
  height: 50%;
  background: var(--plum);
}

.gauge u {
  position: absolute;
  top: -4px;
  bottom: -4px;
  border-left: 2px solid var(--graphite);
}

.gauge u span {
  top: 44px;
  left: auto;
  right: 4px;
  font-size: 15px;
  white-space: nowrap;
}

.read {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 30px;
  font-size: 20px;
}

.read i {
  font-size: 15px;
}

.acts,
.shapes {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: end;
}

.big {
  min-height: 56px;
  font-size: 20px;
}

section {
  display: grid;
  gap: 10px;
}

@media (max-width: 760px) {
  .coach,
  .plan {
    padding: 16px;
  }

  .number {
    font-size: 104px;
  }

  .now {
    font-size: 28px;
  }

  .acts > * {
    width: 100%;
  }
}
</style>
