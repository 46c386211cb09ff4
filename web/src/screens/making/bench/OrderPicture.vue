<script setup lang="ts">
import { useElementSize } from "@vueuse/core";
import { select } from "d3-selection";
import { zoom, zoomIdentity, type D3ZoomEvent } from "d3-zoom";
import { computed, onMounted, ref } from "vue";
import { minutes } from "@/parts/units";
import { chipLines, layLanes, WITH_NUMBERS, WITH_WORDS, type By } from "./orderLanes";
import { STATE_WORDS, type Bench } from "./useBench";

/** All steps of a piece, or of a costume, in one picture of lanes, the longest way marked. */
const props = defineProps<{ benches: readonly Bench[] }>();
const emit = defineEmits<{ open: [piece: number, key: string] }>();
const WAYS = { stage: "by stage", place: "by place" } as const;
const one = computed(() => props.benches.length === 1);
const way = ref<"stage" | "place">("stage");
const by = computed<By>(() => (one.value ? way.value : "piece"));
const size = computed(() => (one.value ? WITH_WORDS : WITH_NUMBERS));
const sheet = ref<HTMLElement>();
const { width } = useElementSize(sheet);
const drawing = computed(() => layLanes(props.benches, by.value, Math.max(340, width.value - 8), size.value));
const find = (piece: number, key: string) => drawing.value.chips.find((c) => c.piece === piece && c.key === key);
const chosen = ref("");
const links = computed(() => {
  const chip = drawing.value.chips.find((c) => `${c.piece} ${c.key}` === chosen.value);
  if (!chip) return [];
  const [wide, high] = [size.value.wide - 10, size.value.high - 8];
  return chip.step.before.flatMap((b) => {
    const from = find(chip.piece, b.key);
    if (!from) return [];
    const [x, y, u, v] = [from.x + wide / 2, from.y + high, chip.x + wide / 2, chip.y];
    return [{ key: b.key, hard: b.hard, d: `M${x},${y}C${x},${y + 24} ${u},${v - 24} ${u},${v}` }];
  });
});
const longest = computed(() => Math.max(0, ...props.benches.map((b) => b.whole)));
const cut = (name: string) => (name.length > (one.value ? 9 : 16) ? `${name.slice(0, one.value ? 8 : 15)}…` : name);

const svg = ref<SVGSVGElement>();
const look = ref(zoomIdentity);
const zooming = zoom<SVGSVGElement, unknown>()
  .scaleExtent([0.5, 4])
  .on("zoom", (event: D3ZoomEvent<SVGSVGElement, unknown>) => (look.value = event.transform));
onMounted(() => svg.value && select(svg.value).call(zooming));
const scale = (by: number) => svg.value && zooming.scaleBy(select(svg.value), by);
const whole = () => svg.value && zooming.transform(select(svg.value), zoomIdentity);
const print = () => {
  whole();
  window.print();
};
</script>

<template>
  <div class="order printed">
    <div class="top">
      <span v-if="one" class="choice" role="group" aria-label="Lanes">
        <button v-for="(word, key) in WAYS" :key="key" class="press" :aria-pressed="way === key" @click="way = key">
          {{ word }}
        </button>
      </span>
      <p class="soft figures">Thick edges: the longest way, {{ minutes(longest) }} with every wait.</p>
      <span class="choice tools">
        <button class="press" aria-label="Nearer" @click="scale(1.35)">+</button>
        <button class="press" aria-label="Farther" @click="scale(1 / 1.35)">−</button>
        <button class="press" @click="whole()">Whole</button>
        <button class="press" @click="print()">Print</button>
      </span>
    </div>
    <div ref="sheet" class="picture sheet">
      <svg
        ref="svg"
        :viewBox="`0 0 ${drawing.width} ${drawing.height}`"
        :style="{ aspectRatio: `${drawing.width} / ${drawing.height}` }"
        role="img"
        aria-label="Order of work in lanes">
        <g :transform="look.toString()">
          <g v-for="(t, k) in drawing.lanes" :key="t.name">
            <rect :y="t.y" :width="drawing.width" :height="t.height" :class="k % 2 ? 'even' : 'odd'" />
            <text x="10" :y="t.y + 27" class="lane">
              {{ cut(t.name) }}
              <title>{{ t.name }}</title>
            </text>
          </g>
          <g
            v-for="c in drawing.chips"
            :key="`${c.piece} ${c.key}`"
            class="chip"
            :class="[c.step.state, { longest: c.step.longest }]"
            :transform="`translate(${c.x} ${c.y})`"
            tabindex="0"
            role="button"
            :aria-label="`${c.step.title}: ${STATE_WORDS[c.step.state]}`"
            @mouseenter="chosen = `${c.piece} ${c.key}`"
            @focus="chosen = `${c.piece} ${c.key}`"
            @click="emit('open', c.piece, c.key)"
            @keydown.enter="emit('open', c.piece, c.key)">
            <title>{{ c.step.title }}, {{ STATE_WORDS[c.step.state] }}: {{ minutes(c.step.minutes) }}</title>
            <rect :width="size.wide - 10" :height="size.high - 8" rx="3" />
            <template v-if="one">
              <text x="8" y="24" class="number">{{ c.number }}</text>
              <text
                v-for="(line, n) in chipLines(c.step.title, 16)"
                :key="n"
                x="32"
                :y="chipLines(c.step.title, 16).length > 1 ? 16 + 15 * n : 24">
                {{ line }}
              </text>
            </template>
            <text v-else class="number" :x="(size.wide - 10) / 2" y="18" text-anchor="middle">{{ c.number }}</text>
          </g>
          <path v-for="l in links" :key="l.key" :d="l.d" class="link" :class="{ soft: !l.hard }" />
        </g>
      </svg>
    </div>
    <p class="soft key">
      <i class="ready" /> can be done now <i class="waiting" /> waits <i class="blocked" /> not yet
      <i class="done" /> done. Touch a step to see what it needs; press it to work on it.
    </p>
    <p v-for="w in benches.flatMap((b) => [...b.trouble, ...b.gave_way])" :key="w" class="words">{{ w }}</p>
  </div>
</template>

<style scoped>
.order {
  display: flex;
  flex: 1;
  flex-direction: column;
  gap: 8px;
  min-height: 0;
}

.top,
.choice {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 16px;
  align-items: center;
}

.choice {
  gap: 6px;
}

.tools {
  margin-left: auto;
}

.picture {
  display: grid;
  flex: 1 1 300px;
  place-items: start center;
  min-height: 260px;
  overflow: hidden;
}

svg {
  width: 100%;
  max-height: 100%;
  cursor: grab;
}

.odd {
  fill: transparent;
}

.even {
  fill: color-mix(in srgb, var(--vellum-deep) 40%, transparent);
}

.lane {
  font: 700 16px var(--slab);
  fill: var(--graphite);
}

.link {
  fill: none;
  stroke: var(--graphite);
  stroke-width: 2.5;
  pointer-events: none;
}

.link.soft {
  stroke-dasharray: 5 4;
}

.chip {
  cursor: pointer;
}

.chip rect {
  fill: var(--sheet);
  stroke: var(--graphite-soft);
  stroke-width: 1.2;
}

.chip text {
  font: 600 13.5px var(--sans);
  fill: var(--graphite);
}

.chip .number {
  font-variant-numeric: tabular-nums;
  fill: var(--graphite-soft);
}

.chip.longest rect {
  stroke: var(--tape-deep);
  stroke-width: 3.5;
}

.chip.ready rect {
  stroke: var(--verdigris);
  stroke-width: 3;
}

.chip.done rect {
  fill: var(--verdigris-pale);
  stroke: none;
}

.chip.blocked text {
  fill: var(--graphite-soft);
}

.chip.waiting rect,
.chip.mend rect {
  fill: var(--ochre-pale);
  stroke: var(--ochre);
}

.key i {
  display: inline-block;
  width: 22px;
  height: 14px;
  margin: 0 4px 0 12px;
  border: 1.2px solid var(--graphite-soft);
  background: var(--sheet);
}

.key .ready {
  border: 3px solid var(--verdigris);
}

.key .waiting {
  background: var(--ochre-pale);
  border-color: var(--ochre);
}

.key .done {
  background: var(--verdigris-pale);
  border: 0;
}
</style>
