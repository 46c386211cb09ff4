<script setup lang="ts">
import { computed, ref, shallowRef, watch } from "vue";
import type { DesignIn, Piece } from "@/api/client";
import { useCatalogue } from "@/api/queries";
import type { Pair, SheetMap, Stroke } from "@/canvas/sheetMap";
import LengthField from "@/parts/LengthField.vue";
import { useUnit } from "@/parts/units";
import type { useInk } from "./inkDraft";

/** Beside the sheet: the chosen line by words and numbers, what is wrong, and the template's sizes. */
const props = defineProps<{ piece: Piece; map: SheetMap; draft: ReturnType<typeof useInk> }>();
const emit = defineEmits<{ size: [how: (now: DesignIn) => DesignIn]; choose: [key: string] }>();
const catalogue = useCatalogue();
const { say, unit } = useUnit();

/** As all was when it last came to rest: words that change at every frame of a drag would slow the hand. */
const stroke = shallowRef(props.draft.stroke.value);
const read = shallowRef(props.draft.read.value);
watch([props.draft.stroke, props.draft.read, props.draft.moving], ([now, answer, moving]) => {
  if (!moving) [stroke.value, read.value] = [now, answer];
});
const index = computed(() => props.draft.chosen.value?.index ?? null);
const point = computed(() =>
  stroke.value && index.value !== null ? (stroke.value.points[index.value] as Pair) : null,
);
const station = ref(0);

const nearest = computed(() => {
  if (!point.value) return 0;
  const mm = props.map.mm(point.value[1]);
  return props.map.cast.stations.reduce(
    (best, s, i, all) => (Math.abs(s.mm - mm) < Math.abs(all[best].mm - mm) ? i : best),
    0,
  );
});
const from = computed(() =>
  station.value >= 0 && station.value < props.map.cast.stations.length && touched.value ? station.value : nearest.value,
);
const touched = ref(false);
const above = computed(() => (point.value ? props.map.mm(point.value[1]) - props.map.cast.stations[from.value].mm : 0));
const aside = computed(() =>
  point.value ? props.map.seen(point.value[0]) * props.map.girth(props.map.mm(point.value[1])) : 0,
);
const side = computed(() => (props.map.turned ? "from the back line" : "from the front line"));

function number(text: string): number | null {
  const t = text.trim().replace(",", ".");
  const inch = /in$|"$/.test(t) || unit.value === "in";
  const parts = /^(-)?(?:(\d+(?:\.\d+)?))?(?:[ -]?(\d+)\/(\d+))?\s*(mm|cm|in|")?$/.exec(t);
  if (!parts || (!parts[2] && !parts[3])) return null;
  const value = Number(parts[2] ?? 0) + (parts[3] ? Number(parts[3]) / Number(parts[4]) : 0);
  const by = parts[5] === "cm" ? 10 : parts[5] === "mm" ? 1 : inch ? 25.4 : 1;
  return (parts[1] ? -1 : 1) * value * by;
}

function place(to: Pair) {
  const at = props.draft.chosen.value!;
  props.draft.editStroke(at.key, (s) => ({ ...s, points: s.points.map((p, i) => (i === at.index ? to : p)) }));
}

function setAbove(text: string) {
  const mm = number(text);
  if (mm !== null && point.value)
    place([point.value[0], props.map.alongAt(props.map.cast.stations[from.value].mm + mm)]);
}

function setAside(text: string) {
  const mm = number(text);
  if (mm === null || !point.value) return;
  const [u] = props.map.at([mm, props.map.mm(point.value[1])], point.value[0]);
  place([u, point.value[1]]);
}

const setStroke = (change: Partial<Stroke>) => props.draft.editStroke(stroke.value!.key, (s) => ({ ...s, ...change }));
const template = computed(() => catalogue.data.value?.templates.find((t) => t.name === props.piece.design.template));
const own = computed(() => Boolean(props.piece.design.ink));
/** What the chosen look does not use is not asked for. */
const sizes = computed(() =>
  (template.value?.sizes ?? []).filter((s) => {
    if (!s.when) return true;
    const [choice, options] = s.when as [string, string[]];
    const usual = template.value?.choices.find((c) => c.name === choice)?.options[0] ?? "";
    return options.includes((props.piece.design.choices as Record<string, string>)[choice] ?? usual);
  }),
);
const value = (name: string, usual: number) =>
  Number((props.piece.design.sizes as Record<string, number>)[name] ?? usual);
const setSize = (name: string, text: string | number) =>
  emit("size", (now) => ({ ...now, sizes: { ...now.sizes, [name]: text } }));
const setChoice = (name: string, option: string) =>
  emit("size", (now) => ({ ...now, choices: { ...now.choices, [name]: option } }));
const problems = computed(() => read.value?.problems ?? []);
const panels = computed(() => read.value?.regions ?? []);
const area = (mm2: number) =>
  unit.value === "mm" ? `${Math.round(mm2 / 100)} cm²` : `${Math.round(mm2 / 645.16)} in²`;
</script>

<template>
  <section v-if="stroke" class="chosen">
    <h3>{{ stroke.name || stroke.kind }}</h3>
    <div class="pair">
      <label class="field"
        ><span class="word">It is a</span>
        <select
          name="stroke-kind"
          :value="stroke.kind"
          @change="setStroke({ kind: ($event.target as HTMLSelectElement).value as Stroke['kind'] })">
          <option v-for="(_, kind) in catalogue.data.value?.stroke_kinds" :key="kind" :value="kind">{{ kind }}</option>
        </select>
      </label>
      <label class="field"
        ><span class="word">Drawn</span>
        <select
          name="stroke-curve"
          :value="stroke.curve"
          @change="setStroke({ curve: ($event.target as HTMLSelectElement).value as Stroke['curve'] })">
          <option value="smooth">in a curve</option>
          <option value="straight">point to point</option>
        </select>
      </label>
    </div>
    <p class="soft small">{{ catalogue.data.value?.stroke_kinds[stroke.kind] }}</p>
    <div v-if="point" class="exact">
      <p class="soft small">Point {{ (index ?? 0) + 1 }} of {{ stroke.points.length }}</p>
      <div class="pair">
        <LengthField word="Up" name="point-above" :value="above" @change="setAbove" />
        <label class="field"
          ><span class="word">above the</span>
          <select
            name="point-station"
            :value="from"
            @change="((station = Number(($event.target as HTMLSelectElement).value)), (touched = true))">
            <option v-for="(s, i) in map.cast.stations" :key="s.name" :value="i">{{ s.name }}</option>
          </select>
        </label>
      </div>
      <LengthField :word="`To the wearer's left, ${side}`" name="point-aside" :value="aside" @change="setAside" />
    </div>
    <p v-else class="soft small">
      Press one of its points to place it in numbers; press the line twice to bend it there.
    </p>
    <div class="pair">
      <LengthField
        word="Lift off the body"
        name="stroke-lift"
        :value="Number(stroke.lift)"
        hint="A ridge, flare or keel along this line"
        @change="setStroke({ lift: number($event) ?? 0 })" />
      <LengthField
        v-if="Number(stroke.lift) > 0"
        word="fading over"
        name="stroke-width"
        :value="Number(stroke.lift_width)"
        @change="setStroke({ lift_width: number($event) ?? 40 })" />
    </div>
    <div class="acts">
      <button
        class="press small"
        :disabled="index === null || index === 0 || index === stroke.points.length - 1"
        title="Two lines that meet at this point"
        @click="draft.split()">
        Split here
      </button>
      <button
        class="press small"
        title="With the line of its kind that begins where this one ends"
        @click="draft.join()">
        Join on
      </button>
      <button class="press small" @click="draft.remove()">
        {{ index === null || stroke.points.length < 3 ? "Remove line" : "Remove point" }}
      </button>
    </div>
  </section>

  <section v-if="problems.length" class="trouble">
    <h3>Look here</h3>
    <ul class="plain-list">
      <li v-for="p in problems" :key="p.message + p.at">
        <button class="line" @click="p.strokes[0] && emit('choose', p.strokes[0].replace(/'$/, ''))">
          {{ say(p.message) }}
        </button>
      </li>
    </ul>
  </section>
  <section>
    <h3>{{ panels.length ? `${panels.length} ${panels.length === 1 ? "panel" : "panels"}` : "No panel yet" }}</h3>
    <ul v-if="panels.length" class="plain-list rows">
      <li v-for="r in panels" :key="r.number">
        <b class="figures">{{ r.number }}</b> <span>{{ r.twin ? "and its mirror image" : "single" }}</span>
        <span class="figures soft">{{ area(r.area) }}</span>
      </li>
    </ul>
    <p v-else class="soft">Draw outlines until they meet. What they enclose is a panel; a seam divides it.</p>
  </section>

  <section v-if="template?.drawn || own" class="sizes">
    <h3>{{ own ? "Drawn by hand" : `${template!.word}: sizes` }}</h3>
    <template v-if="own">
      <p class="soft">
        The template's sizes rest while your own lines hold. They move with the body's measures as before.
      </p>
      <button class="press small" title="Undo brings your lines back" @click="draft.templateAgain()">
        Lay the template again
      </button>
    </template>
    <template v-else-if="template">
      <label v-for="c in template.choices" :key="c.name" class="field" :title="c.how"
        ><span class="word">{{ c.name }}</span>
        <select
          :name="`choice-${c.name}`"
          :value="(piece.design.choices as Record<string, string>)[c.name] ?? c.options[0]"
          @change="setChoice(c.name, ($event.target as HTMLSelectElement).value)">
          <option v-for="o in c.options" :key="o" :value="o">{{ o }}</option>
        </select>
      </label>
      <div class="pair">
        <template v-for="s in sizes" :key="s.name">
          <label v-if="s.count" class="field" :title="s.how"
            ><span class="word">{{ s.name }}</span>
            <input
              v-says="value(s.name, s.usual)"
              class="line-in figures"
              type="number"
              :name="`size-${s.name}`"
              :min="s.least"
              :max="s.most"
              @change="setSize(s.name, Number(($event.target as HTMLInputElement).value))" />
          </label>
          <LengthField
            v-else
            :word="s.name"
            :hint="s.how"
            :name="`size-${s.name}`"
            :value="value(s.name, s.usual)"
            @change="setSize(s.name, $event)" />
        </template>
      </div>
    </template>
  </section>
  <section v-else class="sizes">
    <p class="soft">
      A plain shell: its ends, opening and foam are set where it is
      <RouterLink :to="{ name: 'flatten', query: { piece: piece.id } }">laid flat</RouterLink>. Move a point here and it
      becomes yours, line by line.
    </p>
  </section>
</template>

<style scoped>
section {
  display: grid;
  gap: 8px;
}

.pair {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px;
  align-items: end;
}

.field {
  min-width: 0;
}

.word::first-letter {
  text-transform: uppercase;
}

select,
.line-in {
  width: 100%;
  height: 38px;
  border: 1px solid var(--sheet-line);
  border-radius: 3px 8px 3px 7px;
  background: var(--sheet);
  color: inherit;
  font: inherit;
}

.line-in {
  padding: 0 8px;
}

.exact {
  display: grid;
  gap: 6px;
  padding: 8px 10px;
  background: var(--verdigris-pale);
}

.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}

.trouble {
  padding-left: 10px;
  border-left: 5px solid var(--ochre-fill);
}

.line {
  padding: 4px 0;
  border: 0;
  background: none;
  text-align: left;
  cursor: pointer;
}

.line:hover {
  text-decoration: underline;
}

.rows li {
  display: grid;
  grid-template-columns: 28px 1fr auto;
  gap: 6px;
  padding: 3px 0;
}
</style>
