<script setup lang="ts">
import { computed, ref } from "vue";
import type { Schemas } from "@/api/client";
import { useUnit } from "@/parts/units";
import MotifField from "@/screens/making/bench/MotifField.vue";
import { OFFERS, type Offer, type Place } from "./laid";

/** What goes where: a line of the piece and what is to run along it, or a place on a panel and a drawing. */
const props = defineProps<{
  lines: readonly Schemas["LineThereOut"][];
  line: string;
  spot: Place | null;
  shapes: readonly string[];
}>();
const emit = defineEmits<{
  begin: [offer: Offer];
  line: [name: string];
  place: [motif: Schemas["MotifOut"], name: string];
  stand: [piece: string];
}>();
const { show } = useUnit();
const motif = ref<Schemas["MotifOut"] | null>(null);
const named = ref("");
const KINDS: Record<string, string> = { edge: "Edges", seam: "Seams", inked: "Inked inside" };
const groups = computed(() =>
  Object.entries(KINDS)
    .map(([key, word]) => ({ word, lines: props.lines.filter((l) => l.kind === key) }))
    .filter((g) => g.lines.length),
);
</script>

<template>
  <div class="sheet-of">
    <p>Press a line on the table, or here; then say what goes along it.</p>
    <section v-for="g in groups" :key="g.word">
      <h3>{{ g.word }}</h3>
      <button
        v-for="l in g.lines"
        :key="l.name"
        class="press small chip"
        :aria-pressed="line === l.name"
        @click="emit('line', l.name)">
        {{ l.name }} <span class="soft figures">{{ show(Math.round(l.length)) }}</span>
      </button>
    </section>
    <section v-if="line">
      <h3>Along the {{ line }}</h3>
      <button
        v-for="o in OFFERS"
        :key="o.kind"
        class="offer"
        :name="`lay-${o.kind.replace(' ', '-')}`"
        @click="emit('begin', o)">
        <b>{{ o.word }}</b> <span class="soft">{{ o.about }}</span>
      </button>
    </section>
    <section>
      <h3>A plate or an emblem</h3>
      <p v-if="!spot" class="soft">Press on a panel where its middle goes.</p>
      <template v-else>
        <label class="field"
          ><span class="word">Its name</span
          ><input v-model="named" class="press" name="plate-name" maxlength="80" placeholder="emblem"
        /></label>
        <MotifField v-model="motif" wide="" />
        <button
          class="press main"
          name="lay-plate"
          :disabled="!motif"
          @click="motif && emit('place', motif, named.trim() || 'emblem')">
          Lay it there
        </button>
      </template>
    </section>
    <section v-if="shapes.length">
      <h3>A shape that stands on it</h3>
      <p v-if="!spot" class="soft">Press on a panel where the middle of its foot goes.</p>
      <template v-else>
        <button v-for="s in shapes" :key="s" class="offer" :data-stand="s" @click="emit('stand', s)">
          <b>{{ s }}</b> <span class="soft">its foot is drawn there</span>
        </button>
      </template>
    </section>
  </div>
</template>

<style scoped>
.sheet-of,
section {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 10px;
  align-content: start;
}

input.press {
  width: 100%;
}

.chip {
  display: inline-flex;
  justify-content: space-between;
  gap: 10px;
}

.chip[aria-pressed="true"] {
  background: var(--verdigris-pale);
  border-color: var(--verdigris);
}

.offer {
  display: grid;
  gap: 2px;
  min-height: 48px;
  padding: 8px 12px;
  border: 1px solid var(--sheet-line);
  border-left: 4px solid var(--verdigris);
  background: var(--sheet);
  color: inherit;
  font: inherit;
  text-align: left;
  cursor: pointer;
}
</style>
