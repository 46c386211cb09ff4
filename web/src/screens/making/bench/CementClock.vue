<script setup lang="ts">
import { computed, ref } from "vue";
import { api, take } from "@/api/client";
import { useChange, useTimerActs, useTimers } from "@/api/queries";
import { clock } from "@/parts/units";

/** The window in which cement may be pressed: started when both faces are coated. */
const props = defineProps<{ piece: number; step: string }>();
const timers = useTimers();
const coat = ref<"thin" | "normal" | "heavy">("normal");
const degrees = ref(20);
const running = computed(() =>
  timers.data.value?.find((t) => t.kind === "cement" && t.piece_id === props.piece && t.step === props.step),
);
const start = useChange(
  () =>
    take(
      api.POST("/api/timers/cement", {
        body: { piece_id: props.piece, step: props.step, coat: coat.value, degrees: Number(degrees.value) },
      }),
    ),
  undefined,
  undefined,
  ["timers"],
);
const { hear, stop } = useTimerActs();
const SAYS = {
  running: "drying: do not press yet",
  ready: "dry to the touch: press now",
  closing: "closing soon: press now",
  closed: "too late: coat both faces again",
  stopped: "",
};
</script>

<template>
  <section class="cement">
    <div v-if="running" class="clock" :class="running.state">
      <b class="figures">{{ clock(running.state === "running" ? running.ready_in : running.closes_in) }}</b>
      <span>{{ SAYS[running.state] }}</span>
      <span class="track"><i :style="{ width: `${Math.min(100, (running.passed / running.whole) * 100)}%` }" /></span>
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
</template>

<style scoped>
.set {
  display: flex;
  flex-wrap: wrap;
  gap: 14px;
  align-items: end;
}

.set input {
  width: 110px;
}

.big {
  min-height: 56px;
  padding-inline: 24px;
  font-size: 20px;
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

.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 12px;
}

@media (max-width: 760px) {
  .set .press,
  .set .field,
  .acts .press {
    width: 100%;
  }
}
</style>
