<script setup lang="ts">
import { computed } from "vue";
import type { Schemas } from "@/api/client";
import LengthField from "@/parts/LengthField.vue";
import { useUnit } from "@/parts/units";
import {
  linesOf,
  offerOf,
  PLATES,
  withLine,
  withShape,
  type Border,
  type Detail,
  type Laid,
  type Plate,
  type Row,
  type Scales,
  type ShapeChange,
} from "./laid";

/** What is in the hand: along which lines it runs, and only the measures that its kind has. */
const props = defineProps<{
  lines: readonly Schemas["LineThereOut"][];
  draft: Detail;
  tried: Laid | null;
  trouble: string;
  fresh: boolean;
  piece: number;
}>();
const emit = defineEmits<{ change: [draft: Detail]; keep: []; close: [] }>();
const { say } = useUnit();
const offer = computed(() => offerOf(props.draft.kind));
const of = <T,>(form: string) => computed(() => (props.draft.shape?.form === form ? (props.draft.shape as T) : null));
const border = of<Border>("border");
const row = of<Row>("row");
const plate = of<Plate>("plate");
const scales = of<Scales>("scales");
const chosen = computed(() => linesOf(props.draft));
const within = computed(() => props.lines.some((l) => l.kind === "inked" && chosen.value.includes(l.name)));
const shape = (change: ShapeChange) => emit("change", withShape(props.draft, change));
const detail = (change: Partial<Detail>) => emit("change", { ...props.draft, ...change });
const number = (event: Event) => Number((event.target as HTMLInputElement).value) || 0;
const PROFILES: readonly (readonly [NonNullable<Border["profile"]>, string])[] = [
  ["flat", "flat"],
  ["rounded", "edges rounded"],
  ["half-round", "half-round"],
  ["triangular", "triangular, slit from corner to corner"],
];
</script>

<template>
  <form @submit.prevent="emit('keep')">
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
        :value="Number((border ?? row ?? scales)?.inset ?? 0)"
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
      <template v-if="scales">
        <LengthField
          word="One is wide"
          name="laid-wide"
          :value="Number(scales.wide)"
          @change="shape({ wide: $event as never })" />
        <LengthField
          word="and high"
          name="laid-high"
          :value="Number(scales.high)"
          @change="shape({ high: $event as never })" />
        <LengthField
          word="Its foam"
          name="laid-foam"
          :value="Number(scales.foam)"
          @change="shape({ foam: $event as never })" />
        <label class="field"
          ><span class="word">Covered, %</span
          ><input
            class="press figures"
            name="laid-covered"
            type="number"
            min="10"
            max="80"
            :value="Math.round((scales.covered ?? 0.4) * 100)"
            @change="shape({ covered: Math.min(0.8, Math.max(0.1, number($event) / 100)) })"
        /></label>
        <label class="field"
          ><span class="word">Rows, at most</span
          ><input
            class="press figures"
            name="laid-rows"
            inputmode="numeric"
            :value="scales.rows || ''"
            placeholder="all there is room for"
            @change="shape({ rows: Math.max(0, Math.round(number($event))) })"
        /></label>
        <label class="field"
          ><span class="word">Outline</span>
          <select
            class="press"
            name="laid-outline"
            :value="scales.outline ?? 'round'"
            @change="shape({ outline: ($event.target as HTMLSelectElement).value as Scales['outline'] })">
            <option v-for="o in ['round', 'pointed', 'square']" :key="o">{{ o }}</option>
          </select>
        </label>
      </template>
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
      <label v-if="within" class="tick"
        ><input
          type="checkbox"
          name="laid-both"
          :checked="row.both"
          @change="shape({ both: ($event.target as HTMLInputElement).checked })" />
        on both sides of the line</label
      >
    </template>
    <label v-if="row || scales" class="field"
      ><span class="word">Sold in packs of</span
      ><input
        class="press figures"
        name="laid-pack"
        inputmode="numeric"
        :value="(row ?? scales)!.pack || ''"
        placeholder="not in packs"
        @change="shape({ pack: Math.max(0, Math.round(Number(($event.target as HTMLInputElement).value) || 0)) })"
    /></label>
    <p v-if="trouble" class="stop words" role="alert">{{ say(trouble) }}</p>
    <p v-else-if="tried" class="told figures" role="status">
      {{ say(tried.words) }}
      <b v-for="p in tried.problems" :key="p" class="stop">{{ say(p) }}. </b>
    </p>
    <a v-if="plate && !fresh" class="press small" :href="`/api/pieces/${piece}/laid/${draft.key}/sizes.pdf`"
      >Three sizes on paper</a
    >
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
</template>

<style scoped>
form {
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
