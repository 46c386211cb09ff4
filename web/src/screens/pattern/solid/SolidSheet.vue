<script setup lang="ts">
import { computed, ref, shallowRef, watch } from "vue";
import { api, take, type DesignIn, type Piece } from "@/api/client";
import { useAsk, useDesignChange, usePattern, usePieceQuery } from "@/api/queries";
import PanelTable from "@/canvas/PanelTable.vue";
import MarginNotes from "@/frame/MarginNotes.vue";
import ScreenFrame from "@/frame/ScreenFrame.vue";
import LengthField from "@/parts/LengthField.vue";
import { useUnit } from "@/parts/units";
import SolidView from "@/scene/SolidView.vue";
import SolidForm from "./SolidForm.vue";
import ModelNotes from "./ModelNotes.vue";
import { withMeasure, type Model, type Solid } from "./solid";

/** A part that no cast gives: its measures, how it looks, and its panels as they come flat. */
const props = defineProps<{ piece: Piece }>();
const { say: words, show } = useUnit();
const pieceId = computed(() => props.piece.id);
const kinds = useAsk({
  queryKey: ["solids"],
  queryFn: (how) => take(api.GET("/api/solids", how)),
  staleTime: Infinity,
});
const solid = usePieceQuery("solid", pieceId, (p, how) =>
  take(api.GET("/api/pieces/{piece}/solid", { ...how, params: { path: { piece: p } } })),
);
const pattern = usePattern(pieceId);
const refusal = ref<{ field: string; message: string } | null>(null);
const save = useDesignChange(
  computed(() => props.piece),
  (r) => (refusal.value = { field: r.fields[0]?.field ?? "", message: r.message }),
);
const design = computed(() => props.piece.design as DesignIn);
const kind = computed(() => kinds.data.value?.find((k) => k.kind === design.value.solid?.kind));
function change(how: (now: DesignIn) => DesignIn) {
  refusal.value = null;
  save(how);
}
/** One measure of it, put to what it is by then: quick hands lose nothing. */
const reshape = (field: string, value: unknown) =>
  change((d) => (d.solid ? { ...d, solid: withMeasure(d.solid as Solid, field, value) } : d));
const model = computed(() => (design.value.solid?.kind === "model" ? (design.value.solid as Model) : null));
/** A seam that is being drawn on a model, place by place; null while none is. */
const seam = shallowRef<[number, number, number][] | null>(null);
function draw() {
  const now = seam.value;
  seam.value = now ? null : [];
  if (now && now.length > 1 && model.value) {
    const line = now.map((p) => p.map((v) => Math.round(v * 10) / 10));
    reshape("seams", [...(model.value.seams ?? []), line]);
  }
}
const chosen = ref("");
const nothing = { tried: shallowRef(null) };
watch(pieceId, () => ((chosen.value = ""), (refusal.value = null), (seam.value = null)));
const made = computed(() => (pattern.isError.value ? undefined : pattern.data.value));
const panel = computed(() => made.value?.panels.find((p) => p.label.code === chosen.value));
const trouble = computed(() => refusal.value?.message || (pattern.isError.value ? pattern.error.value?.message : ""));
const size = computed(() => solid.data.value?.size.map((v) => show(v)).join(" × ") ?? "");
const panels = computed(() => made.value?.panels.length ?? 0);
/** What is written on a panel's label: its name, without the piece's, and how many are cut. */
const name = (lines: readonly string[]) => lines[0].replace(`${props.piece.name}: `, "");
</script>

<template>
  <ScreenFrame title="Shape" :about="kind ? kind.word : ''">
    <template #tools>
      <RouterLink class="press" :to="{ name: 'foam', query: { piece: piece.id } }">Foam, folds, edges</RouterLink>
      <RouterLink class="press main" :to="{ name: 'cut', query: { piece: piece.id } }">On to cutting →</RouterLink>
    </template>
    <div class="split">
      <div class="left">
        <SolidForm
          v-if="kind && design.solid"
          :key="piece.id"
          :kind="kind"
          :solid="design.solid"
          :build="piece.build_id"
          :refusal="refusal"
          @change="reshape" />
        <LengthField
          word="Foam"
          name="foam"
          hint="of its walls"
          :value="Number(design.foam)"
          @change="change((d) => ({ ...d, foam: $event }) as DesignIn)" />
      </div>
      <div class="middle">
        <p v-if="trouble" class="words stop" role="alert">{{ words(trouble) }}.</p>
        <SolidView
          v-if="solid.data.value && !solid.isError.value"
          :solid="solid.data.value"
          :lit="panel?.number ?? 0"
          :seam="seam ?? undefined"
          @touch="seam && (seam = [...seam, $event])" />
        <div class="flat">
          <PanelTable
            v-if="made"
            :pattern="made"
            :strain="false"
            :chosen="chosen"
            :tried="nothing.tried"
            :darting="false"
            @choose="chosen = $event" />
        </div>
      </div>
    </div>

    <template v-if="made" #notes>
      <section>
        <h3>{{ panels }} {{ panels === 1 ? "panel" : "panels" }}</h3>
        <p class="soft">{{ size }} over its {{ design.solid?.inside === false ? "outer" : "inner" }} face</p>
        <ul class="plain-list panels">
          <li v-for="p in made.panels" :key="p.label.code">
            <button
              class="line"
              :aria-pressed="p.label.code === chosen"
              @click="chosen = chosen === p.label.code ? '' : p.label.code">
              <b>{{ p.number }}</b> {{ name(p.label.lines) }}
              <span class="figures soft">{{ p.p95 ? `${p.p95.toFixed(1)} %, ` : "" }}{{ p.label.lines[1] }}</span>
            </button>
          </li>
        </ul>
      </section>
      <section
        v-for="p in made.panels.filter((x) => x.verdict.state !== 'flat')"
        :key="`v${p.label.code}`"
        class="words"
        :class="p.verdict.state === 'split' ? 'stop' : p.verdict.state === 'hard' ? 'look' : 'say'">
        <div>
          <b>{{ p.label.code }}: {{ words(p.verdict.sentence) }}.</b> {{ words(p.verdict.advice) }}
        </div>
      </section>
      <ModelNotes v-if="model" :piece="piece" :model="model" :drawing="Boolean(seam)" @change="reshape" @draw="draw" />
      <section v-for="f in made.findings" :key="f.message" class="words" :class="f.level">
        <div>
          <b>{{ words(f.message) }}</b> <span v-if="f.advice">{{ words(f.advice) }}</span>
        </div>
      </section>
      <section v-if="made.notes.length">
        <h3>How it is made</h3>
        <MarginNotes :notes="made.notes" />
      </section>
    </template>
  </ScreenFrame>
</template>

<style scoped>
.split {
  display: grid;
  grid-template-columns: 278px minmax(0, 1fr);
  gap: 18px;
  flex: 1;
  min-height: 0;
}

.left {
  display: grid;
  gap: 12px;
  align-content: start;
  min-width: 0;
  overflow: auto;
  padding-right: 6px;
}

.middle {
  display: grid;
  grid-template-rows: auto minmax(0, 1.15fr) minmax(0, 1fr);
  gap: 10px;
  min-width: 0;
  min-height: 0;
}

.middle > .round {
  grid-row: 2;
}

.flat {
  grid-row: 3;
  position: relative;
  display: flex;
  flex-direction: column;
  min-height: 0;
}

.panels {
  display: grid;
  gap: 2px;
}

.line {
  display: grid;
  grid-template-columns: 22px minmax(0, 1fr) auto;
  gap: 8px;
  width: 100%;
  padding: 6px 8px;
  border: 0;
  border-left: 4px solid var(--sheet-line);
  background: none;
  color: inherit;
  font: inherit;
  text-align: left;
  cursor: pointer;
}

.line[aria-pressed="true"] {
  border-color: var(--verdigris);
  background: var(--vellum);
}

@media (max-width: 1100px) {
  .split {
    grid-template-columns: 226px minmax(0, 1fr);
    gap: 12px;
  }
}

@media (max-width: 760px) {
  .split {
    grid-template-columns: minmax(0, 1fr);
  }

  .middle {
    grid-template-rows: auto 320px 320px;
  }
}
</style>
