<script setup lang="ts">
import { computed, ref } from "vue";
import type { Schemas } from "@/api/client";
import LengthField from "@/parts/LengthField.vue";
import LimbDrawing from "@/parts/LimbDrawing.vue";
import { useUnit } from "@/parts/units";
import type { Limb, LimbChange, Side, useDraft } from "./wearerDraft";

/** The readings of one limb, shared by both sides or one sheet a side. */
const props = defineProps<{
  segment: Schemas["SegmentOut"];
  draft: ReturnType<typeof useDraft>;
  guesses?: Schemas["GuessedLimb"][];
}>();
const { bare, show } = useUnit();
const at = ref("");

const limbs = computed(() => (props.draft.shown.value?.limbs ?? []).filter((l) => l.segment === props.segment.name));
/** Said before anything is measured; from then on the readings tell. */
const meant = ref(false);
const apart = computed(() => (limbs.value.length ? limbs.value.some((l) => l.side !== "both") : meant.value));
const sides = computed<Side[]>(() => (apart.value ? ["left", "right"] : ["both"]));
const TITLES = { both: "Left and right alike", left: "Left", right: "Right" };

const limb = (side: Side): Limb | undefined => limbs.value.find((l) => l.side === side);
const plain = (v: number | string | null | undefined): number | null => (typeof v === "number" ? v : null);

function pick(side: Side, key: "girth" | "at"): Record<string, number | undefined> {
  return Object.fromEntries(
    Object.entries(limb(side)?.stations ?? {}).map(([n, r]) => [n, plain(r[key]) ?? undefined]),
  );
}

function setApart(on: boolean) {
  meant.value = on;
  props.draft.setApart(props.segment.name, on);
}

function send(side: Side, field: LimbChange["field"], text: string, station?: string) {
  props.draft.change({ segment: props.segment.name, side, station, field, text });
}

/** What proportion fills in where nobody measured. */
const guess = (side: Side, station: string) => {
  const found = props.guesses
    ?.find((g) => g.segment === props.segment.name && (g.side === side || g.side === "both"))
    ?.stations.find((s) => s.name === station);
  return found?.guessed ? `≈ ${bare(Math.round(found.girth))}` : "girth";
};
const refusal = (side: Side, station: string, field: string) =>
  props.draft.refusals.value[`${props.segment.name}.${side}.${station}.${field}`];
const reading = (side: Side, station: string) => limb(side)?.stations[station];
const how = computed(() => {
  if (at.value && at.value === props.segment.gate) return { name: props.segment.gate, how: props.segment.gate_how };
  return props.segment.stations.find((s) => s.name === at.value) ?? props.segment.stations[0];
});
const strips = [2, 3, 4, 5, 6, 8, 10, 12];
</script>

<template>
  <div class="sides">
    <label class="apart"
      ><input type="checkbox" :checked="apart" @change="setApart(($event.target as HTMLInputElement).checked)" /> Left
      and right measured apart</label
    >
    <section v-for="side in sides" :key="side" class="limb sheet">
      <div class="shown">
        <LimbDrawing
          :stations="segment.stations"
          :girths="pick(side, 'girth')"
          :ats="pick(side, 'at')"
          :at="at"
          @pick="at = $event" />
        <p class="how">
          <b>{{ how.name }}:</b> {{ how.how }}
        </p>
      </div>
      <div class="readings">
        <h3>{{ segment.word }}: {{ TITLES[side].toLowerCase() }}</h3>
        <table>
          <thead>
            <tr>
              <th>Station</th>
              <th>Girth</th>
              <th>Along the limb</th>
              <th>Read with</th>
              <th title="Depth front to back over width. Leave empty if not measured: the limb is taken as round.">
                Depth ÷ width
              </th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="(s, i) in segment.stations" :key="s.name" :class="{ at: at === s.name }" @focusin="at = s.name">
              <th scope="row">{{ s.name }}</th>
              <td>
                <LengthField
                  :value="plain(reading(side, s.name)?.girth)"
                  :name="`${side}-${s.name}-girth`"
                  :error="refusal(side, s.name, 'girth')"
                  :empty="guess(side, s.name)"
                  @change="send(side, 'girth', $event, s.name)" />
                <span v-if="reading(side, s.name)?.tool === 'foam'" class="soft small figures"
                  >body
                  {{
                    show(Number(reading(side, s.name)!.girth) - Math.PI * Number(reading(side, s.name)!.strip))
                  }}</span
                >
              </td>
              <td>
                <span v-if="i === 0" class="soft">start</span>
                <LengthField
                  v-else
                  :value="plain(reading(side, s.name)?.at)"
                  :name="`${side}-${s.name}-at`"
                  :error="refusal(side, s.name, 'at')"
                  :empty="`≈ ${bare(s.at)}`"
                  @change="send(side, 'at', $event, s.name)" />
              </td>
              <td>
                <select
                  :value="reading(side, s.name)?.tool === 'foam' ? Number(reading(side, s.name)!.strip) : 0"
                  :disabled="!reading(side, s.name)"
                  :aria-label="`${s.name} read with`"
                  @change="send(side, 'strip', ($event.target as HTMLSelectElement).value, s.name)">
                  <option :value="0">tape</option>
                  <option v-for="t in strips" :key="t" :value="t">{{ show(t) }} foam strip</option>
                </select>
              </td>
              <td>
                <input
                  v-says="reading(side, s.name)?.ratio ?? ''"
                  class="press ratio figures"
                  inputmode="decimal"
                  placeholder="round"
                  :disabled="!reading(side, s.name)"
                  :name="`${side}-${s.name}-ratio`"
                  @change="send(side, 'ratio', ($event.target as HTMLInputElement).value, s.name)" />
                <span v-if="refusal(side, s.name, 'ratio')" class="error">{{ refusal(side, s.name, "ratio") }}</span>
              </td>
            </tr>
            <tr v-if="segment.gate" :class="{ at: at === segment.gate }" @focusin="at = segment.gate">
              <th scope="row">{{ segment.gate }}</th>
              <td>
                <LengthField
                  :value="plain(limb(side)?.gate)"
                  :name="`${side}-gate`"
                  :error="refusal(side, 'gate', 'gate')"
                  empty="girth"
                  @change="send(side, 'gate', $event)" />
              </td>
              <td colspan="3" class="soft">a closed tube must pass over it</td>
            </tr>
          </tbody>
        </table>
      </div>
    </section>
  </div>
</template>

<style scoped>
.sides {
  display: grid;
  gap: 14px;
}

.apart {
  justify-self: start;
  display: flex;
  gap: 8px;
  align-items: center;
  min-height: 32px;
}

.apart input {
  width: 20px;
  height: 20px;
  accent-color: var(--verdigris);
}

.limb {
  display: flex;
  gap: 18px;
  padding: 16px 20px;
}

.shown {
  flex: none;
  width: 150px;
}

.readings {
  flex: 1;
  min-width: 0;
}

table {
  width: 100%;
  border-collapse: collapse;
}

thead th {
  padding: 4px 8px;
  color: var(--graphite-soft);
  font-size: 14px;
  font-weight: 400;
  text-align: left;
}

tbody th {
  padding: 14px 8px 8px 0;
  font-weight: 700;
  text-align: left;
  line-height: 1.2;
}

td {
  padding: 6px 5px;
  vertical-align: top;
}

tbody td > .soft:only-child {
  display: block;
  padding-top: 8px;
}

.how {
  min-height: 4.2em;
  font-size: 14.5px;
  line-height: 1.3;
}

td :deep(.el-input) {
  min-width: 106px;
}

tr.at {
  background: var(--verdigris-pale);
}

td select {
  height: 38px;
  width: 106px;
  border: 1px solid var(--sheet-line);
  border-radius: 3px 8px 3px 7px;
  background: var(--sheet);
  color: inherit;
  font: inherit;
}

td .ratio {
  width: 76px;
  cursor: text;
}

.error {
  color: var(--oxide);
  font-size: 14px;
}

@media (max-width: 1180px) {
  .limb {
    flex-direction: column;
    padding: 14px;
  }

  .shown {
    display: flex;
    align-items: center;
    width: auto;
  }

  td,
  tbody th {
    padding-inline: 3px;
  }

  td :deep(.el-input) {
    min-width: 92px;
  }
}

@media (max-width: 760px) {
  .readings {
    overflow-x: auto;
  }
}
</style>
