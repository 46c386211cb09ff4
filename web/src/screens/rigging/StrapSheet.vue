<script setup lang="ts">
import { computed } from "vue";
import { useUnit, weight } from "@/parts/units";
import DonningWords from "./DonningWords.vue";
import type { Rig } from "./useRig";

/** How the piece is held: the rig, its rest, what to cut, and what each anchor carries. */
const props = defineProps<{ rig: Rig }>();
const emit = defineEmits<{
  way: [key: string];
  closure: [kind: string];
  back: [anchor: { name: string; side: "left" | "right" }];
  over: [names: string[]];
}>();
const { show, say, bare, unit } = useUnit();
const CLOSED_BY: Record<string, string> = { none: "its straps", lacing: "a lace", zip: "a zip" };
const rest = computed(() => props.rig.rests[0]);
const beneath = computed(() => new Intl.ListFormat("en").format(props.rig.beneath));
const anchors = computed(() => props.rig.anchors.filter((a) => a.side === props.rig.anchors[0]?.side));
const places = (at: readonly number[]) =>
  at.length > 4
    ? `every ${show(at[1] - at[0])} from ${show(at[0])}`
    : at.length
      ? `${at.map((a) => bare(a)).join(", ")} ${unit.value} from below`
      : "";
</script>

<template>
  <div class="side">
    <DonningWords :donning="rig.donning.filter((d) => d.passes !== true)" />
    <label class="field wide">
      <span class="word">Held on by</span>
      <select
        class="press"
        name="way"
        :value="rig.way"
        @change="emit('way', ($event.target as HTMLSelectElement).value)">
        <option v-for="w in rig.ways" :key="w.key" :value="w.key">{{ w.words }}</option>
      </select>
    </label>
    <label v-if="rig.closings.length" class="field wide">
      <span class="word">Its edges are closed by</span>
      <select
        class="press"
        name="closing"
        :value="rig.closure"
        @change="emit('closure', ($event.target as HTMLSelectElement).value)">
        <option v-for="c in rig.closings" :key="c" :value="c">{{ CLOSED_BY[c] ?? c }}</option>
      </select>
    </label>
    <p class="soft">{{ rig.ways.find((w) => w.key === rig.way)?.why }}</p>
    <section v-if="rest" class="words" :class="{ good: rest.left <= 0.01 }" data-rest>
      <div>
        <h3>{{ rest.left <= 0.01 ? "It holds" : "It does not hold yet" }}</h3>
        <p>{{ say(rest.words) }}</p>
        <p class="soft small">All copies weigh {{ say(rig.weight.words) }}.</p>
        <p v-for="f in rig.findings.slice(0, 1)" :key="f.message" class="soft">{{ f.advice }}</p>
      </div>
    </section>
    <section v-if="rig.beneath.length" class="words" data-beneath>
      <div>
        <h3>Made too tight</h3>
        <p>It lies over {{ beneath }}, but is patterned on the body: two sheets would be in one place.</p>
        <button class="press main" @click="emit('over', rig.beneath)">Pattern it over {{ beneath }}</button>
      </div>
    </section>
    <section v-for="plan in rig.plans" :key="plan.side" class="sheet list">
      <h3>
        Cut<template v-if="rig.copies > 1">, for each of {{ rig.copies }}</template
        ><template v-if="rig.plans.length > 1">, {{ plan.side }}</template>
      </h3>
      <ul class="plain-list parts">
        <li v-for="p in plan.parts" :key="p.name">
          <b class="count figures">{{ p.count }} ×</b>
          <div>
            <p class="what">
              {{ say(p.name) }} <b v-if="p.length" class="figures length">{{ show(Math.round(p.length)) }}</b>
            </p>
            <p class="soft small">
              {{ [places(p.at), say(p.stitches), p.glue === "none" ? "" : say(p.glue)].filter(Boolean).join("; ") }}
            </p>
          </div>
        </li>
      </ul>
      <p v-if="!plan.parts.length" class="soft">Nothing of its own to cut.</p>
      <ul class="advice">
        <li v-for="a in plan.advice.slice(1)" :key="a">{{ say(a) }}</li>
      </ul>
    </section>
    <section v-if="anchors.length" class="sheet list">
      <h3>Anchors</h3>
      <p class="soft small">Drag one over its piece on the figure. Its mark goes on the pattern.</p>
      <ul class="plain-list parts">
        <li v-for="a in anchors" :key="a.name" :data-row="a.name">
          <div class="anchor">
            <p class="what">
              {{ a.name }} <span v-if="!a.own" class="soft">(hangs on it)</span>
              <b v-if="a.grams !== null && a.grams >= 1" class="figures length">{{ weight(a.grams, unit) }}</b>
            </p>
            <p v-if="a.grams !== null" class="soft small">
              {{ a.rivets }} rivets, or hook-and-loop {{ Math.ceil((a.hook ?? 0) / 100) }} cm²
            </p>
          </div>
          <button v-if="a.moved" class="press small" @click="emit('back', { name: a.name, side: a.side })">
            Put back
          </button>
        </li>
      </ul>
    </section>
  </div>
</template>

<style scoped>
.side {
  display: grid;
  flex: 1 1 340px;
  gap: 12px;
  align-content: start;
  min-width: 300px;
}

.wide select {
  width: 100%;
  text-overflow: ellipsis;
}

.words .press {
  margin-top: 10px;
}

.good {
  border-color: var(--verdigris);
  background: var(--verdigris-pale);
}

.list {
  padding: 14px 18px;
}

.parts li {
  display: flex;
  gap: 12px;
  padding: 7px 0;
  border-bottom: 1px solid var(--sheet-line);
}

.count {
  min-width: 34px;
}

.what {
  font-size: 17px;
}

.length {
  margin-left: 6px;
  white-space: nowrap;
}

.anchor {
  flex: 1;
}

.advice {
  margin: 10px 0 0;
  padding-left: 20px;
}
</style>
