<script setup lang="ts">
import { computed } from "vue";
import { api, take, type DesignIn } from "@/api/client";
import { useDesignChange, useHere, usePattern, usePieceQuery } from "@/api/queries";
import StrapMap from "@/canvas/StrapMap.vue";
import LengthField from "@/parts/LengthField.vue";
import MarginNotes from "@/parts/MarginNotes.vue";
import NoPattern from "@/parts/NoPattern.vue";
import ScreenFrame from "@/parts/ScreenFrame.vue";
import { useUnit } from "@/parts/units";

const { piece, pieceId } = useHere();
const { show, bare, unit, say } = useUnit();
const pattern = usePattern(pieceId);
const rig = usePieceQuery("rig", pieceId, (p) =>
  take(api.GET("/api/pieces/{piece}/rig", { params: { path: { piece: p } } })),
);
const notes = computed(() => {
  const all = [
    ...(rig.data.value?.donning ?? []).flatMap((d) => d.notes),
    ...(rig.data.value?.plans ?? []).flatMap((p) => p.parts.map((x) => x.note)),
  ];
  return all.filter((n, i) => all.findIndex((m) => m.title === n.title) === i);
});
const change = useDesignChange(piece);
const set = (rig: Partial<NonNullable<DesignIn["rig"]>>) =>
  change((now) => ({ ...now, rig: { ...now.rig, ...rig } as DesignIn["rig"] }));
const open = () => change((now) => ({ ...now, back: "open", closure: "lacing", gap: null }));
const straps = computed(
  () =>
    piece.value?.design.back === "open" && ["none", "hook-and-loop", "buckles"].includes(piece.value.design.closure),
);
</script>

<template>
  <ScreenFrame
    title="Getting in, and staying on"
    :about="
      piece && rig.data.value
        ? `${rig.data.value.plans.length > 1 ? 'One list a side' : piece.design.side === 'both' && !['torso', 'neck'].includes(piece.segment) ? 'Left and right alike: cut everything twice' : ''}`
        : ''
    ">
    <template #tools>
      <a
        v-if="rig.data.value && !rig.isError.value"
        class="press"
        :href="`/api/pieces/${pieceId}/rig.csv`"
        download="rig.csv"
        >CSV</a
      >
    </template>
    <NoPattern v-if="!rig.data.value || rig.isError.value" :error="rig.error.value" />
    <template v-else>
      <section
        v-for="d in rig.data.value.donning"
        :key="d.side"
        class="words donning"
        :class="{ stop: d.passes === false, good: d.passes }">
        <div>
          <h3>
            {{ d.passes === null ? "Can it be put on?" : d.passes ? "It goes on" : "It cannot be put on"
            }}<template v-if="rig.data.value.donning.length > 1">, {{ d.side }}</template>
          </h3>
          <p>{{ say(d.sentence) }}</p>
          <p v-if="d.passes === false" class="do">
            <button class="press main" @click="open()">Open the back, with lacing</button>
          </p>
          <p v-if="d.passes === null && d.sentence.startsWith('Measure')" class="do">
            <RouterLink class="press main" :to="{ name: 'wearer', query: { piece: pieceId } }">Measure it</RouterLink>
          </p>
        </div>
      </section>
      <section v-for="plan in rig.data.value.plans" :key="plan.side" class="plan">
        <StrapMap
          v-if="plan.parts.length && pattern.data.value?.panels[0]"
          :plan="plan"
          :panel="pattern.data.value.panels[0]"
          :opening="pattern.data.value.opening" />
        <div class="list sheet">
          <h3 v-if="rig.data.value.plans.length > 1">{{ plan.side }}</h3>
          <table v-if="plan.parts.length" class="ruled">
            <thead>
              <tr>
                <th>Cut</th>
                <th>Length</th>
                <th>From below</th>
                <th>Stitch and glue</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="p in plan.parts" :key="p.name">
                <td>
                  <b class="figures">{{ p.count }} ×</b> {{ say(p.name) }}
                </td>
                <td class="figures nowrap">
                  <b>{{ p.length ? show(p.length) : "–" }}</b>
                </td>
                <td class="figures">
                  {{
                    p.at.length > 4
                      ? `every ${show(p.at[1] - p.at[0])} from ${show(p.at[0])}`
                      : p.at.length
                        ? `${p.at.map((a) => bare(a)).join(", ")} ${unit}`
                        : ""
                  }}
                </td>
                <td>
                  {{ say(p.stitches) }}<template v-if="p.glue !== 'none'">; {{ say(p.glue) }}</template>
                </td>
              </tr>
            </tbody>
          </table>
          <ul>
            <li v-for="a in plan.advice" :key="a">{{ a }}</li>
          </ul>
        </div>
      </section>
    </template>

    <template v-if="rig.data.value && !rig.isError.value && piece" #notes>
      <section v-if="straps" class="choices">
        <h3>The straps</h3>
        <label class="field"
          ><span class="word">They run</span>
          <select
            class="press"
            :value="piece.design.rig.run"
            @change="set({ run: ($event.target as HTMLSelectElement).value as 'across' })">
            <option value="across">across the opening</option>
            <option value="round">all the way round</option>
          </select>
        </label>
        <LengthField
          word="Webbing width"
          name="webbing"
          :value="piece.design.rig.webbing"
          @change="set({ webbing: $event })" />
        <label v-if="piece.design.closure === 'none'" class="field"
          ><span class="word">Elastic stretches by</span>
          <select
            class="press"
            :value="String(piece.design.rig.stretch)"
            @change="set({ stretch: Number(($event.target as HTMLSelectElement).value) })">
            <option value="0.2">20 %, firm</option>
            <option value="0.3">30 %</option>
            <option value="0.5">50 %, soft</option>
          </select>
        </label>
      </section>
      <section>
        <h3>How it is made</h3>
        <MarginNotes :notes="notes" />
        <p v-if="!notes.length" class="soft">Nothing to work out yet.</p>
      </section>
    </template>
  </ScreenFrame>
</template>

<style scoped>
.donning {
  padding: 14px 18px;
  font-size: 18px;
}

.good {
  border-color: var(--verdigris);
  background: var(--verdigris-pale);
}

.do {
  margin-top: 10px;
}

.plan {
  display: flex;
  flex-wrap: wrap;
  gap: 18px;
  align-items: start;
}

.list {
  flex: 1;
  min-width: 340px;
  padding: 14px 20px;
}

.list ul {
  margin: 12px 0 0;
  padding-left: 20px;
}

.nowrap {
  white-space: nowrap;
}

.choices {
  display: grid;
  gap: 10px;
}
</style>
