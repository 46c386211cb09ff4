<script setup lang="ts">
import { ref } from "vue";
import { useRoute, useRouter } from "vue-router";
import { useHere } from "@/api/queries";
import ScreenFrame from "@/frame/ScreenFrame.vue";
import TabRow from "@/frame/TabRow.vue";
import CostumeBench from "./bench/CostumeBench.vue";
import OrderPicture from "./bench/OrderPicture.vue";
import { useCostume } from "./bench/useBench";

/** The bench of the whole costume: what can be done now, what waits for what, and all of it in one picture. */
const TABS = { now: "What to do now", order: "All pieces in order" };
type Tab = keyof typeof TABS;
const { build, buildId } = useHere();
const route = useRoute();
const router = useRouter();
const tab = ref<Tab>(String(route.query.tab) in TABS ? (String(route.query.tab) as Tab) : "now");
const costume = useCostume(buildId, ref(true));
const open = (piece: number, key: string) =>
  void router.push({ name: "bench", params: { build: buildId.value }, query: { piece, tab: "step", step: key } });
</script>

<template>
  <ScreenFrame title="All steps" :about="costume.data.value?.hours.words ?? ''">
    <TabRow :tabs="TABS" :on="tab" label="Parts of the costume's bench" @pick="tab = $event" />
    <CostumeBench
      v-if="tab === 'now'"
      :costume="costume.data.value"
      :build="buildId"
      :stages="build?.schools.rhythm === 'stages'"
      @open="open" />
    <p v-else-if="!costume.data.value" class="soft">Laying out every piece…</p>
    <OrderPicture v-else :benches="costume.data.value.pieces" @open="open" />
  </ScreenFrame>
</template>
