<script setup lang="ts">
import { computed, ref } from "vue";
import type { Schemas } from "@/api/client";
import { minutes } from "@/parts/units";
import { STATE_WORDS, type Bench, type Step } from "./useBench";

/** The order of work drawn in lanes: what stands further right comes later, the longest way is one thick line. */
const props = defineProps<{ bench: Bench; costume?: Schemas["CostumeBenchOut"] }>();
const emit = defineEmits<{ open: [piece: number, key: string] }>();
const by = ref<"place" | "stage" | "piece">("stage");
const WAYS = { stage: "by stage", place: "by place", piece: "all pieces" } as const;
const PLACE = { indoors: "Indoors", ventilated: "Ventilated", outdoors: "Outdoors" };
const STAGE = {
  prepare: "Prepare",
  cut: "Cut",
  shape: "Shape",
  join: "Join",
  smooth: "Smooth",
  fit: "Fit",
  paint: "Paint",
  finish: "Finish",
};
const WIDE = 160;
const HIGH = 58;
const LABEL = 130;
interface Chip {
  key: string;
  piece: number;
  step: Step;
  x: number;
  y: number;
  lane: string;
}

const pieces = computed(() => (by.value === "piece" ? (props.costume?.pieces ?? [props.bench]) : [props.bench]));
const laneOf = (bench: Bench, step: Step) =>
  by.value === "piece" ? bench.name : by.value === "place" ? PLACE[step.place] : STAGE[step.stage];
/** Every step has a column of its own depth; those of one lane and depth stand under each other. */
const drawing = computed(() => {
  const order =
    by.value === "place"
      ? Object.values(PLACE)
      : by.value === "stage"
        ? Object.values(STAGE)
        : pieces.value.map((p) => p.name);
  const all = pieces.value.flatMap((bench) => bench.steps.map((step) => ({ bench, step, lane: laneOf(bench, step) })));
  const lanes = order.filter((name) => all.some((a) => a.lane === name));
  const depths = [...new Set(all.map((a) => a.step.depth))].sort((a, b) => a - b);
  const column = new Map(depths.map((d, k) => [d, k]));
  const chips: Chip[] = [];
  const tops: { name: string; y: number; height: number }[] = [];
  let top = 0;
  for (const name of lanes) {
    const own = all.filter((a) => a.lane === name);
    const used = new Map<number, number>();
    for (const { bench, step } of own) {
      const x = column.get(step.depth)!;
      const row = used.get(x) ?? 0;
      used.set(x, row + 1);
      chips.push({
        key: step.key,
        piece: bench.piece_id,
        step,
        x: LABEL + x * WIDE,
        y: top + row * HIGH + 8,
        lane: name,
      });
    }
    const height = Math.max(1, ...used.values()) * HIGH + 12;
    tops.push({ name, y: top, height });
    top += height;
  }
  return { chips, tops, width: LABEL + depths.length * WIDE + 10, height: top };
});
const find = (piece: number, key: string) => drawing.value.chips.find((c) => c.piece === piece && c.key === key);
const path = computed(() =>
  pieces.value.map((bench) => {
    const own = bench.steps.filter((s) => s.longest).map((s) => find(bench.piece_id, s.key)!);
    return own
      .filter(Boolean)
      .map((c, k) => `${k ? "L" : "M"}${c.x + 8},${c.y + 22}L${c.x + WIDE - 18},${c.y + 22}`)
      .join("");
  }),
);
const chosen = ref("");
const links = computed(() => {
  const chip = drawing.value.chips.find((c) => `${c.piece} ${c.key}` === chosen.value);
  if (!chip) return [];
  return chip.step.before.flatMap((b) => {
    const from = find(chip.piece, b.key);
    if (!from) return [];
    const [x, y, u, v] = [from.x + WIDE - 18, from.y + 22, chip.x + 4, chip.y + 22];
    return [{ key: b.key, hard: b.hard, d: `M${x},${y}C${x + 30},${y} ${u - 30},${v} ${u},${v}` }];
  });
});
const cut = (words: string) => (words.length > 36 ? `${words.slice(0, 35)}…` : words);
function lines(words: string): string[] {
  const out = [""];
  for (const word of cut(words).split(" ")) {
    if (out[out.length - 1] && (out[out.length - 1] + word).length > 17) out.push("");
    out[out.length - 1] = `${out[out.length - 1]} ${word}`.trim();
  }
  return out.slice(0, 2);
}
</script>

<template>
  <div class="order">
    <div class="top">
      <span class="choice" role="group" aria-label="Lanes">
        <button v-for="(word, key) in WAYS" :key="key" class="press" :aria-pressed="by === key" @click="by = key">
          {{ word }}
        </button>
      </span>
      <p class="soft figures">
        The thick line is the longest way: {{ minutes(bench.whole) }} from the first step to the last, with every wait.
      </p>
    </div>
    <div class="scroll sheet">
      <svg :width="drawing.width" :height="drawing.height" role="img" aria-label="Order of work in lanes">
        <g v-for="(t, k) in drawing.tops" :key="t.name">
          <rect :y="t.y" :width="drawing.width" :height="t.height" :class="k % 2 ? 'even' : 'odd'" />
          <text x="12" :y="t.y + 30" class="lane">{{ t.name.length > 14 ? t.name.slice(0, 13) + "…" : t.name }}</text>
        </g>
        <path v-for="(d, k) in path" :key="k" :d="d" class="longest" />
        <path v-for="l in links" :key="l.key" :d="l.d" class="link" :class="{ soft: !l.hard }" />
        <g
          v-for="c in drawing.chips"
          :key="`${c.piece} ${c.key}`"
          class="chip"
          :class="c.step.state"
          :transform="`translate(${c.x} ${c.y})`"
          tabindex="0"
          role="button"
          :aria-label="`${c.step.title}: ${STATE_WORDS[c.step.state]}`"
          @mouseenter="chosen = `${c.piece} ${c.key}`"
          @focus="chosen = `${c.piece} ${c.key}`"
          @click="emit('open', c.piece, c.key)"
          @keydown.enter="emit('open', c.piece, c.key)">
          <title>{{ c.step.title }}, {{ STATE_WORDS[c.step.state] }}: {{ minutes(c.step.minutes) }}</title>
          <rect :width="WIDE - 14" height="44" rx="3" />
          <text
            v-for="(line, n) in lines(c.step.title)"
            :key="n"
            x="10"
            :y="lines(c.step.title).length > 1 ? 19 + 17 * n : 27">
            {{ line }}
          </text>
        </g>
      </svg>
    </div>
    <p class="soft key">
      <i class="ready" /> can be done now <i class="waiting" /> waits <i class="blocked" /> not yet
      <i class="done" /> done. Touch a step to see what it needs; press it to work on it.
    </p>
    <p v-for="w in [...bench.trouble, ...bench.gave_way]" :key="w" class="words">{{ w }}</p>
  </div>
</template>

<style scoped>
.order {
  display: grid;
  gap: 10px;
  align-content: start;
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

.scroll {
  overflow: auto;
  max-height: 68vh;
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

.longest {
  fill: none;
  stroke: var(--tape);
  stroke-width: 14;
  stroke-linejoin: round;
}

.link {
  fill: none;
  stroke: var(--graphite);
  stroke-width: 2;
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
  font: 600 14.5px var(--sans);
  fill: var(--graphite);
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
