<script setup lang="ts">
import { computed, ref, shallowRef, watch } from "vue";
import { api, take, type DesignIn } from "@/api/client";
import { say, useChange, useDesignChange, useHere, usePattern, usePieceQuery } from "@/api/queries";
import PanelTable from "@/canvas/PanelTable.vue";
import StrainLegend from "@/canvas/StrainLegend.vue";
import MarginNotes from "@/frame/MarginNotes.vue";
import NoPattern from "@/frame/NoPattern.vue";
import ScreenFrame from "@/frame/ScreenFrame.vue";
import { useUnit } from "@/parts/units";
import CastView from "@/scene/CastView.vue";
import DartPlans from "@/parts/DartPlans.vue";
import SeamTable from "@/parts/SeamTable.vue";
import LaidForm from "@/screens/pattern/laid/LaidForm.vue";
import LaidRows from "@/screens/pattern/laid/LaidRows.vue";
import LaidSheet from "@/screens/pattern/laid/LaidSheet.vue";
import LaidTable from "@/screens/pattern/laid/LaidTable.vue";
import { offerOf } from "@/screens/pattern/laid/laid";
import { useLaid } from "@/screens/pattern/laid/useLaid";
import DartNotes from "./DartNotes.vue";
import DesignSheet from "./DesignSheet.vue";
import VerdictNotes from "./VerdictNotes.vue";
import { STATE } from "./verdicts";
import { useDarts } from "./useDarts";

const { build, piece, pieceId } = useHere();
const { say: words } = useUnit();
const pattern = usePattern(pieceId);
const cast = usePieceQuery("cast", pieceId, (p, how) =>
  take(api.GET("/api/pieces/{piece}/cast", { ...how, params: { path: { piece: p } } })),
);
const strain = ref(true);
const refusal = ref<{ field: string; message: string } | null>(null);

const save = useDesignChange(piece, (r) => {
  refusal.value = { field: r.fields[0]?.field ?? "", message: r.message };
  darts.shown();
});

function change(how: (now: DesignIn) => DesignIn) {
  refusal.value = null;
  save(how);
}
const keepName = ref<string | null>(null);
const focus = (field: unknown) => (field as HTMLInputElement | null)?.focus();
const keep = useChange(async () => {
  const kept = await take(
    api.POST("/api/pieces/{piece}/versions", {
      params: { path: { piece: pieceId.value } },
      body: { name: keepName.value?.trim() || "Kept by hand" },
    }),
  );
  keepName.value = null;
  say(`Kept as version ${kept[kept.length - 1].number}. The Logbook has them all.`);
});
const chosen = ref("");
const place = shallowRef<readonly number[] | null>(null);
const pointed = shallowRef<{ panel: number; place: [number, number] } | null>(null);
/** The panel that is looked at: the one chosen, or the one that foam can least give. */
const panel = computed(() => {
  const panels = [...(pattern.data.value?.panels ?? [])].sort((a, b) => b.p95 - a.p95);
  return panels.find((p) => p.label.code === chosen.value) ?? panels[0];
});
const darts = useDarts(piece, pattern.data, change);
const { darting, tried, job, advice, splits } = darts;
watch([pieceId, chosen], () => (advice.value = tried.value = null));
watch(pattern.data, darts.shown);
watch(darting, (on) => on && panel.value && darts.near(panel.value));
const noGo = ref<string[]>([]);
const laying = ref(false);
const table = useLaid(piece, pieceId, laying, change);
const { laid, rows, drawn, draft, tried: lies, trouble, details, mending, line, spot, ...lay } = table;
const lines = computed(() => laid.data.value?.lines ?? []);
const shapes = computed(() => (build.value?.pieces ?? []).filter((p) => p.design.solid).map((p) => p.name));
const whole = computed(() => ["torso", "neck"].includes(piece.value?.segment ?? ""));
</script>

<template>
  <ScreenFrame
    title="On the table"
    :about="
      laying
        ? 'What lies on it'
        : darting
          ? 'Draw it in from an edge.'
          : pattern.data.value && !pattern.isError.value
            ? pattern.data.value.panels.length === 1
              ? 'One panel'
              : `${pattern.data.value.panels.length} panels`
            : ''
    ">
    <template #tools>
      <template v-if="pattern.data.value && !pattern.isError.value">
        <button class="press" name="lay-on" :aria-pressed="laying" @click="laying = !laying">
          {{ laying ? "Back to the panels" : "Lay on" }}
        </button>
        <button v-if="!laying" class="press" :class="{ main: darting }" @click="darting = !darting">Draw a dart</button>
        <form v-if="keepName !== null" class="keep" @submit.prevent="keep.mutate(undefined)">
          <input
            :ref="focus"
            v-model="keepName"
            maxlength="120"
            placeholder="Name it, such as: before the second dart"
            aria-label="Name of the version"
            @keydown.esc="keepName = null" />
          <button class="press main" type="submit">Keep</button>
        </form>
        <button v-else class="press" @click="keepName = ''">Keep this version</button>
        <RouterLink class="press main" :to="{ name: 'foam', query: { piece: pieceId } }">On to the foam →</RouterLink>
      </template>
    </template>
    <div class="split" :class="{ whole: advice || !piece }">
      <div v-if="piece && laying" class="left">
        <LaidForm
          v-if="draft"
          :lines="lines"
          :draft="draft"
          :piece="piece.id"
          :sleeve="piece.segment === 'upper arm'"
          :tried="lies"
          :trouble="trouble"
          :fresh="!details.some((d) => d.key === draft?.key)"
          :mending="mending"
          @change="lay.hold"
          @keep="lay.keep"
          @mend="lay.mend"
          @copy="lay.copy(line)"
          @close="lay.hold(null)" />
        <p v-else-if="laid.error.value" class="words">{{ words(laid.error.value.message) }}</p>
        <LaidSheet
          v-else
          :lines="lines"
          :line="line"
          :spot="spot"
          :shapes="shapes"
          @begin="lay.begin($event, line)"
          @line="lay.pressLine"
          @stand="spot && lay.stand($event, spot)"
          @place="(motif, name) => spot && lay.place(motif, name, spot)" />
      </div>
      <div v-else-if="piece && !advice" class="left">
        <CastView
          v-if="cast.data.value?.length && !cast.isError.value"
          :cast="cast.data.value[0]"
          foam
          small
          :lit="panel?.number"
          :dot="place"
          @point="pointed = $event"
          @choose="chosen = pattern.data.value?.panels.find((p) => p.number === $event)?.label.code ?? chosen" />
        <DesignSheet :key="piece.id" :piece="piece" :refusal="refusal" @change="change" />
      </div>
      <div class="middle">
        <NoPattern v-if="!pattern.data.value || pattern.isError.value || !piece" :error="pattern.error.value" />
        <LaidTable
          v-else-if="laying"
          :panels="pattern.data.value.panels"
          :lines="lines"
          :rows="drawn"
          :draft="draft"
          :line="line"
          :spot="spot"
          @line="lay.pressLine"
          @place="lay.pressPlace"
          @pick="lay.pick"
          @far="lay.drag" />
        <DartPlans
          v-else-if="advice && panel"
          :advice="advice"
          :give="pattern.data.value.allowance"
          :code="panel.label.code"
          @apply="darts.apply($event, panel)"
          @thorough="darts.plan(panel, noGo, true)"
          @close="advice = null" />
        <template v-else>
          <div v-if="job" class="job words" role="status">
            <progress :value="job.share" max="1" /> <b class="figures">{{ Math.round(job.share * 100) }} %</b>
            <span>{{ job.words }}</span>
            <button class="press small" @click="darts.stop()">Stop</button>
          </div>
          <PanelTable
            :pattern="pattern.data.value"
            :strain="strain"
            :chosen="panel?.label.code ?? ''"
            :tried="darts.tried"
            :darting="darting"
            :pointed="pointed"
            @point="place = $event"
            @choose="chosen = $event"
            @near="darts.near"
            @begin="darts.begin"
            @tip="darts.tip"
            @drop="darts.drop" />
          <StrainLegend v-if="strain" :give="pattern.data.value.allowance" />
          <button class="press small over" :aria-pressed="strain" @click="strain = !strain">
            {{ strain ? "Hide strain" : "Show strain" }}
          </button>
        </template>
      </div>
    </div>

    <template v-if="laying" #notes>
      <CastView
        v-if="cast.data.value?.length && !cast.isError.value"
        class="worn"
        :cast="cast.data.value[0]"
        foam
        small
        :laid="drawn"
        :held="draft?.key" />
      <LaidRows
        :rows="rows"
        :held="draft?.key ?? ''"
        :bare="details.filter((d) => !d.shape && offerOf(d.kind)).map((d) => d.name)"
        @pick="lay.pick"
        @take-off="lay.takeOff" />
    </template>
    <template v-else-if="pattern.data.value && !pattern.isError.value && panel" #notes>
      <VerdictNotes
        v-model:spared="noGo"
        :panel="panel"
        :alone="pattern.data.value.panels.length === 1"
        :give="pattern.data.value.allowance"
        :busy="Boolean(job)"
        :settled="pattern.data.value.settled"
        @plan="darts.plan(panel, noGo)" />
      <ul v-if="pattern.data.value.panels.length > 1" class="plain-list others">
        <li v-for="p in pattern.data.value.panels" :key="p.label.code">
          <button
            class="line"
            :class="STATE[p.verdict.state]"
            :aria-pressed="p === panel"
            @click="chosen = p.label.code">
            <b>{{ p.label.code }}</b> <span class="figures">{{ p.p95.toFixed(1) }} %</span>
          </button>
        </li>
      </ul>
      <DartNotes :panel="panel" :splits="splits" :build="build" @remove="darts.remove($event)" />
      <section v-if="pattern.data.value.asymmetry && piece">
        <h3>Left and right</h3>
        <p>{{ words(pattern.data.value.asymmetry.words) }}</p>
        <select
          class="press"
          name="halves"
          aria-label="Left and right"
          :value="whole || piece.design.halves === 'alike' ? piece.design.halves : 'usual'"
          @change="
            change((now) => ({ ...now, halves: ($event.target as HTMLSelectElement).value as DesignIn['halves'] }))
          ">
          <option value="usual">{{ whole ? "one half, turned over" : "each as measured" }} (usual)</option>
          <option v-if="!whole" value="alike">one for both, on the fuller</option>
          <option v-if="whole" value="as measured">both halves as the body is</option>
        </select>
      </section>
      <SeamTable
        v-if="piece"
        :panels="pattern.data.value.panels"
        :trued="piece.design.true_seams"
        @true="change((now) => ({ ...now, true_seams: $event }))" />
      <p v-if="pattern.data.value.changed_since" class="words">
        Changed since version {{ pattern.data.value.changed_since }} was kept. Keep this one before you cut it.
      </p>
      <section
        v-for="f in pattern.data.value.findings.filter((f) => f.place !== 'flatten')"
        :key="f.message"
        class="words"
        :class="f.level">
        <div>
          <b>{{ words(f.message) }}</b> <span v-if="f.advice">{{ words(f.advice) }}</span>
        </div>
      </section>
      <section>
        <h3>How it is made</h3>
        <MarginNotes :notes="pattern.data.value.notes" />
      </section>
    </template>
  </ScreenFrame>
</template>

<style scoped>
.keep {
  display: flex;
  gap: 6px;
}

.keep input {
  width: 270px;
  padding: 6px 10px;
  border: 1px solid var(--sheet-line);
  background: var(--sheet);
  color: inherit;
  font: inherit;
}

section select {
  max-width: 100%;
}

.split {
  display: grid;
  grid-template-columns: 262px minmax(0, 1fr);
  gap: 18px;
  flex: 1;
  min-height: 0;
}

.split.whole {
  grid-template-columns: minmax(0, 1fr);
}

.left {
  min-width: 0;
  overflow: auto;
}

.middle {
  position: relative;
  display: flex;
  flex-direction: column;
  gap: 10px;
  min-width: 0;
  min-height: 0;
}

.over {
  position: absolute;
  top: 0;
  right: 0;
}

section {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 7px;
}

.others {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 8px;
}

.line {
  display: flex;
  gap: 8px;
  padding: 4px 9px;
  border: 0;
  border-left: 4px solid var(--verdigris);
  background: none;
  cursor: pointer;
}

.line[aria-pressed="true"] {
  background: var(--vellum);
}

.line.warm {
  border-color: var(--ochre-fill);
}

.line.hard {
  border-color: var(--plum);
}

.line.stop {
  border-color: var(--oxide);
}

.job {
  display: flex;
  align-items: center;
  gap: 12px;
}

@media (max-width: 1100px) {
  .split {
    grid-template-columns: 200px minmax(0, 1fr);
    gap: 12px;
  }
}

@media (max-width: 760px) {
  .split {
    grid-template-columns: 1fr;
  }

  .middle {
    min-height: 420px;
  }
}
</style>
