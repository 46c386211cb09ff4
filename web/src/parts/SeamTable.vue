<script setup lang="ts">
import { computed } from "vue";
import type { Panel } from "@/api/client";
import { useUnit } from "./units";

/** Both sides of every seam and dart, and what truing changed. */
const props = defineProps<{ panels: Panel[]; trued: boolean }>();
const emit = defineEmits<{ true: [on: boolean] }>();
const { show } = useUnit();
const rows = computed(() => props.panels.flatMap((p) => p.seams.map((seam) => ({ ...seam, code: p.label.code }))));
const off = (a: number, b: number) => Math.abs(a - b);
const puckers = (seam: { mismatch: number; on_body: number }) => seam.mismatch > Math.max(1.5, 0.005 * seam.on_body);
const cost = computed(() => Math.max(0, ...props.panels.map((p) => p.p95 - p.free_p95)));
</script>

<template>
  <section v-if="rows.length" class="seams">
    <h3>Seams</h3>
    <table>
      <thead>
        <tr>
          <th>Seam</th>
          <th>on the body</th>
          <th>sides differ</th>
          <th>ticks</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="r in rows" :key="r.code + r.name + r.on_body" :class="{ bad: puckers(r) }">
          <td>{{ r.name === "closing" ? "closing edges" : r.name }}</td>
          <td class="figures">{{ show(r.on_body) }}</td>
          <td class="figures" :title="`A ${show(r.side_a)}, B ${show(r.side_b)}`">
            {{ show(r.mismatch)
            }}<span v-if="trued && off(r.free[0], r.free[1]) > 0.3" class="soft">
              was {{ show(off(r.free[0], r.free[1])) }}</span
            >
          </td>
          <td class="figures">{{ r.marks }}</td>
        </tr>
      </tbody>
    </table>
    <label class="truing"
      ><input type="checkbox" :checked="trued" @change="emit('true', ($event.target as HTMLInputElement).checked)" />
      True them: both sides equally long</label
    >
    <p v-if="trued && cost > 0.05" class="soft figures">Truing asks {{ cost.toFixed(1) }} points more of the foam.</p>
    <p v-if="rows.some(puckers)" class="soft">What differs by more than 1.5 mm puckers.</p>
  </section>
</template>

<style scoped>
.seams {
  display: grid;
  gap: 7px;
}

table {
  width: 100%;
  border-collapse: collapse;
  font-size: 15px;
}

th {
  font-weight: 400;
  font-size: 13px;
  color: var(--graphite-soft);
  text-align: left;
}

td {
  padding: 4px 6px 4px 0;
  border-top: 1px solid var(--sheet-line);
  vertical-align: top;
}

.bad td {
  color: var(--oxide);
  font-weight: 700;
}

.truing {
  display: flex;
  gap: 8px;
  align-items: center;
}

input {
  width: 20px;
  height: 20px;
  accent-color: var(--verdigris);
}
</style>
