<script setup lang="ts">
import { computed, ref } from "vue";
import { api, take, type Schemas } from "@/api/client";
import { useAsk, useCatalogue } from "@/api/queries";
import { SheetMap } from "@/canvas/sheetMap";
import LengthField from "@/parts/LengthField.vue";
import TorsoDrawing from "@/parts/TorsoDrawing.vue";
import { useUnit } from "@/parts/units";
import InkCast from "@/scene/InkCast.vue";
import type { useDraft } from "./wearerDraft";

/** The trunk's readings beside a figure that shows each, and the cast they give. What is not measured is guessed. */
const props = defineProps<{ draft: ReturnType<typeof useDraft>; completed: Schemas["CompletedOut"] | undefined }>();
const catalogue = useCatalogue();
const { bare, show, say } = useUnit();
const at = ref("bust");
const torso = computed(() => props.draft.shown.value?.torso ?? null);
const girths = computed(() => (torso.value?.girths ?? {}) as Record<string, Schemas["StationReading-Output"]>);
const lengths = computed(() => (torso.value?.lengths ?? {}) as Record<string, number>);
const full = computed(() => props.completed?.torso ?? null);
const rows = computed(() => [
  ...(catalogue.data.value?.torso_girths ?? []).map((m) => ({ ...m, kind: "girth" as const })),
  ...(catalogue.data.value?.torso_lengths ?? []).map((m) => ({ ...m, kind: "length" as const })),
]);
const how = computed(() => rows.value.find((r) => r.name === at.value));
const given = (name: string, kind: string) => (kind === "girth" ? girths.value[name]?.girth : lengths.value[name]);
const number = (v: unknown) => (typeof v === "number" ? v : null);
const guess = (name: string, kind: string) => {
  const value = (kind === "girth" ? full.value?.girths : full.value?.lengths)?.[name];
  return value === undefined ? "" : `≈ ${bare(Math.round(value))}`;
};
const refusal = (name: string, kind: string) => props.draft.refusals.value[`torso.${name}.${kind}`];
const setId = computed(() => props.draft.kept.value?.id ?? 0);
const body = useAsk({
  queryKey: ["set-body", setId, computed(() => JSON.stringify(props.draft.kept.value?.readings.torso ?? null))],
  queryFn: (how) =>
    take(
      api.GET("/api/measurement-sets/{number}/body", {
        ...how,
        params: { path: { number: setId.value }, query: { part: "torso" } },
      }),
    ),
  enabled: computed(() => Boolean(torso.value && Object.keys(girths.value).length)),
  placeholderData: (old: unknown) => old,
});
const map = computed(() => (body.data.value ? new SheetMap(body.data.value, false) : null));
const noInk = { strokes: [], symmetric: false, left_out: [] };
const strips = [2, 3, 4, 5, 6, 8, 10, 12];
const left = computed(() => full.value?.guessed.length ?? rows.value.length);
</script>

<template>
  <div class="torso">
    <section class="figure sheet">
      <p v-if="how" class="how">
        <b>{{ how.name }}:</b> {{ how.how }}
      </p>
      <TorsoDrawing
        :at="at"
        :given="rows.filter((r) => given(r.name, r.kind) !== undefined).map((r) => r.name)"
        @pick="at = $event" />
    </section>
    <section class="readings sheet">
      <p class="soft">
        {{
          left === 0
            ? "All measured."
            : full
              ? `${left} of ${rows.length} are guessed by proportion: measure those before foam is cut.`
              : "One girth is enough to begin; the rest is guessed by proportion."
        }}
      </p>
      <p v-if="completed?.trouble" class="words stop">{{ say(completed.trouble) }}</p>
      <table>
        <tbody>
          <tr
            v-for="r in rows"
            :key="r.name"
            :class="{ at: at === r.name, guessed: given(r.name, r.kind) === undefined }"
            @focusin="at = r.name"
            @click="at = r.name">
            <th scope="row">{{ r.name }}</th>
            <td>
              <LengthField
                :value="number(given(r.name, r.kind))"
                :name="`torso-${r.name}`"
                :empty="guess(r.name, r.kind)"
                :error="refusal(r.name, r.kind)"
                @change="draft.changeTorso(r.name, $event, r.kind)" />
            </td>
            <td>
              <select
                v-if="r.kind === 'girth'"
                :value="girths[r.name]?.tool === 'foam' ? Number(girths[r.name].strip) : 0"
                :disabled="!girths[r.name]"
                :aria-label="`${r.name} read with`"
                @change="draft.changeTorso(r.name, ($event.target as HTMLSelectElement).value, 'strip')">
                <option :value="0">tape</option>
                <option v-for="t in strips" :key="t" :value="t">{{ show(t) }} strip</option>
              </select>
            </td>
          </tr>
          <tr>
            <th scope="row">back</th>
            <td colspan="2">
              <span role="group" aria-label="Back"
                ><button
                  v-for="p in ['straight', 'usual', 'round'] as const"
                  :key="p"
                  class="press small"
                  :class="{ main: (torso?.posture ?? 'usual') === p }"
                  @click="draft.setPosture(p)">
                  {{ p }}
                </button></span
              >
            </td>
          </tr>
        </tbody>
      </table>
    </section>
    <section class="cast">
      <InkCast
        v-if="map && !body.isError.value"
        :map="map"
        :ink="noInk"
        :read="undefined"
        :chosen="null"
        :foam="false"
        :pen="false"
        :snapping="false" />
      <p v-else class="soft empty">
        {{ body.error.value ? say(body.error.value.message) : "The cast stands here once a girth is known." }}
      </p>
    </section>
  </div>
</template>

<style scoped>
.torso {
  display: grid;
  grid-template-columns: 176px minmax(370px, 1.5fr) minmax(170px, 1fr);
  gap: 14px;
  flex: 1;
  min-height: 460px;
}

.figure,
.readings {
  padding: 14px;
}

.readings {
  overflow: auto;
}

.how {
  min-height: 5.2em;
  font-size: 15px;
  line-height: 1.3;
}

table {
  width: 100%;
  border-collapse: collapse;
}

th {
  padding: 6px 8px 6px 4px;
  font-weight: 700;
  text-align: left;
  line-height: 1.15;
}

.guessed th {
  font-weight: 400;
}

td {
  padding: 3px 4px;
}

tr.at {
  background: var(--verdigris-pale);
}

select {
  height: 36px;
  width: 78px;
  border: 1px solid var(--sheet-line);
  border-radius: 3px 8px 3px 7px;
  background: var(--sheet);
  color: inherit;
  font: inherit;
}

.cast {
  display: grid;
  min-height: 300px;
}

.empty {
  align-self: center;
  text-align: center;
}

.guessed :deep(.el-input__inner::placeholder) {
  color: var(--ochre);
  opacity: 1;
}

@media (max-width: 1180px) {
  .torso {
    grid-template-columns: 170px minmax(0, 1fr);
  }

  .cast {
    grid-column: 1 / -1;
    min-height: 380px;
  }
}

@media (max-width: 760px) {
  .torso {
    grid-template-columns: 1fr;
  }
}
</style>
