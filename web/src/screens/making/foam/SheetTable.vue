<script setup lang="ts">
import { computed } from "vue";
import { api, take, type DesignIn, type Schemas } from "@/api/client";
import { say, useCatalogue, useDesignChange, useHere, useKept, usePattern } from "@/api/queries";
import { useUnit } from "@/parts/units";

/** Which sheet: what each gives, estimated or measured on a scrap, and whether this piece would lie flat in it. */
type Row = Schemas["GiveOut"] & { measured: boolean };
const FIGURES = ["cold", "stretch", "stretch_limit", "squeeze", "squeeze_limit"] as const;
const HEADS = { cold: "cold", stretch: "warm", stretch_limit: "at most", squeeze: "warm", squeeze_limit: "at most" };
const { piece, pieceId } = useHere();
const { show, unit } = useUnit();
const catalogue = useCatalogue();
const pattern = usePattern(pieceId);
const own = useKept(
  "foam-gives",
  () => take(api.GET("/api/foam-gives")),
  (body) => take(api.PUT("/api/foam-gives", { body: body as Schemas["FoamGives-Input"] })),
);
const change = useDesignChange(piece);

const same = (a: { kind: string; thickness: unknown }, b: { kind: string; thickness: unknown }) =>
  a.kind === b.kind && Math.abs(Number(a.thickness) - Number(b.thickness)) < 0.05;
const kinds = computed(() =>
  Object.entries(catalogue.data.value?.foam_kinds ?? {})
    .sort(([a], [b]) => Number(b === piece.value?.design.foam_kind) - Number(a === piece.value?.design.foam_kind))
    .map(([kind, words]) => ({
      kind,
      words,
      rows: (catalogue.data.value?.gives ?? [])
        .filter((g) => g.kind === kind)
        .map((g): Row => {
          const mine = own.data.value?.rows?.find((r) => same(r, g));
          return mine ? { ...g, ...mine, thickness: g.thickness, measured: true } : { ...g, measured: false };
        }),
    })),
);
const sheetOf = (thickness: number) => catalogue.data.value?.sheets.find((s) => s.thickness === thickness);
const inUse = (row: Row) =>
  piece.value &&
  !piece.value.design.layers.length &&
  same(row, { kind: piece.value.design.foam_kind, thickness: piece.value.design.foam });

type Gives = Schemas["FoamGives-Output"];
const without = (now: Gives, row: Row) => now.rows.filter((r) => !same(r, row));
const forget = (row: Row) => own.change((now) => ({ rows: without(now, row) }));
function measure(row: Row, figure: (typeof FIGURES)[number], field: HTMLInputElement) {
  const value = Number(field.value.replace(",", ".").replace("%", ""));
  const back = () => (field.value = row[figure].toFixed(1));
  if (!(value > 0)) {
    say("Write what it gave in per cent, above 0, such as 5.5.", "error");
    back();
  }
  if (!(value > 0) || value === row[figure]) return;
  own.change((now) => {
    const figures = Object.fromEntries(["kind", "thickness", ...FIGURES].map((k) => [k, row[k as keyof Row]]));
    const before = now.rows.find((r) => same(r, row)) ?? figures;
    return { rows: [...without(now, row), { ...before, [figure]: value } as Gives["rows"][number]] };
  }, back);
}

const WORDS = { unknown: "not known", flat: "lies flat", warm: "warm", hard: "at its limit", split: "wants darts" };
const lies = (row: Row) => pattern.data.value?.in_sheets.find((s) => same(s, row))?.state ?? "flat";
const use = (row: Row) =>
  change((now) => ({ ...now, layers: [], foam: row.thickness, foam_kind: row.kind as DesignIn["foam_kind"] }));
</script>

<template>
  <div class="sheet foams">
    <table>
      <thead>
        <tr>
          <th rowspan="2">Sheet</th>
          <th colspan="3" class="over">stretches by, %</th>
          <th colspan="2" class="over">is squeezed by, %</th>
          <th rowspan="2" />
          <th v-if="pattern.data.value" rowspan="2">This piece</th>
        </tr>
        <tr>
          <th v-for="f in FIGURES" :key="f" class="head">{{ HEADS[f] }}</th>
        </tr>
      </thead>
      <tbody v-for="k in kinds" :key="k.kind">
        <tr class="kind">
          <th colspan="8">{{ k.words }}</th>
        </tr>
        <tr
          v-for="row in k.rows"
          :key="row.thickness"
          :title="sheetOf(row.thickness)?.use"
          :class="{ on: inUse(row) }"
          :data-sheet="`${row.kind}-${row.thickness}`">
          <td class="figures thick">
            <span class="slab" :style="{ height: `${row.thickness * 1.6}px` }" />
            <b>{{
              unit === "in" && sheetOf(row.thickness)?.inch ? `${sheetOf(row.thickness)?.inch} in` : show(row.thickness)
            }}</b>
          </td>
          <td v-for="f in FIGURES" :key="f">
            <input
              v-says="row[f].toFixed(1)"
              class="figures"
              :class="{ est: !row.measured }"
              :name="`${row.kind}-${row.thickness}-${f}`"
              inputmode="decimal"
              :aria-label="`${k.kind} ${row.thickness} mm, ${f.replace('_', ' ')}, per cent`"
              @change="measure(row, f, $event.target as HTMLInputElement)" />
          </td>
          <td class="small">
            <span v-if="!row.measured" class="soft">estimate</span>
            <template v-else
              >your scrap <button class="press plain small" @click="forget(row)">forget it</button></template
            >
          </td>
          <td v-if="pattern.data.value">
            <div class="this">
              <span class="state" :class="lies(row)">{{ WORDS[lies(row)] }}</span>
              <b v-if="inUse(row)" class="small">in use</b>
              <button v-else class="press small" @click="use(row)">Use it</button>
            </div>
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.foams {
  flex: none;
  padding: 10px 18px 18px;
  overflow-x: auto;
}

table {
  width: 100%;
  border-collapse: collapse;
}

th {
  padding: 5px 8px;
  text-align: left;
  font-weight: 600;
}

.over {
  text-align: center;
  border-bottom: 1px solid var(--sheet-line);
}

.head {
  text-align: right;
  font-weight: 400;
}

.kind th {
  padding-top: 16px;
  font: 700 17px var(--slab);
}

td {
  height: 46px;
  padding: 3px 6px;
  border-top: 1px solid var(--sheet-line);
}

.on td {
  background: var(--verdigris-pale);
}

.thick {
  white-space: nowrap;
}

.slab {
  display: inline-block;
  width: 26px;
  margin-right: 9px;
  border-radius: 1px;
  background: var(--foam);
  vertical-align: middle;
}

input {
  width: 52px;
  padding: 4px 5px;
  border: 1px solid transparent;
  border-bottom-color: var(--sheet-line);
  background: none;
  color: inherit;
  font: inherit;
  text-align: right;
}

input:hover,
input:focus {
  border-color: var(--verdigris);
  background: var(--sheet);
}

.est {
  color: var(--graphite-soft);
  font-style: italic;
}

.this {
  display: flex;
  gap: 10px;
  align-items: center;
  justify-content: space-between;
  white-space: nowrap;
}

.state {
  padding-left: 8px;
  border-left: 5px solid var(--verdigris);
}

.state.warm {
  border-color: var(--ochre-fill);
}

.state.hard {
  border-color: var(--plum);
}

.state.split {
  border-color: var(--oxide);
}
</style>
