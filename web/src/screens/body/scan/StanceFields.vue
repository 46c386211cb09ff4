<script setup lang="ts">
import type { Schemas } from "@/api/client";
import { useUnit } from "@/parts/units";

/** Unit, up and front of a scan's file, for the maker to confirm. */
const props = defineProps<{ scan: Schemas["ScanOut"]; height?: number }>();
const emit = defineEmits<{ change: [part: Partial<Schemas["ScanOut"]>]; remove: [] }>();
const { show } = useUnit();
const AXES = ["x", "-x", "y", "-y", "z", "-z"];
const FIELDS = [
  { name: "unit", word: "Unit", options: ["mm", "cm", "m", "in"] },
  { name: "up", word: "Up", options: AXES },
  { name: "front", word: "Front", options: AXES },
] as const;
const chosen = (event: Event) => (event.target as HTMLSelectElement).value;

/** Only what is an angle is taken; anything else is put back. */
function turn(event: Event) {
  const input = event.target as HTMLInputElement;
  const degrees = Number(input.value.replace(",", "."));
  if (input.value.trim() && Math.abs(degrees) <= 180) emit("change", { turned: degrees });
  else input.value = String(props.scan.turned);
}
</script>

<template>
  <section>
    <h3>How the file is read</h3>
    <p v-if="height" class="soft">It stands {{ show(Math.round(height)) }} tall. If that is wrong, change the unit.</p>
    <div class="three">
      <label v-for="f in FIELDS" :key="f.name" class="field"
        ><span class="word">{{ f.word }}</span
        ><select :name="f.name" :value="scan[f.name]" @change="emit('change', { [f.name]: chosen($event) })">
          <option v-for="o in f.options" :key="o">{{ o }}</option>
        </select></label
      >
    </div>
    <label class="field"
      ><span class="word">Turned back, degrees</span
      ><input
        name="turned"
        type="number"
        min="-180"
        max="180"
        step="1"
        :value="scan.turned"
        title="By how much the body stood turned to its left, seen from above"
        @change="turn($event)"
    /></label>
    <button class="press small" title="Undo brings it back" @click="emit('remove')">Remove this scan</button>
  </section>
</template>

<style scoped>
section {
  display: grid;
  gap: 8px;
  justify-items: stretch;
}

.three {
  display: grid;
  grid-template-columns: repeat(3, 1fr);
  gap: 8px;
}

.three select,
input {
  width: 100%;
  height: 36px;
}
</style>
