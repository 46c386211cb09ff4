<script setup lang="ts">
import { computed } from "vue";
import { useRoute, useRouter } from "vue-router";
import { useHere, usePattern } from "@/api/queries";
import CameFlat from "@/parts/CameFlat.vue";
import EmptySheet from "@/frame/EmptySheet.vue";
import MarginNotes from "@/frame/MarginNotes.vue";
import NoPattern from "@/frame/NoPattern.vue";
import ScreenFrame from "@/frame/ScreenFrame.vue";
import TabRow from "@/frame/TabRow.vue";
import { useUnit } from "@/parts/units";
import BendCards from "./BendCards.vue";
import FoldCards from "./FoldCards.vue";
import FreeEdges from "./FreeEdges.vue";
import JointCards from "./JointCards.vue";
import SheetTable from "./SheetTable.vue";
import StackSheet from "./StackSheet.vue";
import { useFoam, useFoamWork } from "./useFoam";

/** Between a flat panel and a cut part: how edges, folds and bends are worked, in which foam. */
const TABS = { edges: "Edges", folds: "Folds", bends: "Bends", layers: "Layers", sheets: "Sheets" };
type Tab = keyof typeof TABS;
const ABOUT: Record<Tab, string> = {
  edges: "How every edge is cut: which face, how much, and why.",
  folds: "Grooves, creases and scores inside its panels.",
  bends: "What each panel's curve asks of the foam, and what to do where it is too much.",
  layers: "Of which sheets it is made, and what it weighs.",
  sheets: "What each sheet gives, and whether this piece would lie flat in it.",
};
const route = useRoute();
const router = useRouter();
const tab = computed<Tab>(() => (String(route.query.tab) in TABS ? (String(route.query.tab) as Tab) : "edges"));
const { piece, pieceId } = useHere();
const { show, say } = useUnit();
const pattern = usePattern(pieceId);
const foam = useFoam(pieceId);
const work = useFoamWork(piece);
const apart = computed(() => new Set(foam.data.value?.bends.map((b) => b.side)).size > 1);
const count = computed<Partial<Record<Tab, number>>>(() => ({
  edges: foam.data.value?.joints.length,
  folds: foam.data.value?.folds.length,
  bends: foam.data.value?.bends.filter((b) => b.strain > 10).length,
}));
const notes = computed(() => {
  if (tab.value === "edges") return (foam.data.value?.joints ?? []).flatMap((j) => j.note ?? []);
  if (tab.value === "folds") return (foam.data.value?.folds ?? []).flatMap((f) => f.note ?? []);
  return tab.value === "bends" ? (foam.data.value?.bends ?? []).map((b) => b.note) : [];
});
const most = (figure: "stretch_p95" | "squeeze_p95") =>
  Math.max(0, ...(pattern.data.value?.panels.map((p) => p[figure]) ?? []));
</script>

<template>
  <ScreenFrame title="Foam and edges" :about="ABOUT[tab]">
    <template #tools>
      <RouterLink v-if="pieceId" class="press" :to="{ name: 'heat', query: { piece: pieceId } }">Heat coach</RouterLink>
      <RouterLink v-if="pieceId" class="press main" :to="{ name: 'cut', query: { piece: pieceId } }"
        >On to cutting →</RouterLink
      >
    </template>
    <TabRow
      :tabs="TABS"
      :on="tab"
      :counts="count"
      label="Parts of this page"
      @pick="(key) => router.replace({ query: { ...route.query, tab: key } })" />
    <CameFlat :piece="piece" unlaid
      >How far they fold against each other is not known until they are laid on the body, on Flatten: edges are cut
      square, and bevelled by eye.</CameFlat
    >
    <SheetTable v-if="tab === 'sheets'" />
    <NoPattern v-else-if="!foam.data.value || foam.isError.value" :error="foam.error.value" />
    <template v-else-if="tab === 'edges'">
      <section v-if="foam.data.value.joints.length" aria-label="Edges">
        <h3>Edges that meet</h3>
        <JointCards :joints="foam.data.value.joints" :sides="apart" @angle="work.seam" />
      </section>
      <section aria-label="Free edges">
        <h3>Free edges</h3>
        <FreeEdges :edges="foam.data.value.edges" @edge="work.edge" />
      </section>
    </template>
    <template v-else-if="tab === 'folds'">
      <p v-for="f in foam.data.value.findings" :key="f.message" class="words" :class="{ stop: f.level === 'stop' }">
        {{ say(f.message) }}
      </p>
      <FoldCards v-if="foam.data.value.folds.length" :folds="foam.data.value.folds" :sides="apart" @fold="work.fold" />
      <EmptySheet v-else title="No fold in this piece yet">
        <p>
          Draw a line of the kind <b>fold</b> or <b>score</b> on the cast. Here you then choose a groove, a crease by
          heat or a score, and its depth and width go to the pages and the cutter's file.
        </p>
        <template #do>
          <RouterLink class="press main" :to="{ name: 'ink', query: { piece: pieceId } }">Draw it in ink</RouterLink>
        </template>
      </EmptySheet>
    </template>
    <BendCards
      v-else-if="tab === 'bends'"
      :bends="foam.data.value.bends"
      :sides="apart"
      :row-of="work.panelOf"
      @panel="work.panel" />
    <StackSheet
      v-else-if="piece"
      :key="pieceId"
      :foam="foam.data.value"
      :design="piece.design"
      @change="work.change"
      @panel="work.panel" />

    <template #notes>
      <section v-if="tab === 'edges'">
        <h3>Which face, and why</h3>
        <p>
          Where panels fold away from you it is a ridge: half of the fold comes off the <b>inner</b> face of each, so
          the outer one stays long. Where they fold towards you it is a valley: off the <b>outer</b> face.
        </p>
        <p class="soft">Under 8° leave them square: glue takes it up, and so slight a bevel is never cut true.</p>
        <p class="soft">
          The pages show the face that stays full at each edge. Cut along that line, upright; then take the bevel off
          the other face, and never past the line.
        </p>
      </section>
      <section v-if="notes.length">
        <h3>How it was made</h3>
        <MarginNotes :notes="notes" />
      </section>
      <section v-if="tab === 'folds'">
        <h3>The blade never comes through</h3>
        <p class="soft">
          Leave {{ show(1) }} of foam or more under a groove. Cut it while the foam is flat, warm the panel to its
          curve, and only then glue the groove shut.
        </p>
      </section>
      <section v-if="tab === 'bends'">
        <h3>What foam takes</h3>
        <p class="row"><span>Cold</span><b class="figures">3 %</b></p>
        <p class="row"><span>Warmed through</span><b class="figures">10 %</b></p>
        <p class="row"><span>Warm, past the curve</span><b class="figures">20 %</b></p>
        <p class="soft">
          Of its outer face (est.). More than that tears or springs open: thinner foam, thin layers, kerfs or a wider
          curve.
        </p>
      </section>
      <section v-if="tab === 'layers'">
        <h3>Why layers differ</h3>
        <p class="soft">
          Every sheet keeps the length of its own middle. Round a bend the outer one must be longer, by the angle times
          the distance between the two middles; cut alike, its ends come short.
        </p>
      </section>
      <template v-if="tab === 'sheets'">
        <section v-if="pattern.data.value">
          <h3>What is asked</h3>
          <p class="row">
            <span>Stretch, 95 % of it at most</span><b class="figures">{{ most("stretch_p95").toFixed(1) }} %</b>
          </p>
          <p class="row">
            <span>Squeeze, 95 % of it at most</span><b class="figures">{{ most("squeeze_p95").toFixed(1) }} %</b>
          </p>
          <p class="soft">
            Taken from the pattern as it lies now. Thicker foam lies farther out and asks a little less or more: choose
            it, and the pattern is laid anew.
          </p>
        </section>
        <section>
          <h3>Measure it on a scrap</h3>
          <p>
            Cut a strip {{ show(150) }} long and mark {{ show(100) }} on it. Warm it through from both sides, pull by
            hand until it will not come easily, hold it till it is cold, and measure between the marks.
          </p>
          <p class="figures soft">{{ show(105) }} between marks of {{ show(100) }} is 5 % stretch.</p>
          <p class="soft">
            Press a second strip together the same way for the squeeze. Type what you found: it stands for the estimate
            on every screen, and a build file takes it along.
          </p>
        </section>
        <section>
          <h3>Why thickness counts</h3>
          <p class="soft">
            Thin foam warms through evenly and gives more; thick foam is still cold inside when its face is ready. Light
            craft foam gives more than dense armour foam.
          </p>
        </section>
      </template>
    </template>
  </ScreenFrame>
</template>

<style scoped>
section {
  display: grid;
  gap: 10px;
}

.row {
  display: flex;
  justify-content: space-between;
  gap: 10px;
}

.row b {
  white-space: nowrap;
}
</style>
