<script setup lang="ts">
import LengthField from "@/parts/LengthField.vue";
import FingerRows from "./FingerRows.vue";
import OutlineChoice from "./OutlineChoice.vue";
import TailRows from "./TailRows.vue";
import { hidden, valueOf, type Finger, type Kind, type Measure, type Solid, type TailPoint } from "./solid";

/** The few measures of a solid, as its kind asks for them. */
const props = defineProps<{
  kind: Kind;
  solid: Solid;
  build: number;
  refusal: { field: string; message: string } | null;
}>();
const emit = defineEmits<{ change: [field: string, value: unknown] }>();
const set = (field: string, value: unknown) => emit("change", field, value);
const error = (m: Measure) => (props.refusal?.field.split(".").includes(m.field) ? props.refusal.message : undefined);
const number = (text: string) => (text.trim() === "" ? NaN : Number(text.replace(",", ".")));

/** A slip of the pen leaves the measure as it was. */
function typed(field: string, event: Event) {
  const input = event.target as HTMLInputElement;
  const value = number(input.value);
  if (Number.isNaN(value)) input.value = String(valueOf(props.solid, field));
  else set(field, value);
}
</script>

<template>
  <div class="measures">
    <template v-for="m in kind.measures" :key="m.field">
      <template v-if="!hidden(solid, m.field)">
        <OutlineChoice
          v-if="m.asked === 'outline'"
          :build="build"
          :taken="((valueOf(solid, 'outline') as unknown[] | undefined) ?? []).length"
          :word="m.word"
          :hint="m.hint"
          @take="set('outline', $event)" />
        <template v-else-if="m.asked === 'seams'" />
        <TailRows
          v-else-if="m.asked === 'points'"
          :points="valueOf(solid, m.field) as TailPoint[]"
          @change="set(m.field, $event)" />
        <FingerRows
          v-else-if="m.asked === 'fingers'"
          :fingers="valueOf(solid, m.field) as Finger[]"
          @change="set(m.field, $event)" />
        <div v-else-if="m.asked === 'length'" class="row wide">
          <span
            >{{ m.word }} <span v-if="m.hint" class="soft small">{{ m.hint }}</span></span
          >
          <LengthField
            :name="m.field"
            :value="Number(valueOf(solid, m.field))"
            :error="error(m)"
            @change="set(m.field, $event)" />
        </div>
        <label v-else-if="m.asked === 'yes' && m.choices.length" class="row" :title="m.hint">
          <span>{{ m.word }}</span>
          <select
            class="press"
            :name="m.field"
            :value="String(valueOf(solid, m.field))"
            @change="set(m.field, ($event.target as HTMLSelectElement).value === 'true')">
            <option v-for="c in m.choices" :key="c.value" :value="c.value">{{ c.word }}</option>
          </select>
        </label>
        <label v-else-if="m.asked === 'yes'" class="tick" :title="m.hint">
          <input
            type="checkbox"
            :name="m.field"
            :checked="Boolean(valueOf(solid, m.field))"
            @change="set(m.field, ($event.target as HTMLInputElement).checked)" />
          {{ m.word }}
        </label>
        <label v-else-if="m.asked === 'choice'" class="row" :title="m.hint">
          <span>{{ m.word }}</span>
          <select
            class="press"
            :name="m.field"
            :value="String(valueOf(solid, m.field))"
            @change="set(m.field, ($event.target as HTMLSelectElement).value)">
            <option v-for="c in m.choices" :key="c.value" :value="c.value">{{ c.word }}</option>
          </select>
        </label>
        <label v-else class="row" :title="m.hint">
          <span
            >{{ m.word }} <span v-if="m.hint" class="soft small">{{ m.hint }}</span></span
          >
          <input
            class="press figures count"
            inputmode="decimal"
            :name="m.field"
            :value="String(valueOf(solid, m.field))"
            @change="typed(m.field, $event)" />
          <span v-if="m.asked === 'degrees'" class="soft small">°</span>
        </label>
        <p v-if="error(m) && m.asked !== 'length'" class="wrong small">{{ error(m) }}</p>
      </template>
    </template>
  </div>
</template>

<style scoped>
.measures {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 7px;
  align-content: start;
}

.row {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto auto;
  gap: 8px;
  align-items: center;
}

.row select {
  max-width: 150px;
}

.count {
  width: 74px;
  text-align: right;
}

.tick {
  display: flex;
  gap: 9px;
  align-items: center;
}

.wide {
  grid-template-columns: minmax(0, 1fr) 112px;
}

.wrong {
  margin: 0;
  color: var(--oxide);
}
</style>
