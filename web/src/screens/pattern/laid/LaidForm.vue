<script setup lang="ts">
import { computed } from "vue";
import type { Schemas } from "@/api/client";
import LengthField from "@/parts/LengthField.vue";
import { useUnit } from "@/parts/units";
import BorderFields from "./BorderFields.vue";
import CuffFields from "./CuffFields.vue";
import DamageFields from "./DamageFields.vue";
import LinkFields from "./LinkFields.vue";
import PlateFields from "./PlateFields.vue";
import RowFields from "./RowFields.vue";
import ScalesFields from "./ScalesFields.vue";
import SegmentFields from "./SegmentFields.vue";
import {
  linesOf,
  number,
  offerOf,
  withKind,
  withLine,
  withShape,
  type Border,
  type Cuff,
  type Damage,
  type Detail,
  type Laid,
  type Links,
  type Plate,
  type Row,
  type Scales,
  type Segments,
  type ShapeChange,
} from "./laid";

/** What is in the hand: along which lines it runs, and only the measures that its kind has. */
const props = defineProps<{
  lines: readonly Schemas["LineThereOut"][];
  draft: Detail;
  tried: Laid | null;
  trouble: string;
  fresh: boolean;
  mending: boolean;
  piece: number;
  sleeve: boolean;
}>();
const emit = defineEmits<{ change: [draft: Detail]; keep: []; close: []; mend: []; copy: [] }>();
const { say } = useUnit();
const offer = computed(() => offerOf(props.draft.kind));
const of = <T,>(form: string) => computed(() => (props.draft.shape?.form === form ? (props.draft.shape as T) : null));
const border = of<Border>("border");
const row = of<Row>("row");
const plate = of<Plate>("plate");
const scales = of<Scales>("scales");
const links = of<Links>("links");
const cuff = of<Cuff>("cuff");
const damage = of<Damage>("damage");
const segments = of<Segments>("segments");
/** What runs along its line at an inset. */
const stripe = computed(() => border.value ?? row.value ?? scales.value ?? links.value);
const chosen = computed(() => linesOf(props.draft));
const within = computed(() => props.lines.some((l) => l.kind === "inked" && chosen.value.includes(l.name)));
const packed = computed(() => row.value ?? scales.value ?? links.value);
/** What is to be known of it besides its measures. */
const about = computed(() =>
  plate.value
    ? "Drag it on the table to where it goes."
    : stripe.value
      ? "Drag it on the table to move it in or out."
      : damage.value
        ? "They keep off every edge, seam, anchor and hole."
        : cuff.value
          ? "It lies on no panel: see it on the worn piece. Cut it, form it, then glue it edge to edge."
          : "Its plates are drawn on the base, which is closed before they are laid out.",
);
const shape = (change: ShapeChange) => emit("change", withShape(props.draft, change));
const detail = (change: Partial<Detail>) => emit("change", { ...props.draft, ...change });
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
        v-if="stripe"
        :word="within ? 'Aside from the line' : 'In from the line'"
        name="laid-inset"
        :value="Number(stripe.inset ?? 0)"
        @change="shape({ inset: $event as never })" />
      <BorderFields v-if="border" :shape="border" @change="shape" />
      <ScalesFields v-if="scales" :shape="scales" @change="shape" />
      <LinkFields v-if="links" :shape="links" :sleeve="sleeve" @change="shape" />
      <CuffFields v-if="cuff" :shape="cuff" @change="shape" />
      <DamageFields v-if="damage" :shape="damage" @change="shape" />
      <SegmentFields v-if="segments" :shape="segments" @change="shape" />
      <RowFields
        v-if="row"
        :shape="row"
        :size="Number(draft.size ?? 0)"
        :stitches="draft.kind === 'stitches'"
        :within="within"
        @change="shape"
        @size="detail({ size: $event })" />
      <PlateFields
        v-if="plate"
        :shape="plate"
        :kind="draft.kind"
        :apart="Boolean(draft.apart)"
        @change="shape"
        @detail="detail"
        @kind="emit('change', withKind(draft, $event))" />
    </div>
    <label v-if="packed" class="field"
      ><span class="word">{{ links?.strip ? "Strips sold in packs of" : "Sold in packs of" }}</span
      ><input
        class="press figures"
        name="laid-pack"
        inputmode="numeric"
        :value="packed.pack || ''"
        placeholder="not in packs"
        @change="shape({ pack: Math.max(0, Math.round(number($event))) })"
    /></label>
    <p v-if="trouble" class="stop words" role="alert">{{ say(trouble) }}</p>
    <p v-else-if="tried" class="told figures" role="status">
      {{ say(tried.words) }}
      <b v-for="p in tried.problems" :key="p" class="stop">{{ say(p) }}. </b>
      <button
        v-if="tried.problems.length && (row || border || plate)"
        class="press small"
        type="button"
        name="laid-mend"
        :disabled="mending"
        @click="emit('mend')">
        {{ mending ? "Looking for a place …" : "Mend it" }}
      </button>
    </p>
    <a v-if="plate && !fresh" class="press small" :href="`/api/pieces/${piece}/laid/${draft.key}/sizes.pdf`"
      >Three sizes on paper</a
    >
    <div class="acts">
      <button class="press main" type="submit" name="laid-keep" :disabled="Boolean(trouble)">
        {{ fresh ? "Put it on" : "Keep it so" }}
      </button>
      <button class="press" type="button" @click="emit('close')">Leave it</button>
      <button v-if="!fresh" class="press" type="button" name="laid-copy" @click="emit('copy')">Copy it</button>
    </div>
    <p class="soft">
      {{ about }}
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

form :deep(input.press),
form :deep(select) {
  width: 100%;
}

form :deep(.tick input) {
  width: auto;
}

form :deep(.whole) {
  grid-column: 1 / -1;
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
  align-items: end;
  gap: 10px;
}

.told {
  padding: 8px 12px;
  background: var(--verdigris-pale);
}

.stop {
  color: var(--oxide);
}

.told button {
  margin-top: 6px;
}

.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
</style>
