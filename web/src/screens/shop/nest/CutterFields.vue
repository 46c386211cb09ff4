<script setup lang="ts">
import { api, take, type Schemas } from "@/api/client";
import { useKept } from "@/api/queries";
import LengthField from "@/parts/LengthField.vue";
import { useUnit } from "@/parts/units";

/** The maker's cutter: its bed, blade and clamps. */
type Setup = Schemas["CutterSetup-Output"];
type Wanted = Schemas["CutterSetup-Input"];
const { show } = useUnit();
const setup = useKept<Setup>(
  "cutter",
  () => take(api.GET("/api/cutter")),
  (body) => take(api.PUT("/api/cutter", { body: body as Wanted })),
);
const change = (field: Partial<Wanted>) => setup.change((now) => ({ ...now, ...field }) as Setup);
const FIELDS = { width: "Bed, along", height: "Bed, across", deepest: "Deepest pass" } as const;
const SIDES = { x: "from left", y: "from below", width: "wide", height: "high" } as const;
type Clamp = Wanted["clamps"] extends readonly (infer C)[] | undefined ? C : never;
const clamps = (how: (now: Clamp[]) => Clamp[]) =>
  setup.change((now) => ({ ...now, clamps: how([...(now.clamps ?? [])] as Clamp[]) }) as Setup);
function number(field: "blade" | "tabs_below", event: Event) {
  const n = Number((event.target as HTMLInputElement).value.replace(",", "."));
  if (Number.isFinite(n)) change({ [field]: n });
}
</script>

<template>
  <section v-if="setup.data.value">
    <h3>Your cutter</h3>
    <LengthField
      v-for="(word, field) in FIELDS"
      :key="field"
      :word="word"
      :name="`cutter-${field}`"
      :value="setup.data.value[field]"
      @change="change({ [field]: $event })" />
    <label class="row"
      >Its blade leans, degrees
      <input
        class="press figures"
        name="cutter-blade"
        inputmode="decimal"
        :value="setup.data.value.blade"
        @change="number('blade', $event)" />
    </label>
    <label class="row"
      >Tabs on parts under, cm²
      <input
        class="press figures"
        name="cutter-tabs"
        inputmode="decimal"
        :value="setup.data.value.tabs_below"
        @change="number('tabs_below', $event)" />
    </label>
    <details>
      <summary>
        {{ setup.data.value.clamps.length || "No" }} {{ setup.data.value.clamps.length === 1 ? "clamp" : "clamps" }} on
        the bed
      </summary>
      <div v-for="(c, k) in setup.data.value.clamps" :key="k" class="clamp">
        <LengthField
          v-for="(word, side) in SIDES"
          :key="side"
          :word="word"
          :name="`clamp-${k}-${side}`"
          :value="c[side]"
          @change="clamps((all) => all.map((one, i) => (i === k ? { ...one, [side]: $event } : one)))" />
        <button class="press" @click="clamps((all) => all.filter((_, i) => i !== k))">Take it off</button>
      </div>
      <button class="press" @click="clamps((all) => [...all, { x: 0, y: 0, width: 60, height: 40 }])">
        A clamp of {{ show(60) }} × {{ show(40) }}
      </button>
    </details>
  </section>
</template>

<style scoped>
section,
details,
.clamp {
  display: grid;
  gap: 8px;
}

.clamp {
  grid-template-columns: 1fr 1fr;
  padding: 8px 0;
  border-bottom: 1px solid var(--sheet-line);
}

.row {
  display: flex;
  gap: 8px;
  align-items: center;
  justify-content: space-between;
}

.row input {
  width: 80px;
}
</style>
