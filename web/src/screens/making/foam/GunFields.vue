<script setup lang="ts">
import type { Note, Schemas } from "@/api/client";
import MarginNotes from "@/frame/MarginNotes.vue";
import { typed, useUnit } from "@/parts/units";
import { typedNumber } from "./useFoam";

/** The heat gun as it is held: setting, distance, what is swept at one time. */
const props = defineProps<{ gun: Schemas["HeatGun-Output"]; note: Note }>();
const emit = defineEmits<{ keep: [change: Partial<Schemas["HeatGun-Input"]>] }>();
const { bare, unit } = useUnit();
function degrees(key: "low" | "high" | "patch", field: HTMLInputElement) {
  const value = typedNumber(field.value);
  if (value === null) field.value = String(props.gun[key]);
  else emit("keep", { [key]: value });
}
</script>

<template>
  <section>
    <h3>Your gun</h3>
    <div class="shapes" role="radiogroup" aria-label="Setting">
      <button
        v-for="s in ['low', 'high'] as const"
        :key="s"
        class="press"
        role="radio"
        :aria-checked="gun.setting === s"
        @click="emit('keep', { setting: s })">
        {{ s }}
      </button>
    </div>
    <div class="fields">
      <label class="field"
        ><span class="word">Away from the foam, {{ unit }}</span
        ><input
          v-says="bare(gun.distance)"
          class="press figures"
          name="distance"
          @change="emit('keep', { distance: typed(($event.target as HTMLInputElement).value, unit) })"
      /></label>
      <label class="field"
        ><span class="word">Patch swept at once, cm²</span
        ><input
          v-says="gun.patch"
          class="press figures"
          name="patch"
          @change="degrees('patch', $event.target as HTMLInputElement)"
      /></label>
      <label class="field"
        ><span class="word">Low, °C at the nozzle</span
        ><input v-says="gun.low" class="press figures" @change="degrees('low', $event.target as HTMLInputElement)"
      /></label>
      <label class="field"
        ><span class="word">High, °C</span
        ><input v-says="gun.high" class="press figures" @change="degrees('high', $event.target as HTMLInputElement)"
      /></label>
    </div>
    <MarginNotes :notes="[note]" />
  </section>
</template>

<style scoped>
section {
  display: grid;
  gap: 10px;
}

.shapes {
  display: flex;
  gap: 10px;
}

.fields {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px;
  align-items: end;
}

.fields input {
  width: 100%;
  cursor: text;
}
</style>
