<script setup lang="ts">
import { ref } from "vue";
import { useRoute, useRouter } from "vue-router";
import { useHere } from "@/api/queries";
import NoPattern from "@/frame/NoPattern.vue";
import ScreenFrame from "@/frame/ScreenFrame.vue";
import TabRow from "@/frame/TabRow.vue";
import FigureView from "@/scene/FigureView.vue";
import type { Pose } from "@/scene/figureStage";
import DressingSheet from "./DressingSheet.vue";
import MovementSheet from "./MovementSheet.vue";
import WearSheet from "./WearSheet.vue";
import { useFigure, useRigWork } from "./useRig";

/** The costume on its wearer: what it lets them do, in which order it goes on, the day in it and the way there. */
type Tab = "moves" | "dress" | "wear";
const TABS: Record<Tab, string> = { moves: "Movement", dress: "Getting dressed", wear: "Worn and packed" };
const { piece, pieceId, buildId } = useHere();
const route = useRoute();
const router = useRouter();
const tab = ref<Tab>(String(route.query.tab) in TABS ? (String(route.query.tab) as Tab) : "moves");
const figure = useFigure(buildId);
const work = useRigWork(piece);
const pose = ref<Pose>({});
const marks = ref<{ at: readonly number[]; piece: number; side?: string; hint?: boolean }[]>([]);
const choose = (to: number) => void router.replace({ query: { ...route.query, piece: to } });
</script>

<template>
  <ScreenFrame title="The costume, worn">
    <TabRow :tabs="TABS" :on="tab" label="Parts of wearing it" @pick="tab = $event" />
    <WearSheet v-if="tab === 'wear'" />
    <NoPattern v-else-if="!figure.data.value || figure.isError.value" :error="figure.error.value" />
    <div v-else class="desk">
      <FigureView
        class="body"
        :figure="figure.data.value"
        :piece="pieceId"
        :anchors="[]"
        :pose="tab === 'moves' ? pose : {}"
        :marks="tab === 'moves' ? marks : []"
        @choose="choose" />
      <MovementSheet
        v-if="tab === 'moves'"
        :figure="figure.data.value"
        :pose="pose"
        @pose="pose = $event"
        @marks="marks = $event"
        @trim="work.trim.mutate($event)" />
      <DressingSheet v-else :steps="figure.data.value.dressing" />
    </div>
  </ScreenFrame>
</template>

<style scoped src="./desk.css"></style>
