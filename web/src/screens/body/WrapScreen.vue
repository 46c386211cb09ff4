<script setup lang="ts">
/** The cast: film and tape to have ready, who helps, the time in the tube. */
import { computed, ref, watch } from "vue";
import { api, take } from "@/api/client";
import { useChange, useHere, usePieceQuery, useTimers } from "@/api/queries";
import BodyForm from "@/parts/BodyForm.vue";
import CautionGate from "@/parts/CautionGate.vue";
import MarginNotes from "@/frame/MarginNotes.vue";
import NoPattern from "@/frame/NoPattern.vue";
import ScreenFrame from "@/frame/ScreenFrame.vue";
import { clock, minutes, useUnit } from "@/parts/units";
import CastView from "@/scene/CastView.vue";

const { build, piece, pieceId } = useHere();
const { show, unit } = useUnit();
const cast = usePieceQuery("cast", pieceId, (p, how) =>
  take(api.GET("/api/pieces/{piece}/cast", { ...how, params: { path: { piece: p } } })),
);
const wrap = usePieceQuery("wrap", pieceId, (p, how) =>
  take(api.GET("/api/pieces/{piece}/wrap", { ...how, params: { path: { piece: p } } })),
);
const timers = useTimers();
const side = ref("left");
const foam = ref(false);
watch(cast.data, (now) => {
  if (now && !now.some((c) => c.side === side.value)) side.value = now[0].side;
});
const shown = computed(() => cast.data.value?.find((c) => c.side === side.value));
const tube = computed(() => wrap.data.value?.find((t) => t.side === side.value));
const running = computed(() => timers.data.value?.find((t) => t.kind === "wrap" && t.piece_id === pieceId.value));
const start = useChange(() =>
  take(
    api.POST("/api/timers/wrap", {
      body: { piece_id: pieceId.value, label: `Wrap, ${side.value} ${piece.value?.segment}` },
    }),
  ),
);
const roll = (mm: number) => (unit.value === "mm" ? `${(mm / 1000).toFixed(1)} m` : `${Math.ceil(mm / 304.8)} ft`);
const totals = computed(() => {
  const all = wrap.data.value ?? [];
  return { film: all.reduce((s, t) => s + t.film, 0), tape: all.reduce((s, t) => s + t.tape, 0), count: all.length };
});
</script>

<template>
  <ScreenFrame title="The cast" :about="piece ? `${piece.segment} in film and tape, as measured` : ''">
    <template #tools>
      <template v-if="shown">
        <span v-if="(cast.data.value?.length ?? 0) > 1" role="group" aria-label="Side">
          <button
            v-for="c in cast.data.value"
            :key="c.side"
            class="press"
            :class="{ main: c.side === side }"
            @click="side = c.side">
            {{ c.side }}
          </button>
        </span>
        <button class="press" :class="{ main: foam }" @click="foam = !foam">{{ foam ? "Foam on" : "Foam off" }}</button>
      </template>
    </template>
    <NoPattern v-if="!shown || cast.isError.value" :error="cast.error.value" />
    <CastView v-else :cast="shown" :foam="foam" />

    <template v-if="tube && !wrap.isError.value && piece && build" #notes>
      <section>
        <h3>To wrap {{ totals.count === 1 ? "one tube" : `${totals.count} tubes` }}</h3>
        <p class="totals">
          <b class="figures">{{ roll(totals.film) }}</b> film, <b class="figures">{{ roll(totals.tape) }}</b> tape
        </p>
        <p class="soft">About {{ minutes(tube.minutes) }} of taping each.</p>
      </section>
      <section class="say">
        <p><b>Who.</b> {{ tube.helper }}</p>
        <p><b>How far.</b> {{ tube.extend }}</p>
        <p><b>Cut off</b> {{ tube.cut_off }}. Ink that line first, with the centre line, the edges and the marks.</p>
      </section>
      <MarginNotes :notes="tube.notes" />
      <section>
        <h3>Time in the tube</h3>
        <CautionGate :build="build.id" :keys="['wrapping']">
          <div v-if="running" class="clock" :class="running.state">
            <b class="figures">{{ clock(running.closes_in) }}</b>
            <span>{{
              running.state === "running"
                ? "left before it must be off"
                : running.state === "closing"
                  ? "left: start cutting off"
                  : "over: cut it off now"
            }}</span>
          </div>
          <button v-else class="press main big" @click="start.mutate(undefined)">Wrapping starts now</button>
        </CautionGate>
      </section>
      <BodyForm v-if="shown" :key="pieceId" :piece="pieceId" :rings="shown.rings" />
      <p class="soft small">
        Each station is drawn at its own girth: {{ shown?.rings.map((r) => `${r.name} ${show(r.girth)}`).join(", ") }}.
      </p>
    </template>
  </ScreenFrame>
</template>

<style scoped>
.totals {
  font-size: 20px;
}

.say {
  display: grid;
  gap: 8px;
}

section {
  display: grid;
  gap: 8px;
}

.big {
  min-height: 52px;
}

.clock {
  display: grid;
  padding: 10px 14px;
  background: var(--verdigris-pale);
}

.clock b {
  font: 700 44px/1 var(--slab);
}

.clock.closing,
.clock.closed,
.clock.ready {
  background: var(--ochre-pale);
}
</style>
