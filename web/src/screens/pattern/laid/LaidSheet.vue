<script setup lang="ts">
import { computed, ref } from "vue";
import type { Schemas } from "@/api/client";
import LengthField from "@/parts/LengthField.vue";
import { useUnit } from "@/parts/units";
import MotifField from "@/screens/making/bench/MotifField.vue";
import {
  linesOf,
  OFFERS,
  offerOf,
  PLATES,
  withLine,
  withShape,
  type Border,
  type Detail,
  type Laid,
  type Place,
  type Plate,
  type Row,
} from "./laid";

/** What is to be laid along which line, and how: a kind and a line first, then only what that kind has. */
const props = defineProps<{
  lines: readonly Schemas["LineThereOut"][];
  draft: Detail | null;
  tried: Laid | null;
  trouble: string;
  line: string;
  spot: Place | null;
  fresh: boolean;
}>();
const emit = defineEmits<{
  begin: [kind: (typeof OFFERS)[number]];
  change: [draft: Detail];
  line: [name: string];
  place: [motif: Schemas["MotifOut"], name: string];
  keep: [];
  close: [];
}>();
const { show, say } = useUnit();
const kind = ref<(typeof OFFERS)[number]["kind"]>("trim");
const offer = computed(() => offerOf(props.draft?.kind ?? kind.value)!);
const border = computed(() => (props.draft?.shape?.form === "border" ? (props.draft.shape as Border) : null));
const row = computed(() => (props.draft?.shape?.form === "row" ? (props.draft.shape as Row) : null));
const plate = computed(() => (props.draft?.shape?.form === "plate" ? (props.draft.shape as Plate) : null));
const motif = ref<Schemas["MotifOut"] | null>(null);
const named = ref("");
const within = computed(() => props.lines.some((l) => l.kind === "inked" && linesOf(props.draft).includes(l.name)));
const shape = (change: Partial<Border> | Partial<Row> | Partial<Plate>) =>
  props.draft && emit("change", withShape(props.draft, change));
const detail = (change: Partial<Detail>) => props.draft && emit("change", { ...props.draft, ...change });
const chosen = computed(() => linesOf(props.draft));
const PROFILES: readonly (readonly [NonNullable<Border["profile"]>, string])[] = [
  ["flat", "flat"],
  ["rounded", "edges rounded"],
  ["half-round", "half-round"],
  ["triangular", "triangular, slit from corner to corner"],
];
const KINDS: Record<string, string> = { edge: "Edges", seam: "Seams", inked: "Inked inside" };
const groups = computed(() =>
  Object.entries(KINDS)
    .map(([key, word]) => ({ word, lines: props.lines.filter((l) => l.kind === key) }))
    .filter((g) => g.lines.length),
);
</script>

<template>
  <div class="sheet-of">
    <template v-if="!draft">
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
          @click="((kind = o.kind), emit('begin', o))">
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
    </template>
    <form v-else @submit.prevent="emit('keep')">
      <label class="field"
        ><span class="word">{{ plate ? "Its name" : `${offer?.word}, its name` }}</span
        ><input
          class="press"
          name="laid-name"
          maxlength="80"
          :value="draft.name"
          @change="detail({ name: ($event.target as HTMLInputElement).value || draft.name })"
      /></label>
      <fieldset v-if="!plate">
        <legend class="word">Along</legend>
        <button
          v-for="l in lines"
          :key="l.name"
          type="button"
          class="press small chip"
          :aria-pressed="chosen.includes(l.name)"
          @click="emit('change', withLine(draft, l.name))">
          {{ l.name }}
        </button>
      </fieldset>
      <div class="two">
        <LengthField
          v-if="!plate"
          :word="within ? 'Aside from the line' : 'In from the line'"
          name="laid-inset"
          :value="Number((border ?? row)?.inset ?? 0)"
          @change="shape({ inset: $event as never })" />
        <LengthField
          v-if="border"
          word="Wide"
          name="laid-width"
          :value="Number(border.width)"
          @change="shape({ width: $event as never })" />
        <LengthField
          v-if="border"
          word="Its foam"
          name="laid-foam"
          :value="Number(border.foam)"
          @change="shape({ foam: $event as never })" />
        <LengthField
          v-if="row"
          word="From middle to middle"
          name="laid-pitch"
          :value="Number(row.pitch)"
          @change="shape({ pitch: $event as never })" />
        <LengthField
          v-if="row"
          word="Across"
          name="laid-size"
          :value="Number(draft.size ?? 0)"
          @change="detail({ size: $event as never })" />
      </div>
      <template v-if="plate">
        <div class="two">
          <LengthField
            word="Across"
            name="laid-wide"
            :value="Number(plate.wide)"
            @change="shape({ wide: $event as never })" />
          <LengthField
            word="Its foam"
            name="laid-foam"
            :value="Number(plate.foam)"
            @change="shape({ foam: $event as never })" />
          <label class="field"
            ><span class="word">Layers</span
            ><input
              class="press figures"
              name="laid-layers"
              type="number"
              min="1"
              max="6"
              :value="plate.layers ?? 1"
              @change="shape({ layers: Math.round(Number(($event.target as HTMLInputElement).value) || 1) })"
          /></label>
          <LengthField
            v-if="(plate.layers ?? 1) > 1"
            word="Each smaller by"
            name="laid-step"
            :value="Number(plate.step ?? 5)"
            @change="shape({ step: $event as never })" />
          <label class="field"
            ><span class="word">Turned, degrees</span
            ><input
              class="press figures"
              name="laid-turn"
              type="number"
              min="-180"
              max="180"
              :value="plate.turn ?? 0"
              @change="shape({ turn: Number(($event.target as HTMLInputElement).value) || 0 })"
          /></label>
        </div>
        <label class="field"
          ><span class="word">It is</span>
          <select
            class="press"
            name="laid-kind"
            :value="draft.kind"
            @change="detail({ kind: ($event.target as HTMLSelectElement).value as Detail['kind'] })">
            <option v-for="p in PLATES" :key="p.kind" :value="p.kind">{{ p.word.toLowerCase() }}</option>
          </select>
        </label>
        <label class="tick"
          ><input
            type="checkbox"
            name="laid-apart"
            :checked="draft.apart"
            @change="detail({ apart: ($event.target as HTMLInputElement).checked })" />
          of another colour, painted apart</label
        >
      </template>
      <template v-if="border">
        <label class="field"
          ><span class="word">Its profile</span>
          <select
            class="press"
            name="laid-profile"
            :value="border.profile ?? 'flat'"
            @change="shape({ profile: ($event.target as HTMLSelectElement).value as Border['profile'] })">
            <option v-for="[key, word] in PROFILES" :key="key" :value="key">{{ word }}</option>
          </select>
        </label>
        <label class="field"
          ><span class="word">At corners</span>
          <select
            class="press"
            name="laid-corners"
            :value="border.corners ?? 'mitred'"
            @change="shape({ corners: ($event.target as HTMLSelectElement).value as Border['corners'] })">
            <option value="mitred">mitred, at half their angle</option>
            <option value="one piece">one piece cut round</option>
          </select>
        </label>
      </template>
      <template v-if="row">
        <label class="field"
          ><span class="word">First and last</span>
          <select
            class="press"
            name="laid-ends"
            :value="row.ends ?? 'half a pitch'"
            @change="shape({ ends: ($event.target as HTMLSelectElement).value as Row['ends'] })">
            <option value="half a pitch">half of that from the ends</option>
            <option value="at the ends">at the very ends</option>
          </select>
        </label>
        <label class="field"
          ><span class="word">Sold in packs of</span
          ><input
            class="press figures"
            name="laid-pack"
            inputmode="numeric"
            :value="row.pack || ''"
            placeholder="not in packs"
            @change="shape({ pack: Math.max(0, Math.round(Number(($event.target as HTMLInputElement).value) || 0)) })"
        /></label>
        <label v-if="within" class="tick"
          ><input
            type="checkbox"
            name="laid-both"
            :checked="row.both"
            @change="shape({ both: ($event.target as HTMLInputElement).checked })" />
          on both sides of the line</label
        >
      </template>
      <p v-if="trouble" class="stop words" role="alert">{{ say(trouble) }}</p>
      <p v-else-if="tried" class="told figures" role="status">
        {{ say(tried.words) }}
        <b v-for="p in tried.problems" :key="p" class="stop">{{ say(p) }}. </b>
      </p>
      <div class="acts">
        <button class="press main" type="submit" name="laid-keep" :disabled="Boolean(trouble)">
          {{ fresh ? "Put it on" : "Keep it so" }}
        </button>
        <button class="press" type="button" @click="emit('close')">Leave it</button>
      </div>
      <p class="soft">
        {{ plate ? "Drag it on the table to where it goes." : "Drag it on the table to move it in or out." }}
      </p>
    </form>
  </div>
</template>

<style scoped>
.sheet-of,
form,
section {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 10px;
  align-content: start;
}

input.press,
select {
  width: 100%;
}

.tick input {
  width: auto;
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

fieldset {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  padding: 0;
  border: 0;
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

.two {
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: 10px;
}

.told {
  padding: 8px 12px;
  background: var(--verdigris-pale);
}

.stop {
  color: var(--oxide);
}

.acts {
  display: flex;
  gap: 8px;
}
</style>
