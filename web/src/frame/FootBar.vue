<script setup lang="ts">
import { useWakeLock } from "@vueuse/core";
import { computed, ref, watch } from "vue";
import type { Timer } from "@/api/client";
import { useBuilds, usePattern, useHere, useTimerActs, useTimers } from "@/api/queries";
import { ring } from "./bell";
import { clock } from "@/parts/units";

/** What runs and what is wrong. The bell rings here, on every screen, until it is heard. */
const timers = useTimers();
const builds = useBuilds();
const { build, pieceId } = useHere();
const pattern = usePattern(pieceId);
const listing = ref(false);
const wake = useWakeLock();

const ringing = computed(() => (timers.data.value ?? []).filter((t) => t.rings));
watch(timers.data, (now) => {
  if (now?.some((t) => t.rings)) ring();
  const wanted = Boolean(now?.some((t) => t.state !== "closed"));
  if (wanted && !wake.isActive.value) wake.request("screen").catch(() => undefined);
  if (!wanted && wake.isActive.value) void wake.release();
});

const { hear, stop } = useTimerActs();

function words(t: Timer): string {
  if (t.kind === "wrap") {
    if (t.state === "running") return `cut off within ${clock(t.closes_in)}`;
    return t.state === "closing" ? `cut it off now: ${clock(t.closes_in)} left` : "over the limit: cut it off";
  }
  if (t.kind === "wait") return t.state === "running" ? `waits ${waits(t.ready_in)}` : "it can go on";
  if (t.state === "running") return `touch-dry in ${clock(t.ready_in)}`;
  if (t.state === "ready") return `press now, open for ${clock(t.closes_in)}`;
  return t.state === "closing" ? `press now: closes in ${clock(t.closes_in)}` : "window closed: coat again";
}

/** Hours are told as hours: nobody watches the seconds of a night. */
const waits = (seconds: number) => (seconds < 5400 ? clock(seconds) : `${(seconds / 3600).toFixed(1)} h`);

const wrong = computed(() => {
  const out: { words: string; to: object }[] = [];
  for (const b of build.value ? [build.value] : (builds.data.value ?? []))
    for (const p of b.pieces)
      if (p.trouble)
        out.push({
          words: `${p.name}: ${p.trouble}`,
          to: { name: "wearer", params: { build: b.id }, query: { piece: p.id } },
        });
  if (build.value)
    for (const f of pattern.data.value?.findings ?? [])
      if (f.level !== "say")
        out.push({ words: f.message, to: { ...seenAt(f.place ?? ""), params: { build: build.value.id } } });
  return out;
});

/** The screen on which a finding is seen and mended. */
function seenAt(place: string) {
  const tab = { fold: "folds", bend: "bends", foam: "edges" }[place.split(".")[0]];
  const query = { piece: pieceId.value, ...(tab ? { tab } : {}) };
  return { name: tab ? "foam" : "flatten", query };
}
</script>

<template>
  <footer :class="{ flash: ringing.length }">
    <div class="runs" aria-live="polite">
      <span v-for="t in timers.data.value ?? []" :key="t.id" class="timer" :class="t.state" :data-timer="t.id">
        <b>{{ t.label }}:</b> <span class="figures">{{ words(t) }}</span>
        <button v-if="t.rings" class="chip" @click="hear.mutate(t.id)">Heard</button>
        <button class="chip" @click="stop.mutate(t.id)">Stop</button>
      </span>
      <span v-if="!timers.data.value?.length" class="quiet">Nothing is drying.</span>
    </div>
    <div class="wrong">
      <button v-if="wrong.length" class="chip attention" :aria-expanded="listing" @click="listing = !listing">
        {{ wrong.length === 1 ? "1 thing needs a look" : `${wrong.length} things need a look` }}
      </button>
      <span v-else class="quiet">All in order</span>
    </div>
    <ul v-if="listing && wrong.length" class="plain-list list sheet">
      <li v-for="w in wrong" :key="w.words">
        <RouterLink :to="w.to" @click="listing = false">{{ w.words }}</RouterLink>
      </li>
    </ul>
  </footer>
</template>

<style scoped>
footer {
  position: relative;
  display: flex;
  align-items: center;
  justify-content: space-between;
  gap: 16px;
  min-height: var(--foot);
  padding: 0 18px;
  background: #3b3f45;
  color: #f6f1e6;
}

.night footer {
  background: #15171a;
}

.flash {
  animation: flash 0.8s steps(2) infinite;
}

@keyframes flash {
  50% {
    background: #8f5f0c;
  }
}

.runs {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 22px;
  min-width: 0;
}

.timer {
  display: inline-flex;
  align-items: center;
  gap: 8px;
}

.timer.ready,
.timer.closing,
.timer.closed {
  color: #f2c66d;
}

.quiet {
  color: #c9c3b6;
}

.chip {
  min-height: 30px;
  padding: 0 12px;
  border: 1.5px solid currentcolor;
  border-radius: 3px 8px 3px 7px;
  background: none;
  color: inherit;
  font-weight: 700;
  cursor: pointer;
}

.attention {
  color: #f2c66d;
}

.wrong {
  white-space: nowrap;
}

.list {
  position: absolute;
  right: 14px;
  bottom: calc(100% + 8px);
  z-index: 20;
  max-width: 460px;
  padding: 10px 18px;
  color: var(--graphite);
}

.list a {
  display: block;
  padding: 8px 0;
  color: inherit;
}

@media (max-width: 760px) {
  footer {
    position: sticky;
    bottom: 0;
    z-index: 10;
    flex-wrap: wrap;
    padding: 8px 12px;
  }

  .chip {
    min-height: 44px;
  }
}
</style>
