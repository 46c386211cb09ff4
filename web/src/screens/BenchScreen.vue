<script setup lang="ts">
import { computed, nextTick, ref, watch } from "vue";
import { api, take, type Schemas } from "@/api/client";
import { useChange, useHere, usePieceQuery, useTimers } from "@/api/queries";
import CautionGate from "@/parts/CautionGate.vue";
import NoPattern from "@/parts/NoPattern.vue";
import { clock, figure, minutes, useUnit } from "@/parts/units";

/** One step at a time, to be read at arm's length and worked with a knuckle. */
const { build, pieceId } = useHere();
const { unit, say } = useUnit();
const steps = usePieceQuery("steps", pieceId, (p) =>
  take(api.GET("/api/pieces/{piece}/steps", { params: { path: { piece: p } } })),
);
const timers = useTimers();
const at = ref("");
const why = ref(false);
const coat = ref<"thin" | "normal" | "heavy">("normal");
const degrees = ref(20);

const list = computed(() => steps.data.value ?? []);
const firstOpen = computed(
  () => list.value.find((s) => !s.done_at)?.step.key ?? list.value[list.value.length - 1]?.step.key ?? "",
);
watch([pieceId, () => list.value.length], () => (at.value = ""));
const current = computed(() => list.value.find((s) => s.step.key === (at.value || firstOpen.value)));
const index = computed(() => list.value.findIndex((s) => s === current.value));
watch(
  () => current.value?.step.key,
  async (key) => {
    why.value = false;
    await nextTick();
    document.querySelector(`[data-step='${key}']`)?.scrollIntoView({ block: "nearest", inline: "center" });
  },
);
const left = computed(() => list.value.filter((s) => !s.done_at).reduce((sum, s) => sum + s.step.minutes, 0));
const waiting = computed(() => list.value.filter((s) => !s.done_at).reduce((sum, s) => sum + s.step.wait, 0));
const running = computed(() => timers.data.value?.find((t) => t.kind === "cement" && t.piece_id === pieceId.value));

const tick = useChange(async ({ key, done }: { key: string; done: boolean }) => {
  await take(
    api.PUT("/api/pieces/{piece}/steps/{key}", { params: { path: { piece: pieceId.value, key } }, body: { done } }),
  );
  at.value = done ? "" : key;
});
const start = useChange(() =>
  take(
    api.POST("/api/timers/cement", {
      body: { piece_id: pieceId.value, coat: coat.value, degrees: Number(degrees.value) },
    }),
  ),
);
const hear = useChange((id: number) =>
  take(api.POST("/api/timers/{timer}/heard", { params: { path: { timer: id } } })),
);
const stop = useChange((id: number) => take(api.POST("/api/timers/{timer}/stop", { params: { path: { timer: id } } })));

function made(step: Schemas["Step"]): string {
  return step.formula
    .replace(/\{(\d+)\}/g, (_, i) => figure(step.values[Number(i)], unit.value))
    .replace(/ x /g, " × ");
}
const SAYS = {
  running: "drying: do not press yet",
  ready: "dry to the touch: press now",
  closing: "closing soon: press now",
  closed: "too late: coat both faces again",
  stopped: "",
};
</script>

<template>
  <div class="bench">
    <NoPattern v-if="!current || steps.isError.value" :error="steps.error.value" />
    <template v-else>
      <ol class="plain-list steps" aria-label="Steps">
        <li v-for="(s, i) in list" :key="s.step.key">
          <button :class="{ on: s === current, done: s.done_at }" :data-step="s.step.key" @click="at = s.step.key">
            <span class="no figures">{{ s.done_at ? "✓" : i + 1 }}</span><span>{{ s.step.title }}</span>
          </button>
        </li>
      </ol>
      <article class="sheet now">
        <header>
          <p class="soft">
            Step {{ index + 1 }} of {{ list.length }} · {{ minutes(left) }} of work left, {{ minutes(waiting) }} of
            waiting
          </p>
          <h2>{{ current.step.title }}</h2>
        </header>
        <p class="how">{{ say(current.step.how) }}</p>
        <CautionGate v-if="build && current.step.cautions.length" :build="build.id" :keys="current.step.cautions" />
        <div class="facts">
          <p>
            <span class="soft">Hands on</span><b class="figures">{{ minutes(current.step.minutes) }}</b>
          </p>
          <p v-if="current.step.wait">
            <span class="soft">Then wait</span><b class="figures">{{ minutes(current.step.wait) }}</b>
          </p>
          <p v-if="current.materials.length" class="materials">
            <span class="soft">Lay ready</span><b>{{ say(current.materials.join(", ")) }}</b>
          </p>
        </div>
        <section v-if="current.step.timer === 'cement'" class="cement">
          <div v-if="running" class="clock" :class="running.state">
            <b class="figures">{{ clock(running.state === "running" ? running.ready_in : running.closes_in) }}</b>
            <span>{{ SAYS[running.state] }}</span>
            <span class="track"
              ><i :style="{ width: `${Math.min(100, (running.passed / running.whole) * 100)}%` }"
            /></span>
            <span class="acts">
              <button v-if="running.rings" class="press big" @click="hear.mutate(running.id)">I heard it</button>
              <button class="press big" @click="stop.mutate(running.id)">
                {{ running.state === "running" ? "Stop the timer" : "Pressed" }}
              </button>
            </span>
          </div>
          <div v-else class="set">
            <label class="field"
              ><span class="word">Coat</span>
              <select v-model="coat" class="press big">
                <option value="thin">thin</option>
                <option value="normal">normal</option>
                <option value="heavy">heavy</option>
              </select>
            </label>
            <label class="field"
              ><span class="word">Room, °C</span
              ><input v-model.number="degrees" class="press big figures" type="number" min="5" max="40"
            /></label>
            <button class="press main big" @click="start.mutate(undefined)">Both faces are coated: start</button>
          </div>
        </section>
        <RouterLink
          v-if="current.step.timer === 'heat'"
          class="press big"
          :to="{ name: 'heat', query: { piece: pieceId } }"
          >Open the heat coach</RouterLink
        >
        <div v-if="why" class="why">
          <p>{{ current.step.reason }}</p>
          <p class="figures">{{ minutes(current.step.minutes) }} = {{ made(current.step) }}</p>
        </div>
        <div class="acts last">
          <button
            v-if="!current.done_at"
            class="press main big"
            @click="tick.mutate({ key: current.step.key, done: true })">
            Done, next step
          </button>
          <button v-else class="press big" @click="tick.mutate({ key: current.step.key, done: false })">
            Not done after all
          </button>
          <button class="press big" :aria-expanded="why" @click="why = !why">{{ why ? "Close" : "Why?" }}</button>
        </div>
      </article>
      <p class="out"><a :href="`/api/pieces/${pieceId}/steps.csv`" download="steps.csv">All steps as CSV</a></p>
    </template>
  </div>
</template>

<style scoped>
.bench {
  display: grid;
  grid-template: minmax(0, 1fr) auto / 264px minmax(0, 1fr);
  gap: 8px 22px;
  height: 100%;
  padding: 18px 22px;
  font-size: 20px;
  overflow: auto;
}

.steps {
  overflow: auto;
}

.steps button {
  display: flex;
  align-items: center;
  gap: 12px;
  width: 100%;
  min-height: 56px;
  padding: 2px 10px;
  line-height: 1.15;
  border: 0;
  background: none;
  font-size: 20px;
  text-align: left;
  cursor: pointer;
}

.steps .on {
  background: var(--sheet);
  box-shadow: inset 5px 0 0 var(--verdigris);
  font-weight: 700;
}

.no {
  width: 26px;
  color: var(--verdigris);
  font-weight: 700;
  text-align: right;
}

.steps .done span:last-child {
  color: var(--graphite-soft);
}

.now {
  display: grid;
  gap: 18px;
  align-content: start;
  max-width: 860px;
  padding: 26px 32px;
  overflow: auto;
}

.now h2 {
  font-size: 38px;
}

header .soft {
  font-size: 17px;
}

.how {
  font-size: 22px;
  max-width: 44em;
}

.facts {
  display: flex;
  flex-wrap: wrap;
  gap: 10px 40px;
}

.facts p {
  display: grid;
}

.facts .soft {
  font-size: 16px;
}

.facts b {
  font-size: 24px;
}

.materials b {
  font-size: 20px;
}

.big {
  min-height: 56px;
  padding-inline: 24px;
  font-size: 20px;
}

.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 12px;
}

.last {
  position: sticky;
  bottom: -26px;
  margin: 0 -32px -26px;
  padding: 14px 32px 22px;
  background: var(--sheet);
  border-top: 1px solid var(--sheet-line);
}

.why {
  display: grid;
  gap: 8px;
  padding: 14px 18px;
  background: var(--vellum);
}

.set {
  display: flex;
  flex-wrap: wrap;
  gap: 14px;
  align-items: end;
}

.set input {
  width: 110px;
}

.clock {
  display: grid;
  gap: 8px;
  padding: 16px 22px;
  background: var(--verdigris-pale);
}

.clock > b {
  font: 700 72px/1 var(--slab);
}

.clock.ready,
.clock.closing,
.clock.closed {
  background: var(--ochre-pale);
}

.track {
  display: block;
  height: 10px;
  background: var(--sheet);
}

.track i {
  display: block;
  height: 100%;
  background: var(--verdigris);
}

.out {
  grid-column: 2;
  font-size: 16px;
}

.out a {
  color: inherit;
}

@media (max-width: 760px) {
  .bench {
    display: flex;
    flex-direction: column;
    height: auto;
    padding: 12px;
  }

  .steps {
    display: flex;
    gap: 4px;
    overflow-x: auto;
    scrollbar-width: none;
    flex: none;
  }

  .steps button {
    min-width: 56px;
    min-height: 56px;
    justify-content: center;
  }

  .steps button span:last-child {
    display: none;
  }

  .no {
    text-align: center;
  }

  .now {
    padding: 18px;
    overflow: visible;
  }

  .last {
    position: static;
    margin: 0;
    padding: 10px 0 0;
  }

  .now h2 {
    font-size: 30px;
  }

  .acts .press,
  .set .press,
  .set .field {
    width: 100%;
  }
}
</style>
