<script setup lang="ts">
import { computed, ref } from "vue";
import { api, take, type Schemas } from "@/api/client";
import { useChange } from "@/api/queries";
import LengthField from "./LengthField.vue";
import MarginNotes from "@/frame/MarginNotes.vue";
import { useUnit } from "./units";

/** A dress form, or a tape double's core, padded to the wearer: its girths in, thickness and layers out. */
const props = defineProps<{ piece: number; rings: readonly Schemas["RingOut"][] }>();
const { show } = useUnit();
const girths = ref<Record<string, string>>({});
const plan = ref<Schemas["PaddingPlanOut"] | null>(null);
const ask = useChange(async () => {
  const given = Object.fromEntries(Object.entries(girths.value).filter(([, text]) => text));
  plan.value = Object.keys(given).length
    ? await take(
        api.POST("/api/pieces/{piece}/padding", { params: { path: { piece: props.piece } }, body: { girths: given } }),
      )
    : null;
});
const row = (name: string) => plan.value?.rows.find((r) => r.station === name);
const number = (name: string) => row(name)?.form ?? null;

function set(name: string, text: string) {
  girths.value = { ...girths.value, [name]: text };
  ask.mutate(undefined);
}
const stuffing = computed(() => (plan.value ? `${plan.value.stuffing.toFixed(1)} litres` : ""));
</script>

<template>
  <section>
    <h3>On a body form instead</h3>
    <p class="soft">
      Write the form's girths; the padding to the wearer comes out. For a stuffed tape double write its core's girths,
      or 0.
    </p>
    <div v-for="r in rings" :key="r.name" class="line">
      <span class="name">{{ r.name }}</span>
      <LengthField :name="`form-${r.name}`" :value="number(r.name)" empty="form" @change="set(r.name, $event)" />
      <span v-if="row(r.name)" class="figures" :class="{ stop: row(r.name)!.thickness < -1 }">{{
        row(r.name)!.thickness < -1
          ? "form too big"
          : `${show(Math.round(row(r.name)!.thickness * 10) / 10)}, ${row(r.name)!.layers} ×`
      }}</span>
    </div>
    <p v-if="plan && plan.rows.length > 1" class="figures">
      <b>{{ stuffing }}</b> of padding between them, laid in {{ show(10) }} batting.
    </p>
    <MarginNotes v-if="plan" :notes="plan.rows.map((r) => r.note)" />
  </section>
</template>

<style scoped>
section {
  display: grid;
  gap: 6px;
}

.line {
  display: grid;
  grid-template-columns: 86px 100px 1fr;
  gap: 8px;
  align-items: center;
}

.name {
  line-height: 1.1;
}

.stop {
  color: var(--oxide);
}
</style>
