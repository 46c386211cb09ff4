<script setup lang="ts">
import { computed, ref } from "vue";
import type { MeasurementsIn, Piece, Schemas } from "@/api/client";
import { saveSet, useChange } from "@/api/queries";
import LengthField from "@/parts/LengthField.vue";
import { changeTrunk } from "@/screens/body/wearer/readings";

/** The girths that a piece is drawn on, to be corrected beside its panels. */
const props = defineProps<{ piece: Piece; newest?: Schemas["SetOut"] }>();
const limbs = computed(() => (props.newest?.readings.limbs ?? []).filter((l) => l.segment === props.piece.segment));
const trunk = computed(() =>
  props.piece.segment === "torso" ? Object.entries(props.newest?.readings.torso?.girths ?? {}) : [],
);
const refusal = ref<Record<string, string>>({});
const last = ref("");
const num = (v: unknown) => (typeof v === "number" ? v : null);

const save = useChange(
  async ({ side, station, text }: { side: string; station: string; text: string }) => {
    refusal.value = {};
    const body = JSON.parse(JSON.stringify(props.newest!.readings)) as MeasurementsIn;
    if (side === "trunk") changeTrunk(body, station, text, "girth");
    else {
      const limb = body.limbs!.find((l) => l.segment === props.piece.segment && l.side === side)!;
      limb.stations[station] = { ...limb.stations[station], girth: text };
    }
    const kept = await saveSet(props.newest!, body);
    last.value = "";
    return kept;
  },
  (r) =>
    (refusal.value = {
      [last.value]: r.questions.length ? `${r.message} Confirm it on the Wearer screen.` : r.message,
    }),
);

function change(side: string, station: string, text: string) {
  last.value = `${side}.${station}`;
  save.mutate({ side, station, text });
}
</script>

<template>
  <LengthField
    v-for="[name, reading] in trunk"
    :key="name"
    :word="name"
    :name="`girth-${name}`"
    :value="num(reading.girth)"
    :error="refusal[`trunk.${name}`]"
    @change="change('trunk', name, $event)" />
  <template v-for="l in limbs" :key="l.side">
    <p v-if="l.side !== 'both'" class="wide">
      <b>{{ l.side }}</b>
    </p>
    <LengthField
      v-for="s in piece.stations"
      :key="s"
      :word="s"
      :name="`girth-${s}`"
      :value="num(l.stations[s]?.girth)"
      :error="refusal[`${l.side}.${s}`]"
      @change="change(l.side, s, $event)" />
  </template>
  <p v-if="!limbs.length && !trunk.length" class="soft wide">Not measured by tape.</p>
</template>

<style scoped>
.wide {
  grid-column: 1 / -1;
}
</style>
