<script setup lang="ts">
import { computed } from "vue";
import type { Pattern } from "@/api/client";
import { useUnit } from "@/parts/units";
import type { Lie } from "./laying";
import { STATE } from "./verdicts";

/** Panels that came flat on their wearer: which were laid down, which way is up, and what their foam gives there. */
const props = defineProps<{ lies: Lie[]; pattern?: Pattern; wrong: string }>();
const emit = defineEmits<{ turn: [panel: number, up: number]; take: [panel: number] }>();
const { say } = useUnit();
/** What is found of edges and girths stands beside those. */
const SAID_HERE = ["flat.lies", "flat.darts"];
const first = (list: Pattern["panels"]) => list.filter((p, k) => list.findIndex((q) => q.number === p.number) === k);
const panels = computed(() => first(props.pattern?.panels ?? []).filter((p) => p.verdict.state !== "unknown"));
const found = computed(() => (props.pattern?.findings ?? []).filter((f) => SAID_HERE.includes(f.place)));
</script>

<template>
  <section>
    <h3>On the body</h3>
    <p v-if="!lies.length" class="soft">
      Not yet. Lay a panel down, and what is glued to it lies there too: folds and bevels, straps, loads and the figure
      are then worked out from these panels.
    </p>
    <p v-if="wrong" class="words stop">{{ say(wrong) }}</p>
    <article v-for="lie in lies" :key="lie.panel" class="lie">
      <b>Panel {{ lie.panel }}</b>
      <label
        >up at
        <input
          type="number"
          step="1"
          min="-360"
          max="360"
          :name="`up-${lie.panel}`"
          :value="lie.up"
          @change="emit('turn', lie.panel, Number(($event.target as HTMLInputElement).value))" />°</label
      >
      <button class="press small plain" :aria-label="`Take panel ${lie.panel} up`" @click="emit('take', lie.panel)">
        ✕
      </button>
    </article>
    <article v-for="p in lies.length ? panels : []" :key="p.number" class="found" :class="STATE[p.verdict.state]">
      <b>{{ p.number }}: {{ say(p.verdict.sentence) }}</b> <span>{{ say(p.verdict.advice) }}</span>
      <span v-for="d in p.darts" v-show="d.curvature !== null" :key="d.key" class="figures soft">
        {{ d.name }} closes {{ d.angle.toFixed(0) }}°; the body curves by {{ (d.curvature ?? 0).toFixed(0) }}° round it.
      </span>
    </article>
    <article v-for="f in lies.length ? found : []" :key="f.message" class="words" :class="f.level">
      <div>
        <b>{{ say(f.message) }}</b> <span v-if="f.advice">{{ say(f.advice) }}</span>
      </div>
    </article>
  </section>
</template>

<style scoped>
section {
  display: grid;
  gap: 10px;
}

.lie {
  display: flex;
  gap: 12px;
  align-items: baseline;
  padding: 8px 12px;
  border-left: 4px solid var(--ochre-fill);
  background: var(--vellum);
}

.lie input {
  width: 62px;
  padding: 4px 8px;
  border: 1px solid var(--sheet-line);
  background: var(--sheet);
  color: inherit;
  font: inherit;
}

.lie b,
.lie label {
  white-space: nowrap;
}

.lie .press {
  margin-left: auto;
}

.found {
  display: grid;
  gap: 3px;
  padding: 8px 12px;
  border-left: 4px solid var(--verdigris);
}

.found.warm {
  border-color: var(--ochre-fill);
}

.found.hard {
  border-color: var(--plum);
}

.found.stop {
  border-color: var(--oxide);
}
</style>
