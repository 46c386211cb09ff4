<script setup lang="ts">
import { computed } from "vue";
import { useUnit } from "@/parts/units";
import type { Material, Part } from "./useNest";

/** What the sheets of one foam come to, the part in hand, and what is wrong. */
const props = defineProps<{
  material: Material;
  part: Part | undefined;
  missing: readonly { piece: string; why: string }[];
  step: number;
  paper: string;
  /** The sheet of the part in hand, and those it could be put on. */
  on: string;
  sheets: readonly string[];
  busy: boolean;
}>();
const emit = defineEmits<{
  turn: [degrees: number];
  lock: [locked: boolean];
  buy: [sheets: number];
  move: [sheet: string];
  split: [part: string];
}>();
const { show, say } = useUnit();
const codes = computed(() =>
  Object.fromEntries(props.material.sheets.flatMap((s) => s.parts.map((p) => [p.key, p.code]))),
);
const rests = computed(() =>
  props.material.sheets.filter((s) => s.rest).map((s) => [s.rest![2]! - s.rest![0]!, s.rest![3]! - s.rest![1]!]),
);
const placed = computed(() => props.material.sheets.reduce((a, s) => a + s.parts.length, 0));
</script>

<template>
  <section v-if="part">
    <h3>{{ part.code }}</h3>
    <p>{{ part.piece }}, pattern {{ part.turned ? "turned over" : "as drawn" }}</p>
    <div class="turns">
      <button class="press" @click="emit('turn', step)">↺ {{ step }}°</button>
      <button class="press" @click="emit('turn', -step)">↻ {{ step }}°</button>
    </div>
    <button class="press" :aria-pressed="part.locked" @click="emit('lock', !part.locked)">
      {{ part.locked ? "Let it be moved" : "Keep it here" }}
    </button>
    <label v-if="sheets.length > 1" class="to"
      >On
      <select
        class="press"
        name="part-sheet"
        :value="on"
        @change="emit('move', ($event.target as HTMLSelectElement).value)">
        <option v-for="s in sheets" :key="s" :value="s">{{ s }}</option>
      </select></label
    >
    <p class="soft">
      {{ part.locked ? "It stays here when the rest is laid anew." : "The next laying may move it." }}
    </p>
  </section>
  <section>
    <h3>{{ show(material.thickness) }} {{ material.kind }} foam</h3>
    <p v-if="material.laid" class="sum">
      <b>{{ placed }} of {{ material.count }} parts laid</b>
      <span v-if="material.to_buy"
        >{{ material.to_buy }} {{ material.to_buy === 1 ? "sheet" : "sheets" }} to buy<template
          v-if="material.price !== null"
          >, {{ (material.to_buy * material.price).toFixed(2) }}</template
        ></span
      >
      <span v-else>No sheet to buy</span>
      <span v-for="(r, k) in rests" :key="k" class="soft"
        >Rest {{ show(Math.floor(r[0]!)) }} × {{ show(Math.floor(r[1]!)) }}</span
      >
    </p>
    <button v-if="material.to_buy" class="press" @click="emit('buy', material.to_buy)">
      {{ material.to_buy === 1 ? "It is bought" : `All ${material.to_buy} are bought` }}
    </button>
    <a v-if="material.sheets.length" class="press" :href="paper">All sheets on paper, PDF</a>
    <p class="soft">{{ show(material.clearance) }} between two parts and to the edge.</p>
    <p v-if="material.one_faced" class="look">
      This sheet has one good face. You see its back, on which you trace: turn patterns, never the sheet.
    </p>
    <p v-if="material.sheets.some((s) => s.cuts.length)" class="soft">
      Dashed: cut straight across there first; it goes through no part.
    </p>
  </section>
  <section v-if="material.troubles.length || material.left.length || material.large.length || missing.length">
    <h3>Look here</h3>
    <p v-for="t in material.troubles" :key="t.parts.join()" class="stop">
      {{ t.parts.map((k) => codes[k] ?? k).join(" and ") }} {{ say(t.words) }}.
    </p>
    <template v-for="one in material.large" :key="one.key">
      <p class="stop">
        {{ one.code }} is larger than every sheet, {{ show(Math.round(one.size[0]!)) }} ×
        {{ show(Math.round(one.size[1]!)) }}: split it by a seam, use a larger sheet, or glue two edge to edge.
      </p>
      <button class="press split" :disabled="busy" @click="emit('split', one.key)">Split {{ one.code }}</button>
    </template>
    <p v-if="material.left.length > material.large.length" class="look">
      {{ material.left.length - material.large.length }} parts came since, or found no room: lay them anew.
    </p>
    <p v-for="m in missing" :key="m.piece" class="look">{{ m.piece }}: {{ say(m.why) }}</p>
  </section>
</template>

<style scoped>
section {
  display: grid;
  gap: 8px;
}

.to {
  display: flex;
  gap: 8px;
  align-items: center;
}

.turns {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px;
}

.sum {
  display: grid;
  gap: 2px;
}

.stop {
  color: var(--oxide);
}

.look {
  padding-left: 10px;
  border-left: 4px solid var(--ochre-fill);
}
</style>
