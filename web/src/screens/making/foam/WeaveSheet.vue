<script setup lang="ts">
import { computed } from "vue";
import type { DesignIn, Schemas } from "@/api/client";
import LengthField from "@/parts/LengthField.vue";
import { typedNumber } from "./useFoam";

/** The pattern of a sheet with one textured face: how it repeats, and which way it runs on its first panel. */
type Weave = Schemas["Weave-Input"];
const props = defineProps<{ design: DesignIn; panels: readonly number[] }>();
const emit = defineEmits<{ change: [how: (now: DesignIn) => DesignIn] }>();
const weave = computed(() => props.design.foam_work?.weave ?? null);
const put = (row: Weave | null) =>
  emit("change", (now) => ({ ...now, foam_work: { ...now.foam_work, weave: row } as DesignIn["foam_work"] }));
const set = (change: Partial<Weave>) => weave.value && put({ ...weave.value, ...change } as Weave);
function turn(field: HTMLInputElement) {
  const wanted = typedNumber(field.value);
  if (wanted === null) field.value = String(weave.value?.turn ?? 0);
  else set({ turn: Math.min(180, Math.max(-180, wanted)) });
}
</script>

<template>
  <section class="sheet" aria-label="Pattern of the sheet">
    <h3>A pattern on its face</h3>
    <template v-if="weave">
      <p>
        Every panel shows which way the sheet's pattern runs and where a row of it lies, so that it goes on over the
        seams. Where it cannot is said among what needs a look.
      </p>
      <div class="two">
        <LengthField
          word="From row to row"
          name="weave-pitch"
          :value="Number(weave.pitch)"
          @change="set({ pitch: $event as never })" />
        <LengthField
          word="From column to column"
          name="weave-beside"
          :value="Number(weave.beside) || Number(weave.pitch)"
          @change="set({ beside: $event as never })" />
        <label class="field"
          ><span class="word">Turned left, degrees</span
          ><input
            v-says="String(weave.turn ?? 0)"
            class="press figures"
            name="weave-turn"
            inputmode="decimal"
            @change="turn($event.target as HTMLInputElement)"
        /></label>
        <label v-if="panels.length > 1" class="field"
          ><span class="word">Laid on first</span>
          <select
            class="press"
            name="weave-first"
            :value="weave.first ?? 1"
            @change="set({ first: Number(($event.target as HTMLSelectElement).value) })">
            <option v-for="n in panels" :key="n" :value="n">panel {{ n }}</option>
          </select>
        </label>
      </div>
      <button class="press small" @click="put(null)">It has none</button>
    </template>
    <template v-else>
      <p class="soft">A mat or a printed sheet repeats: on one panel beside another, rows that do not meet are seen.</p>
      <button class="press" name="weave-on" @click="put({ pitch: 12 as never, beside: 0, turn: 0, first: 1 } as Weave)">
        Its sheet has one
      </button>
    </template>
  </section>
</template>

<style scoped>
section {
  display: grid;
  gap: 12px;
  align-content: start;
  padding: 16px 20px;
}

section > .press {
  justify-self: start;
}

.two {
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  align-items: end;
  gap: 10px;
}

.two :is(input, select) {
  width: 100%;
}
</style>
