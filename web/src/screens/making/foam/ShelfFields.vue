<script setup lang="ts">
import { computed, ref } from "vue";
import { api, take, type Schemas } from "@/api/client";
import { say, useKept } from "@/api/queries";
import { useUnit } from "@/parts/units";
import { typedNumber, type Foam } from "./useFoam";

/** One sheet as this maker has it: density, size, price, what is in hand. What is left empty is usual. */
const props = defineProps<{ sheet: Foam["sheets"][number]; name: string }>();
const { bare, unit } = useUnit();
type Shelf = Schemas["FoamShelf-Output"];
type Row = Schemas["ShelfSheet-Input"];
const shelf = useKept<Shelf>(
  "foam-shelf",
  () => take(api.GET("/api/foam-shelf")) as Promise<Shelf>,
  (body) => take(api.PUT("/api/foam-shelf", { body: body as Schemas["FoamShelf-Input"] })) as Promise<Shelf>,
);
const mine = (r: { kind: string; thickness: number }) =>
  r.kind === props.sheet.kind && Math.abs(r.thickness - props.sheet.thickness) < 0.05;
/** Counts refusals: the fields are then drawn anew, as they stand. */
const again = ref(0);
const row = computed(() => shelf.data.value?.rows.find(mine));
const keep = (change: Partial<Row>, back?: () => void) =>
  shelf.change((now) => {
    const { kind, thickness } = props.sheet;
    const changed = { ...(now.rows.find(mine) ?? { kind, thickness }), ...change } as Shelf["rows"][number];
    return { rows: [...now.rows.filter((r) => !mine(r)), changed] };
  }, back);

/** What is typed and cannot be read is said, and the field shows again what stands. */
function typedIn<T>(
  event: Event,
  read: (text: string) => T | null,
  change: (value: T) => Partial<Row>,
  wanted: string,
) {
  const field = event.target as HTMLInputElement;
  const value = read(field.value);
  const back = () => again.value++;
  if (value !== null) return keep(change(value), back);
  say(wanted, "error");
  back();
}
const number = (event: Event, change: (value: number | null) => Partial<Row>) =>
  typedIn<{ value: number | null }>(
    event,
    (text) => {
      const value = typedNumber(text);
      return value === null && text.trim() ? null : { value };
    },
    (found) => change(found.value),
    "Write a number, such as 12.5, or leave it empty.",
  );
/** "600 x 600; 300 x 200" as pairs of lengths that the server reads in the maker's unit. */
function pairs(text: string, most: number) {
  const parts = text.split(";").filter((t) => t.trim());
  const found = parts.map((t) => t.split(/[x×*]/).map((v) => v.trim()));
  if (found.length > most || found.some((p) => p.length !== 2 || !p.every(Boolean))) return null;
  return found.map((p) => p.map((v) => (unit.value === "in" && !/in|"|m/.test(v) ? `${v} in` : v)) as [string, string]);
}
const areas = (event: Event, change: (found: [string, string][]) => Partial<Row>, most = 40) =>
  typedIn(
    event,
    (text) => pairs(text, most),
    change,
    "Write width x length, such as 300 x 200; more of them after a semicolon.",
  );
const size = (s: readonly number[]) => s.map((v) => bare(v)).join(" × ");
</script>

<template>
  <div class="shelf">
    <b class="figures">{{ name }} {{ sheet.kind }}</b>
    <div :key="again" class="row">
      <label class="field"
        ><span class="word">kg/m³</span>
        <input
          v-says="row?.density ?? ''"
          class="press figures"
          :placeholder="(sheet.grams / (sheet.area * sheet.thickness)).toFixed(0)"
          @change="number($event, (density) => ({ density }))" />
      </label>
      <label class="field"
        ><span class="word">One sheet, {{ unit }}</span>
        <input
          v-says="row?.size ? size(row!.size!) : ''"
          class="press figures long"
          placeholder="600 × 600"
          @change="areas($event, (found) => ({ size: found[0] ?? null }), 1)" />
      </label>
      <label class="field"
        ><span class="word">Price</span>
        <input
          v-says="row?.price ?? ''"
          class="press figures"
          placeholder="–"
          :name="`price-${sheet.kind}-${sheet.thickness}`"
          @change="number($event, (price) => ({ price }))" />
      </label>
      <label class="field"
        ><span class="word">Sheets in hand</span>
        <input
          v-says="row?.sheets ?? 0"
          class="press figures"
          @change="number($event, (count) => ({ sheets: Math.max(0, Math.round(count ?? 0)) }))" />
      </label>
      <label class="field"
        ><span class="word">Offcuts, {{ unit }}</span>
        <input
          v-says="(row?.offcuts ?? []).map((o) => size(o)).join('; ')"
          class="press figures long"
          placeholder="300 × 200; 150 × 90"
          :name="`offcuts-${sheet.kind}-${sheet.thickness}`"
          @change="areas($event, (offcuts) => ({ offcuts }))" />
      </label>
      <button class="press" @click="keep({ textured: !sheet.textured })">
        {{ sheet.textured ? "one face textured" : "both faces plain" }}
      </button>
    </div>
    <p class="soft figures">
      {{ sheet.in_hand.toFixed(2) }} m² in hand, {{ sheet.area.toFixed(2) }} m² wanted before parts are packed.
    </p>
  </div>
</template>

<style scoped>
.shelf {
  display: grid;
  gap: 6px;
}

.row {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: end;
}

.row input {
  width: 86px;
  cursor: text;
}

.row input.long {
  width: 150px;
}
</style>
