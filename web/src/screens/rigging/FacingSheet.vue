<script setup lang="ts">
import { computed, reactive } from "vue";
import { useHere } from "@/api/queries";
import LengthField from "@/parts/LengthField.vue";
import { useUnit } from "@/parts/units";
import { CLOSED_BY, useRigWork, type ClosedBy, type Rig } from "./useRig";
import type { Schemas } from "@/api/client";

/** Free edges that close on each other, of one piece or of two, with the straps that are there beside them. */
const props = defineProps<{ rig: Rig }>();
const { piece } = useHere();
const { show, say } = useUnit();
const work = useRigWork(piece);
type Row = Schemas["EdgeClosing-Input"];
const rows = computed(() => (piece.value?.design.rig.closings ?? []) as Row[]);
const own = computed(() => props.rig.edges.find((e) => e.piece === "")?.edges ?? []);
/** What was worked out for a row; nothing while it is not there yet. */
const made = (row: Row) =>
  props.rig.facings.find(
    ({ row: r }) => r.edge === row.edge && r.other === row.other && r.piece === row.piece && r.kind === row.kind,
  );
/** Where the other edge is: an edge's name alone tells nothing when two pieces have it. */
const others = computed(() => props.rig.edges.flatMap((e) => e.edges.map((edge) => ({ piece: e.piece, edge }))));
const fresh = reactive({ edge: "", other: -1, kind: "zip" as ClosedBy });
const add = () => {
  const edge = fresh.edge || own.value[0];
  const other = others.value[fresh.other];
  if (!edge || !other) return;
  work.rows("closings", (now) => [
    ...now,
    { edge, other: other.edge, piece: other.piece, kind: fresh.kind, low: 0, high: null },
  ]);
  fresh.other = -1;
};
const change = (at: number, to: Partial<Row>) =>
  work.rows("closings", (now) => now.map((r, n) => (n === at ? { ...r, ...to } : r)));
const remove = (at: number) => work.rows("closings", (now) => now.filter((_, n) => n !== at));
</script>

<template>
  <section v-for="(row, i) in rows" :key="i" class="sheet card" :data-closing="row.edge">
    <h3>
      {{ row.edge }} on {{ row.other === row.edge && !row.piece ? "its like" : row.other }}
      <span class="soft">{{ row.piece ? `of ${row.piece}, ` : "" }}{{ CLOSED_BY[row.kind ?? "hook-and-loop"] }}</span>
    </h3>
    <template v-if="made(row)">
      <p v-if="made(row)!.problem" class="words stop">{{ say(made(row)!.problem) }}</p>
      <template v-else>
        <p class="figures">
          Closes {{ show(made(row)!.high - made(row)!.low) }} of the {{ show(made(row)!.length) }} where they face each
          other<template v-if="made(row)!.alike > 1">, on both sides</template>.
        </p>
        <ul class="plain-list figures">
          <li v-for="p in made(row)!.parts" :key="p.name">
            <b>{{ p.count }} ×</b> {{ say(p.name) }}<template v-if="p.length">, {{ show(p.length) }}</template>
          </li>
        </ul>
      </template>
    </template>
    <div class="fields">
      <label class="field"
        ><span class="word">Closed by</span>
        <select
          class="press"
          :name="`closing-kind-${i}`"
          :value="row.kind"
          @change="change(i, { kind: ($event.target as HTMLSelectElement).value as ClosedBy })">
          <option v-for="(word, key) in CLOSED_BY" :key="key" :value="key">{{ word }}</option>
        </select>
      </label>
      <LengthField
        v-if="!made(row)?.problem"
        word="From its lower end"
        :name="`closing-low-${i}`"
        :value="made(row)?.low ?? 0"
        @change="change(i, { low: ($event || 0) as unknown as number })" />
      <LengthField
        v-if="!made(row)?.problem"
        word="Up to"
        :name="`closing-high-${i}`"
        :value="made(row)?.high ?? 0"
        hint="Empty: up to its upper end"
        @change="change(i, { high: ($event || null) as unknown as number })" />
      <button class="press small" @click="remove(i)">Leave it open</button>
    </div>
    <p v-for="a in made(row)?.advice ?? []" :key="a" class="soft">{{ say(a) }}</p>
  </section>
  <section v-if="own.length" class="sheet card add">
    <label class="field"
      ><span class="word">A free edge</span>
      <select v-model="fresh.edge" class="press" name="closing-edge">
        <option value="" disabled>choose</option>
        <option v-for="e in own" :key="e" :value="e">{{ e }}</option>
      </select>
    </label>
    <label class="field"
      ><span class="word">closes on</span>
      <select v-model="fresh.other" class="press" name="closing-other">
        <option :value="-1" disabled>choose</option>
        <option v-for="(o, n) in others" :key="n" :value="n">
          {{ o.edge }}{{ o.piece ? ` of ${o.piece}` : ", its own" }}
        </option>
      </select>
    </label>
    <label class="field"
      ><span class="word">by</span>
      <select v-model="fresh.kind" class="press" name="closing-kind">
        <option v-for="(word, key) in CLOSED_BY" :key="key" :value="key">{{ word }}</option>
      </select>
    </label>
    <button class="press main" :disabled="!fresh.edge || fresh.other < 0" @click="add()">Close these edges</button>
  </section>
</template>

<style scoped src="./rows.css"></style>
