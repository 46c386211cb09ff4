<script setup lang="ts">
import { computed, ref } from "vue";
import { api, take, type DesignIn, type Schemas } from "@/api/client";
import { useAsk, useCatalogue, useHere } from "@/api/queries";
import ShelfFields from "./ShelfFields.vue";
import WeaveSheet from "./WeaveSheet.vue";
import type { Foam } from "./useFoam";
import { useUnit } from "@/parts/units";

/** The sheets a piece is made of, from the inner face out; its role; what it weighs; what lies on the shelf. */
const props = defineProps<{ foam: Foam; design: Schemas["PieceDesign-Output"] }>();
const emit = defineEmits<{
  change: [change: (now: DesignIn) => DesignIn];
  panel: [panel: number, row: Partial<Schemas["PanelWork-Input"]>];
}>();
const { buildId } = useHere();
const { show, say, unit } = useUnit();
const catalogue = useCatalogue();
const costume = useAsk({
  queryKey: ["weights", buildId],
  queryFn: (how) =>
    take(api.GET("/api/builds/{build}/weights", { ...how, params: { path: { build: buildId.value } } })),
  enabled: computed(() => buildId.value > 0),
});
type Layer = Schemas["Layer-Output"];
/** 0 is the piece as a whole; a number is one panel that has foam of its own. */
const of = ref(0);
const panels = computed(() => [...new Set(props.foam.bends.map((b) => b.panel))].sort((a, b) => a - b));
const ownRow = (panel: number) => props.design.foam_work.panels.find((p) => p.panel === panel)?.layers ?? [];
const layers = computed<Layer[]>(() => {
  if (of.value && ownRow(of.value).length) return ownRow(of.value);
  if (props.design.layers.length) return props.design.layers;
  return [{ thickness: props.design.foam, kind: props.design.foam_kind } as Layer];
});
const thick = computed(() => layers.value.reduce((sum, l) => sum + l.thickness, 0));
function put(rows: Layer[]) {
  if (of.value) return emit("panel", of.value, { layers: rows as Schemas["Layer-Input"][] });
  emit("change", (now) =>
    rows.length === 1
      ? { ...now, layers: [], foam: rows[0].thickness, foam_kind: rows[0].kind }
      : { ...now, layers: rows as DesignIn["layers"] },
  );
}
const swap = (n: number, change: Partial<Layer>) =>
  put(layers.value.map((l, k) => (k === n ? { ...l, ...change } : l)));
const sold = computed(() => catalogue.data.value?.sheets ?? []);
const name = (t: number) => {
  const inch = sold.value.find((s) => s.thickness === t)?.inch;
  return unit.value === "in" && inch ? `${inch} in` : show(t);
};
const grams = (g: number) => (g >= 1000 ? `${(g / 1000).toFixed(2)} kg` : `${g.toFixed(0)} g`);
</script>

<template>
  <div class="stacks">
    <section class="sheet" aria-label="Layers">
      <h3>What it is made of</h3>
      <label v-if="panels.length > 1" class="field"
        ><span class="word">Which panels</span>
        <select v-model.number="of" class="press" name="layers-of">
          <option :value="0">all panels</option>
          <option v-for="p in panels" :key="p" :value="p">
            panel {{ p }}{{ ownRow(p).length ? ", foam of its own" : "" }}
          </option>
        </select>
      </label>
      <ol class="layers" aria-label="Layers from the inner face out">
        <li v-for="(l, n) in [...layers].reverse()" :key="n" :data-layer="layers.length - n">
          <span class="slab" :style="{ height: `${Math.max(8, l.thickness * 3.2)}px` }" />
          <label class="field"
            ><span class="word">{{
              layers.length === 1
                ? "One sheet"
                : n === 0
                  ? "Outer layer"
                  : n === layers.length - 1
                    ? "Inner layer"
                    : "Layer"
            }}</span>
            <select
              class="press figures"
              :name="`layer-${layers.length - n}`"
              :value="String(l.thickness)"
              @change="swap(layers.length - 1 - n, { thickness: Number(($event.target as HTMLSelectElement).value) })">
              <option v-if="!sold.some((s) => s.thickness === l.thickness)" :value="String(l.thickness)">
                {{ show(l.thickness) }}
              </option>
              <option v-for="s in sold" :key="s.thickness" :value="String(s.thickness)">{{ name(s.thickness) }}</option>
            </select>
          </label>
          <label class="field"
            ><span class="word">Kind</span>
            <select
              class="press"
              :value="l.kind"
              @change="
                swap(layers.length - 1 - n, { kind: ($event.target as HTMLSelectElement).value as Layer['kind'] })
              ">
              <option v-for="(_, kind) in catalogue.data.value?.foam_kinds" :key="kind" :value="kind">
                {{ kind }}
              </option>
            </select>
          </label>
          <button
            v-if="layers.length > 1"
            class="press plain"
            @click="put(layers.filter((_, k) => k !== layers.length - 1 - n))">
            take it out
          </button>
        </li>
      </ol>
      <p class="ends">
        <button class="press" :disabled="layers.length > 5" @click="put([...layers, { ...layers[layers.length - 1] }])">
          + Layer on the outside
        </button>
        <b class="figures">{{ show(thick) }} in all</b>
      </p>
      <button v-if="of && ownRow(of).length" class="press" @click="emit('panel', of, { layers: [] })">
        The piece's own foam again
      </button>
      <template v-if="layers.length > 1">
        <div class="shapes" role="radiogroup" aria-label="How layers are glued">
          <button
            class="press"
            role="radio"
            :aria-checked="design.layered === 'bent'"
            @click="emit('change', (now) => ({ ...now, layered: 'bent' }))">
            Glued while bent
          </button>
          <button
            class="press"
            role="radio"
            :aria-checked="design.layered === 'alike'"
            @click="emit('change', (now) => ({ ...now, layered: 'alike' }))">
            Cut alike, curved together
          </button>
        </div>
        <p class="soft">
          {{
            design.layered === "bent"
              ? "Each layer is cut to its own depth, and the bend stays by itself."
              : "Quicker, for gentle curves only: the faces must give what thickness costs."
          }}
        </p>
      </template>
      <p class="soft">
        A window or segments: draw a line of the kind <b>layer cut</b> on the Ink page. It is cut through the outer
        layer only, so a recess is exactly as deep as that layer.
      </p>
    </section>

    <section class="sheet" aria-label="Advice">
      <h3>What it has to do</h3>
      <div class="shapes" role="radiogroup" aria-label="Role of the foam">
        <button
          v-for="r in foam.roles"
          :key="r.key"
          class="press"
          role="radio"
          :aria-checked="foam.role === r.key"
          @click="emit('change', (now) => ({ ...now, role: r.key }))">
          {{ r.word }}
        </button>
      </div>
      <p>{{ say(foam.advice.words) }}</p>
      <button
        v-if="layers.length > 1 || foam.advice.thickness !== design.foam || foam.advice.kind !== design.foam_kind"
        class="press main"
        @click="put([{ thickness: foam.advice.thickness, kind: foam.advice.kind } as Layer])">
        Use {{ name(foam.advice.thickness) }} {{ foam.advice.kind }}
      </button>
      <h3>What it weighs</h3>
      <table class="ruled figures">
        <tbody>
          <tr v-for="s in foam.sheets" :key="`${s.kind} ${s.thickness}`">
            <td>{{ name(s.thickness) }} {{ s.kind }}</td>
            <td>{{ s.area.toFixed(3) }} m²</td>
            <td>{{ grams(s.grams) }}</td>
            <td>{{ s.money === null ? "" : s.money.toFixed(2) }}</td>
          </tr>
        </tbody>
      </table>
      <p class="ends">
        <span>This piece, all its parts</span><b class="figures">{{ grams(foam.grams) }}</b>
      </p>
    </section>

    <WeaveSheet v-if="panels.length" :design="design" :panels="panels" @change="emit('change', $event)" />

    <section class="sheet wide" aria-label="Shelf">
      <h3>On your shelf</h3>
      <ShelfFields v-for="s in foam.sheets" :key="`${s.kind} ${s.thickness}`" :sheet="s" :name="name(s.thickness)" />
    </section>

    <section v-if="costume.data.value" class="sheet wide" aria-label="Whole costume">
      <p class="ends">
        <span class="title">The whole costume weighs, in foam</span
        ><b class="figures total">{{ grams(costume.data.value.grams) }}</b>
      </p>
      <table class="ruled figures">
        <tbody>
          <tr v-for="p in costume.data.value.pieces" :key="p.piece">
            <td>{{ p.name }}</td>
            <td>{{ p.trouble ? "–" : grams(p.grams) }}</td>
            <td class="soft">{{ p.trouble ? say(p.trouble) : "" }}</td>
          </tr>
        </tbody>
      </table>
      <a :href="`/api/builds/${buildId}/folds.csv`" download="folds.csv">Every fold and bevel of the costume as CSV</a>
    </section>
  </div>
</template>

<style scoped>
.stacks {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(min(340px, 100%), 1fr));
  gap: 14px;
}

section {
  display: grid;
  gap: 12px;
  align-content: start;
  padding: 16px 20px;
  overflow-x: auto;
}

section > .press,
section > .field {
  justify-self: start;
}

.wide {
  grid-column: 1 / -1;
}

.layers {
  display: grid;
  gap: 8px;
  margin: 0;
  padding: 0;
  list-style: none;
}

.layers li {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: end;
}

.slab {
  width: 60px;
  align-self: center;
  background: var(--foam);
  border-radius: 1px;
}

.shapes {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}

.total {
  font-size: 22px;
}

.title {
  font: 700 18px var(--slab);
}

.ruled td:first-child {
  white-space: nowrap;
}

.ruled td,
.ruled th {
  padding-inline: 5px;
}
</style>
