<script setup lang="ts">
import { computed, ref, watch } from "vue";
import { useHere } from "@/api/queries";
import EmptySheet from "@/frame/EmptySheet.vue";
import ScreenFrame from "@/frame/ScreenFrame.vue";
import TabRow from "@/frame/TabRow.vue";
import { useUnit } from "@/parts/units";
import NestNotes from "./NestNotes.vue";
import { turnedBy } from "./nestHand";
import SheetPicture from "./SheetPicture.vue";
import { useNest, type Effort, type Part, type Tool } from "./useNest";

/** All that is cut for the costume on its sheets: laid by the program, moved by hand, cut sheet by sheet. */
const { buildId } = useHere();
const { show, say } = useUnit();
const nest = useNest(buildId);
const { material, materials, job, tool, effort } = nest;

const tabs = computed(() =>
  Object.fromEntries(materials.value.map((m) => [m.key, `${show(m.thickness)} ${m.kind}, ${m.count}`])),
);
const TOOLS: Record<NonNullable<Tool>, string> = { knife: "a knife", scissors: "scissors", cutter: "a cutter" };
const EFFORTS: Record<NonNullable<Effort>, string> = { quick: "quickly", usual: "as usual", thorough: "thoroughly" };

const picked = ref("");
watch(material, (now, was) => now?.key !== was?.key && (picked.value = ""));
const sheet = computed(() => material.value?.sheets.find((s) => s.parts.some((p) => p.key === picked.value)));
const part = computed(() => sheet.value?.parts.find((p) => p.key === picked.value));
const wrong = computed(() => new Set((material.value?.troubles ?? []).flatMap((t) => t.parts)));

const put = (key: string, moved: Part, locked = true) => nest.place.mutate({ sheet: key, part: moved, locked });
function turn(degrees: number) {
  if (part.value && sheet.value) put(sheet.value.key, turnedBy(part.value, degrees));
}
const about = computed(() => {
  if (!nest.asked.data.value) return "Reading every pattern…";
  const parts = materials.value.reduce((a, m) => a + m.count, 0);
  const buy = materials.value.reduce((a, m) => a + m.to_buy, 0);
  const laid = materials.value.some((m) => m.laid);
  if (!laid) return `${parts} parts to lay on sheets`;
  return `${parts} parts to cut; ${buy ? `${buy} ${buy === 1 ? "sheet" : "sheets"} to buy` : "no sheet to buy"}`;
});
const words = (s: { key: string; owned: boolean; offcut: boolean }) =>
  s.offcut ? "an offcut you have" : s.owned ? "a sheet you have" : "a sheet to buy";
const turns = computed(() => (material.value?.one_faced ? 90 : 45));
</script>

<template>
  <ScreenFrame title="Nest" :about="about">
    <template #tools>
      <template v-if="materials.length && !job">
        <label class="choice"
          >Cut with
          <select v-model="tool" class="press" name="nest-tool">
            <option v-for="(word, key) in TOOLS" :key="key" :value="key">{{ word }}</option>
          </select></label
        >
        <label class="choice"
          >Search
          <select v-model="effort" class="press" name="nest-effort">
            <option v-for="(word, key) in EFFORTS" :key="key" :value="key">{{ word }}</option>
          </select></label
        >
        <button class="press main lay" @click="nest.lay.mutate([])">
          {{ materials.some((m) => m.laid) ? "Lay all anew" : "Lay all parts on sheets" }}
        </button>
      </template>
    </template>
    <div v-if="job" class="run sheet" role="status">
      <el-progress :percentage="Math.round(job.share * 100)" :stroke-width="14" />
      <span class="soft">{{ say(job.words) }}</span>
      <button class="press" @click="nest.stop()">Stop</button>
    </div>
    <TabRow
      v-if="materials.length > 1"
      :tabs="tabs"
      :on="material!.key"
      label="Foam"
      @pick="nest.chosen.value = $event">
      <button v-if="material?.laid && !job" class="press" @click="nest.lay.mutate([material.key])">
        Lay this foam anew
      </button>
    </TabRow>
    <EmptySheet v-if="nest.asked.data.value && !materials.length" title="Nothing to lay on sheets yet">
      Add a piece and measure its wearer: its panels come here by themselves.
    </EmptySheet>
    <EmptySheet
      v-else-if="material && !material.sheets.length && !material.cut.length && !job"
      title="Nothing laid yet">
      {{ material.count }} {{ material.count === 1 ? "part is" : "parts are" }} cut from {{ show(material.thickness) }}
      {{ material.kind }} foam. Offcuts and sheets that you have are on the shelf of Workshop; what is missing is laid
      on sheets to buy.
    </EmptySheet>
    <section v-for="s in material?.sheets ?? []" :key="s.key" class="one">
      <header>
        <h3>{{ s.key }}</h3>
        <span class="soft"
          >{{ words(s) }}, {{ s.parts.length }} {{ s.parts.length === 1 ? "part" : "parts" }},
          {{ Math.round(100 - 100 * s.dense) }} % falls away between them</span
        >
        <a class="press" :href="nest.file(s.key, 'svg')">SVG</a>
        <a class="press" :href="nest.file(s.key, 'dxf')">DXF</a>
        <router-link
          class="press"
          :to="{
            name: 'cutter',
            params: { build: buildId },
            query: { ...$route.query, material: material!.key, sheet: s.key },
          }"
          >Cutter</router-link
        >
        <button class="press" :disabled="!!job" @click="nest.cut.mutate(s.key)">It is cut</button>
      </header>
      <SheetPicture
        :sheet="s"
        :clearance="material!.clearance"
        :chosen="picked"
        :wrong="wrong"
        :held="!!job"
        @pick="picked = $event"
        @put="put(s.key, $event)" />
    </section>
    <section v-for="(c, k) in material?.cut ?? []" :key="`cut ${k}`" class="one done">
      <header>
        <h3>{{ c.sheet }}, cut</h3>
        <span class="soft">{{ c.parts.map((p) => p.code).join(", ") }}</span>
      </header>
    </section>
    <template v-if="material" #notes>
      <NestNotes
        :material="material"
        :part="part"
        :missing="nest.asked.data.value?.missing ?? []"
        :step="turns"
        :paper="`/api/builds/${buildId}/nest.pdf`"
        :on="sheet?.key ?? ''"
        :sheets="material.sheets.map((s) => s.key)"
        :busy="nest.split.isPending.value"
        @split="nest.split.mutate($event)"
        @buy="nest.buy.mutate($event)"
        @move="part && put($event, part)"
        @turn="turn"
        @lock="part && sheet && put(sheet.key, part, $event)" />
    </template>
  </ScreenFrame>
</template>

<style scoped>
.run,
.one header {
  display: flex;
  flex-wrap: wrap;
  gap: 10px 14px;
  align-items: center;
}

.run {
  padding: 12px 16px;
}

.run .el-progress {
  flex: 1 1 240px;
}

.one {
  display: grid;
  gap: 8px;
}

.one h3 {
  margin: 0;
}

.one h3::first-letter {
  text-transform: uppercase;
}

.choice {
  display: flex;
  gap: 8px;
  align-items: center;
}

.one header .soft {
  flex: 1 1 150px;
}

.done {
  opacity: 0.8;
}
</style>
