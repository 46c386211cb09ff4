<script setup lang="ts">
import { useQueryClient } from "@tanstack/vue-query";
import { computed, ref, watch } from "vue";
import { useRoute, useRouter } from "vue-router";
import { useBench, useDesignChange, useHere } from "@/api/queries";
import NoPattern from "@/frame/NoPattern.vue";
import TabRow from "@/frame/TabRow.vue";
import { minutes } from "@/parts/units";
import MadeSheet from "./MadeSheet.vue";
import OrderPicture from "./OrderPicture.vue";
import ReferenceSheet from "./ReferenceSheet.vue";
import StepCard from "./StepCard.vue";
import StepList from "./StepList.vue";
import { made, nextStep, useCostume, useMark, useMissing, useWaits, type Mark } from "./useBench";

/** The bench of a piece: one step at a time, the order of all of them, and how it is made. */
const TABS = {
  step: "This piece",
  order: "The order",
  made: "How it is made",
  reference: "Reference",
};
type Tab = keyof typeof TABS;
const route = useRoute();
const router = useRouter();
const client = useQueryClient();
const { build, buildId, piece, pieceId } = useHere();
const tab = computed<Tab>(() => (String(route.query.tab) in TABS ? (String(route.query.tab) as Tab) : "step"));
const go = (to: Tab, more: Record<string, unknown> = {}) =>
  router.replace({ query: { ...route.query, ...more, tab: to } as Record<string, string> });
const bench = useBench(pieceId);
/** Known once the costume was looked at: what this piece waits for in another. */
const costume = useCostume(buildId, ref(false));
const again = () => void client.invalidateQueries({ queryKey: ["steps"] });
const left = useWaits(bench.data, again);
const change = useDesignChange(piece);

const at = ref("");
watch(pieceId, (_, was) => was && (at.value = ""));
const steps = computed(() => bench.data.value?.steps ?? []);
const current = computed(() => steps.value.find((s) => s.key === at.value) ?? nextStep(steps.value));
const mark = useMark(pieceId, (m: Mark, was) => {
  const step = was?.steps.find((s) => s.key === m.key);
  // The last coat is the step, unless its question is still open.
  const last = m.part_done && Number(m.part) === step?.coats && !step.inspection;
  at.value = m.done || last ? "" : m.key;
});
const waiting = computed(() => Math.max(0, (bench.data.value?.whole ?? 0) - (bench.data.value?.hours.hands ?? 0)));
const held = computed(() =>
  (costume.data.value?.bound ?? [])
    .filter((b) => b.piece === pieceId.value && b.key === current.value?.key)
    .map((b) => b.words),
);
const short = useMissing(
  buildId,
  computed(() => !!bench.data.value),
);
const missing = computed(
  () => short.data.value?.find((m) => m.number === pieceId.value && m.key === current.value?.key)?.things,
);
const aside = (rule: string) => change(made((now) => ({ set_aside: [...new Set([...(now.set_aside ?? []), rule])] })));
function open(number: number, key: string) {
  at.value = key;
  void router.push({
    name: "bench",
    params: { build: buildId.value },
    query: { piece: String(number), tab: "step", step: key },
  });
}
watch(
  () => route.query.step,
  (key) => key && (at.value = String(key)),
  { immediate: true },
);
</script>

<template>
  <div class="bench">
    <TabRow :tabs="TABS" :on="tab" label="Parts of the bench" @pick="(key) => go(key)">
      <details v-if="bench.data.value && tab === 'step'" class="soft figures sum">
        <summary>
          {{ minutes(bench.data.value.hours.hands) }} of work left, about {{ minutes(waiting) }} of waiting
        </summary>
        <p>{{ bench.data.value.hours.words }}</p>
      </details>
    </TabRow>
    <NoPattern v-if="!bench.data.value || bench.isError.value || !current" :error="bench.error.value" />
    <div v-else-if="tab === 'step'" class="step">
      <StepList :steps="steps" :current="current.key" :left="left" @pick="(key) => (at = key)" />
      <div class="work">
        <details v-if="bench.data.value.wrong.length" class="words stop" open>
          <summary>
            {{
              bench.data.value.wrong.length === 1
                ? "Something done is not so any more"
                : "What was done is not so any more"
            }}
          </summary>
          <p v-for="w in bench.data.value.wrong" :key="w">{{ w }}</p>
        </details>
        <StepCard
          :step="current"
          :bench="bench.data.value"
          :left="left(current)"
          :held="held"
          :missing="missing"
          @mark="(m) => mark.mutate(m)"
          @pick="(key) => (at = key)"
          @aside="aside" />
      </div>
    </div>
    <OrderPicture v-else-if="tab === 'order'" :benches="[bench.data.value]" @open="open" />
    <ReferenceSheet
      v-else-if="tab === 'reference' && piece"
      :key="pieceId"
      :bench="bench.data.value"
      :piece="piece"
      @change="change" />
    <MadeSheet
      v-else-if="piece && build"
      :key="pieceId"
      :bench="bench.data.value"
      :piece="piece"
      :build="build"
      @change="change" />
  </div>
</template>

<style scoped>
.bench {
  display: flex;
  flex-direction: column;
  gap: 10px;
  height: 100%;
  padding: 10px 22px 14px;
  overflow: auto;
}

.sum {
  align-self: center;
  margin-left: auto;
  font-size: 17px;
}

.step {
  display: grid;
  grid-template: minmax(0, 1fr) / 268px minmax(0, 1fr);
  gap: 8px 20px;
  flex: 1;
  min-height: 0;
}

.work {
  display: flex;
  flex-direction: column;
  gap: 10px;
  min-height: 0;
  max-width: 900px;
}

details p {
  margin-top: 6px;
}

details.words {
  display: block;
}

summary {
  font-weight: 700;
  cursor: pointer;
}

@media (max-width: 760px) {
  .bench {
    height: auto;
    padding: 10px 12px;
    overflow: visible;
  }

  .sum {
    display: none;
  }

  .step {
    display: flex;
    flex-direction: column;
  }
}
</style>
