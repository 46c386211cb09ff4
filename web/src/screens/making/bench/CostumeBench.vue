<script setup lang="ts">
import { computed } from "vue";
import { api, take, type Schemas } from "@/api/client";
import { useChange } from "@/api/queries";
import EmptySheet from "@/frame/EmptySheet.vue";
import { minutes } from "@/parts/units";
import { span, type Step } from "./useBench";

/** The whole costume: what can be done now, in one go where that is quicker; what waits, and for what. */
const props = defineProps<{ costume?: Schemas["CostumeBenchOut"]; build: number; stages: boolean }>();
const emit = defineEmits<{ open: [piece: number, key: string] }>();
type Row = { piece: number; name: string; step: Step };
const rows = (state: Step["state"]): Row[] =>
  (props.costume?.pieces ?? []).flatMap((p) =>
    p.steps.filter((s) => s.state === state).map((step) => ({ piece: p.piece_id, name: p.name, step })),
  );
const bound = (row: Row) => props.costume?.bound.find((b) => b.piece === row.piece && b.key === row.step.key);
const ready = computed(() => rows("ready").filter((r) => !bound(r) && !r.step.lacks.length));
const first = computed(() => {
  const seen = new Set<number>();
  return ready.value.filter((r) => !seen.has(r.piece) && seen.add(r.piece));
});
const held = computed(() => rows("ready").filter((r) => bound(r) || r.step.lacks.length));
const waits = computed(() => rows("waiting").sort((a, b) => a.step.until - b.step.until));
const mend = computed(() => rows("mend"));
const wrong = computed(() => (props.costume?.pieces ?? []).flatMap((p) => p.wrong.map((w) => `${p.name}: ${w}`)));
const name = (piece: number) => props.costume?.pieces.find((p) => p.piece_id === piece)?.name ?? "The costume";
const heldWords = (key: string) => props.costume?.bound.find((b) => b.piece === 0 && b.key === key)?.words ?? "";
const mark = useChange((body: Schemas["MarkIn"]) =>
  take(api.PUT("/api/builds/{build}/bench", { params: { path: { build: props.build } }, body })),
);
const say = (key: string, more: object) => mark.mutate({ key, ...more } as Schemas["MarkIn"]);
</script>

<template>
  <p v-if="!costume" class="soft">Laying out every piece…</p>
  <EmptySheet v-else-if="!costume.pieces.length && !costume.unmade.length" title="No pieces yet">
    <p>Add the first piece in the head of the page: its steps stand here the moment it can be drawn.</p>
  </EmptySheet>
  <div v-else class="costume">
    <section v-if="wrong.length" class="words stop">
      <div>
        <h3>Done, and not so any more</h3>
        <p v-for="w in wrong" :key="w">{{ w }}</p>
      </div>
    </section>
    <section v-if="mend.length" aria-label="To be mended">
      <h3>Mend first</h3>
      <button
        v-for="r in mend"
        :key="r.piece + r.step.key"
        class="card mend"
        @click="emit('open', r.piece, r.step.key)">
        <b>{{ r.step.title }}</b><span>{{ r.name }} · {{ r.step.inspection?.mend }}</span>
      </button>
    </section>
    <section v-if="costume.batches.length" class="batches" :class="{ first: stages }" aria-label="In one go">
      <h3>In one go</h3>
      <div v-for="b in costume.batches" :key="b.title" class="batch sheet">
        <b>{{ b.title }}</b>
        <span class="soft figures">{{ b.items.length }} steps, {{ minutes(b.minutes) }}, {{ b.place }}</span>
        <span class="chips">
          <button v-for="i in b.items" :key="i.piece + i.key" class="press small" @click="emit('open', i.piece, i.key)">
            {{ name(i.piece) }}
          </button>
        </span>
      </div>
    </section>
    <section aria-label="Now">
      <h3>Now</h3>
      <p v-if="ready.length > first.length" class="soft">
        {{ ready.length }} steps could be begun; this is the first of each piece.
      </p>
      <div class="cards">
        <button v-for="r in first" :key="r.piece + r.step.key" class="card" @click="emit('open', r.piece, r.step.key)">
          <b>{{ r.step.title }}</b>
          <span
            >{{ r.name }} · {{ minutes(r.step.minutes)
            }}<template v-if="r.step.place !== 'indoors'"> · {{ r.step.place }}</template></span
          >
        </button>
        <p v-if="!ready.length" class="soft">Nothing can be done this minute.</p>
      </div>
    </section>
    <section v-if="waits.length" aria-label="Waits">
      <h3>Waits</h3>
      <div class="cards">
        <button
          v-for="r in waits"
          :key="r.piece + r.step.key"
          class="card waits"
          @click="emit('open', r.piece, r.step.key)">
          <b>{{ r.step.title }}</b><span class="figures">{{ r.name }} · {{ span(r.step.until) }}</span>
        </button>
      </div>
    </section>
    <section v-if="held.length" aria-label="Held back">
      <h3>Held back</h3>
      <div class="cards">
        <button
          v-for="r in held"
          :key="r.piece + r.step.key"
          class="card waits"
          @click="emit('open', r.piece, r.step.key)">
          <b>{{ r.step.title }}</b>
          <span>{{ r.name }} · {{ bound(r)?.words ?? `you have no ${r.step.lacks.join(", no ")}` }}</span>
        </button>
      </div>
    </section>
    <section aria-label="The costume itself">
      <h3>The costume itself</h3>
      <div v-for="s in costume.own" :key="s.key" class="own sheet" :class="s.state">
        <div>
          <b>{{ s.state === "done" ? "✓ " : "" }}{{ s.title }}</b>
          <p>{{ s.how }}</p>
          <p v-if="s.state === 'blocked'" class="soft">{{ heldWords(s.key) }}</p>
          <p v-if="s.state === 'mend'" class="words stop">{{ s.inspection?.mend }}</p>
          <p v-else-if="s.inspection && s.state === 'ready'">
            <b>{{ s.inspection.question }}</b>
          </p>
        </div>
        <span class="acts">
          <button v-if="s.state === 'done'" class="press" @click="say(s.key, { done: false })">
            Not done after all
          </button>
          <button v-else-if="s.state === 'mend'" class="press main" @click="say(s.key, { answer: 'mended' })">
            Mended: look again
          </button>
          <template v-else-if="s.inspection">
            <button
              class="press main"
              :disabled="s.state === 'blocked'"
              @click="say(s.key, { done: true, answer: 'yes' })">
              Yes
            </button>
            <button class="press" :disabled="s.state === 'blocked'" @click="say(s.key, { answer: 'no' })">No</button>
          </template>
          <button v-else class="press main" :disabled="s.state === 'blocked'" @click="say(s.key, { done: true })">
            Done
          </button>
        </span>
      </div>
    </section>
    <p v-for="u in costume.unmade" :key="u.piece" class="words">{{ u.name }}: {{ u.trouble }}</p>
    <p><a :href="`/api/builds/${build}/bench-sheets.pdf`" download>Bench sheets to print, a page for each piece</a></p>
  </div>
</template>

<style scoped>
.costume {
  display: grid;
  gap: 20px;
  align-content: start;
  max-width: 1100px;
  font-size: 18px;
}

section {
  display: grid;
  gap: 8px;
}

.cards {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(260px, 1fr));
  gap: 8px;
}

.card {
  display: grid;
  gap: 2px;
  min-height: 62px;
  padding: 8px 14px;
  border: 0;
  border-left: 5px solid var(--verdigris);
  background: var(--sheet);
  box-shadow: var(--shadow);
  text-align: left;
  cursor: pointer;
}

.card span {
  font-size: 16px;
  color: var(--graphite-soft);
}

.card.waits,
.card.mend {
  border-color: var(--ochre-fill);
}

/* Who works in stages sees first what goes in one go; who works piece by piece sees the pieces. */
.batches {
  order: 1;
}

.batches.first {
  order: 0;
}

.batches ~ section,
.batches ~ p {
  order: 2;
}

.batches:not(.first) + section {
  order: 0;
}

.batch {
  display: grid;
  grid-template-columns: 240px auto;
  gap: 6px 16px;
  align-items: center;
  padding: 10px 14px;
}

.batch .chips {
  display: flex;
  flex-wrap: wrap;
  grid-column: 1 / -1;
  gap: 6px;
}

.batch .press {
  min-height: 44px;
}

.own {
  display: flex;
  flex-wrap: wrap;
  gap: 10px 20px;
  align-items: center;
  justify-content: space-between;
  padding: 10px 16px;
}

.own > div {
  flex: 1 1 340px;
}

.own.blocked b {
  color: var(--graphite-soft);
}

.acts {
  display: flex;
  gap: 8px;
}

.acts .press {
  min-height: 56px;
}

@media (max-width: 760px) {
  .batch {
    grid-template-columns: 1fr;
  }
}
</style>
