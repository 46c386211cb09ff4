<script setup lang="ts">
import { computed, ref } from "vue";
import { useRouter } from "vue-router";
import type { DesignIn } from "@/api/client";
import { useHere } from "@/api/queries";
import CameFlat from "@/parts/CameFlat.vue";
import LengthField from "@/parts/LengthField.vue";
import MarginNotes from "@/frame/MarginNotes.vue";
import NoPattern from "@/frame/NoPattern.vue";
import ScreenFrame from "@/frame/ScreenFrame.vue";
import TabRow from "@/frame/TabRow.vue";
import FigureView from "@/scene/FigureView.vue";
import type { Spot } from "@/scene/figureStage";
import DonningWords from "./DonningWords.vue";
import MagnetSheet from "./MagnetSheet.vue";
import OpeningSheet from "./OpeningSheet.vue";
import StrapSheet from "./StrapSheet.vue";
import { useFigure, useRig, useRigWork } from "./useRig";

/** What holds a piece on, and lets its wearer in and out of it. */
type Tab = "straps" | "goes" | "openings" | "magnets";
const TABS: Record<Tab, string> = {
  straps: "Straps",
  goes: "Getting in",
  openings: "Openings",
  magnets: "Magnets",
};
const { piece, pieceId, buildId } = useHere();
const router = useRouter();
const tab = ref<Tab>("straps");
const rig = useRig(pieceId);
const figure = useFigure(buildId);
const work = useRigWork(piece);
const hints = computed(() => {
  const better = (rig.data.value?.rests ?? []).filter((r) => r.better);
  return better.map((r) => ({ at: r.better!, piece: pieceId.value, side: r.side, hint: true }));
});
const anchors = computed(() => (tab.value === "straps" ? (rig.data.value?.anchors ?? []) : []));
const moved = computed(() => rig.data.value?.anchors.filter((a) => a.moved).length ?? 0);
const drop = (name: string, side: string, at: Spot) =>
  work.drop.mutate({ name, side: side as "left", at: [...at] as [number, number, number] });
const choose = (to: number) => void router.replace({ query: { ...router.currentRoute.value.query, piece: to } });
const counts = computed(() => ({
  openings: (rig.data.value?.openings.length ?? 0) + (rig.data.value?.facings.length ?? 0) || undefined,
  magnets: rig.data.value?.magnets.length || undefined,
}));
const LAPS = ["edge to edge", "upper over lower", "lower over upper", "from the middle"] as const;
const lap = (to: Partial<NonNullable<DesignIn["laps"]>>) =>
  work.design((now) => ({ ...now, laps: { order: "edge to edge", ...now.laps, ...to } }));
const lieOver = (names: string[]) =>
  work.design((now) => ({ ...now, over: [...new Set([...(now.over ?? []), ...names])] }));
const across = computed(() => rig.data.value?.anchors.some((a) => a.own && a.key.startsWith("opening ")));
const stretches = computed(() => rig.data.value?.straps.some((s) => s.material === "elastic"));
</script>

<template>
  <ScreenFrame title="Getting in, and staying on" :about="piece?.name">
    <template #tools>
      <template v-if="rig.data.value && !rig.isError.value">
        <a class="press" :href="`/api/pieces/${pieceId}/rig.csv`" download="rig.csv">CSV</a>
        <a class="press" :href="`/api/pieces/${pieceId}/rig.pdf`" download>Rig sheet</a>
      </template>
    </template>
    <TabRow :tabs="TABS" :on="tab" :counts="counts" label="Parts of the rig" @pick="tab = $event" />
    <CameFlat :piece="piece" unlaid
      >Its rig is worked out on the usual shape of such a piece on this body, and lies on no panel: lay them on the
      body, on Flatten, or mark anchors by hand.</CameFlat
    >
    <NoPattern v-if="!rig.data.value || rig.isError.value" :error="rig.error.value" />
    <div v-else class="desk">
      <FigureView
        v-if="figure.data.value && ['straps', 'goes'].includes(tab)"
        class="body"
        :figure="figure.data.value"
        :piece="pieceId"
        :anchors="anchors"
        :pose="{}"
        :marks="hints"
        @drop="drop"
        @choose="choose" />
      <StrapSheet
        v-if="tab === 'straps'"
        :rig="rig.data.value"
        @way="work.set({ way: $event })"
        @closure="(kind) => work.design((now) => ({ ...now, closure: kind as DesignIn['closure'] }))"
        @back="work.drop.mutate({ name: $event.name, side: $event.side, at: null })"
        @over="lieOver" />
      <div v-else-if="tab === 'goes'" class="goes"><DonningWords :donning="rig.data.value.donning" /></div>
      <OpeningSheet v-else-if="tab === 'openings'" :rig="rig.data.value" />
      <MagnetSheet v-else-if="tab === 'magnets'" :rig="rig.data.value" />
    </div>

    <template v-if="rig.data.value && !rig.isError.value && piece" #notes>
      <section v-if="tab === 'straps'" class="choices">
        <h3>The straps</h3>
        <LengthField
          word="Webbing width"
          name="webbing"
          :value="piece.design.rig.webbing"
          @change="work.set({ webbing: $event as unknown as number })" />
        <label v-if="across" class="field"
          ><span class="word">They run</span>
          <select
            class="press"
            name="run"
            :value="piece.design.rig.run"
            @change="work.set({ run: ($event.target as HTMLSelectElement).value as 'across' })">
            <option value="across">across the opening</option>
            <option value="round">all the way round</option>
          </select>
        </label>
        <label v-if="stretches" class="field"
          ><span class="word">Elastic stretches by</span>
          <select
            class="press"
            :value="String(piece.design.rig.stretch)"
            @change="work.set({ stretch: Number(($event.target as HTMLSelectElement).value) })">
            <option value="0.2">20 %, firm</option>
            <option value="0.3">30 %</option>
            <option value="0.5">50 %, soft</option>
          </select>
        </label>
        <template v-if="rig.data.value.plates.length">
          <label class="field"
            ><span class="word">Plates lie</span>
            <select
              class="press"
              name="laps"
              :value="piece.design.laps.order"
              @change="lap({ order: ($event.target as HTMLSelectElement).value as 'edge to edge' })">
              <option v-for="o in LAPS" :key="o" :value="o">{{ o }}</option>
            </select>
          </label>
          <LengthField
            v-if="piece.design.laps.order !== 'edge to edge'"
            word="The hidden one reaches under by"
            name="lap-by"
            :value="Number(piece.design.laps.by ?? rig.data.value.asked_overlap)"
            hint="Nothing written: the arc that the joint opens, and a margin"
            @change="lap({ by: $event === '' ? null : $event })" />
        </template>
        <button v-if="moved" class="press" @click="work.set({ moved: {} })">All anchors back to their places</button>
      </section>
      <section>
        <h3>How it is made</h3>
        <MarginNotes :notes="tab === 'magnets' ? rig.data.value.magnets.map((m) => m.note) : rig.data.value.notes" />
        <p v-if="!rig.data.value.notes.length" class="soft">Nothing to work out yet.</p>
      </section>
    </template>
  </ScreenFrame>
</template>

<style scoped src="./desk.css"></style>
<style scoped>
.choices {
  display: grid;
  gap: 10px;
}

.goes {
  display: grid;
  flex: 1 1 320px;
  gap: 12px;
  align-content: start;
}
</style>
