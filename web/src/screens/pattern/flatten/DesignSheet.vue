<script setup lang="ts">
import { computed, ref } from "vue";
import { api, take, type DesignIn, type Piece } from "@/api/client";
import { useAsk, useCatalogue, useHere } from "@/api/queries";
import LengthField from "@/parts/LengthField.vue";
import { useUnit } from "@/parts/units";
import GirthFields from "./GirthFields.vue";

/** What the maker decides about a piece; every change redraws the panel. */
const props = defineProps<{ piece: Piece; refusal: { field: string; message: string } | null }>();
const emit = defineEmits<{ change: [how: (now: DesignIn) => DesignIn] }>();
const catalogue = useCatalogue();
const { build } = useHere();
const { show, unit } = useUnit();
const open = ref("foam");

const d = computed(() => props.piece.design as DesignIn & Piece["design"]);
const sheets = computed(() => (catalogue.data.value?.sheets ?? []).filter((s) => s.kinds.includes(d.value.foam_kind)));
const wearerId = computed(() => build.value?.wearer_id ?? 0);
const sets = useAsk({
  queryKey: ["sets", wearerId],
  queryFn: (how) =>
    take(api.GET("/api/wearers/{wearer}/measurement-sets", { ...how, params: { path: { wearer: wearerId.value } } })),
  enabled: computed(() => wearerId.value > 0),
});
const newest = computed(() => sets.data.value?.[0]);
function set(change: Partial<DesignIn>) {
  emit("change", (now) => ({ ...now, ...change }));
}

/** Other pieces of the same part of the body. */
const beneath = computed(() =>
  (build.value?.pieces ?? []).filter(
    (p) => p.id !== props.piece.id && p.segment === props.piece.segment && !p.design.solid,
  ),
);
const lieOver = (name: string, on: boolean) =>
  emit("change", (now) => ({ ...now, over: [...(now.over ?? []).filter((x) => x !== name), ...(on ? [name] : [])] }));
const pad = (station: string, text: string) =>
  emit("change", (now) => {
    const all = Object.entries({ ...now.padding, [station]: text }).filter(([, v]) => v && v !== "0");
    return { ...now, padding: Object.fromEntries(all) };
  });

function setEnd(end: "lower" | "upper", change: object) {
  emit("change", (now) => ({ ...now, [end]: { ...now[end], ...change } }));
}

const wrong = (field: string) => (props.refusal?.field.includes(field) ? props.refusal.message : undefined);
const num = (v: unknown) => (typeof v === "number" ? v : null);
const ENDS = computed(() => [
  { key: "lower" as const, word: `At the ${props.piece.stations[0]}`, usual: props.piece.usual_insets[0] },
  {
    key: "upper" as const,
    word: `At the ${props.piece.stations[props.piece.stations.length - 1]}`,
    usual: props.piece.usual_insets[1],
  },
]);
const CLOSURES = {
  none: "elastic or nothing",
  lacing: "lacing",
  "hook-and-loop": "hook-and-loop",
  buckles: "buckles",
  zip: "zip",
};
const groups = computed(() => [
  {
    key: "foam",
    word: "Foam and ease",
    about: `${show(d.value.foam)} ${d.value.foam_kind}, ease ${show(Number(d.value.ease))}`,
  },
  ...(drawn.value ? [] : SHELL.value),
  { key: "girths", word: "Girths", about: newest.value ? `measured ${newest.value.readings.taken_on}` : "" },
]);
const drawn = computed(
  () =>
    Boolean(d.value.ink) || Boolean(catalogue.data.value?.templates.find((t) => t.name === d.value.template)?.drawn),
);
const single = computed(() => ["torso", "neck"].includes(props.piece.segment));
const SHELL = computed(() => [
  {
    key: "back",
    word: "Back and sides",
    about: d.value.back === "closed" ? "closed" : `open, ${CLOSURES[d.value.closure ?? "none"]}`,
  },
  { key: "ends", word: "Ends", about: [d.value.lower, d.value.upper].map((e) => e.shape).join(" and ") },
]);
</script>

<template>
  <div class="design">
    <p
      v-if="
        refusal &&
        !['foam', 'base', 'ease', 'over', 'gap', 'inset', 'point', 'flare'].some((f) => refusal!.field.includes(f))
      "
      class="words stop">
      {{ refusal.message }}
    </p>
    <p v-if="drawn" class="soft small lines">
      Its lines are drawn: change them, and the template's sizes, on the
      <RouterLink :to="{ name: 'ink', query: { piece: piece.id } }">ink screen</RouterLink>.
    </p>
    <section v-for="g in groups" :key="g.key" class="group">
      <button class="head" :aria-expanded="open === g.key" @click="open = open === g.key ? '' : g.key">
        <b>{{ g.word }}</b><span v-if="open !== g.key" class="soft small">{{ g.about }}</span>
      </button>
      <div v-if="open === g.key" class="fields">
        <template v-if="g.key === 'foam'">
          <label class="field wide"
            ><span class="word">Foam</span>
            <select
              name="foam-kind"
              :value="d.foam_kind"
              @change="
                set({ layers: [], foam_kind: ($event.target as HTMLSelectElement).value as DesignIn['foam_kind'] })
              ">
              <option v-for="(words, kind) in catalogue.data.value?.foam_kinds" :key="kind" :value="kind">
                {{ words.split(",")[0].replace(" with one textured face", "") }}
              </option>
            </select>
          </label>
          <label class="field wide"
            ><span class="word">Sheet</span>
            <select
              name="foam"
              :value="d.foam"
              @change="set({ layers: [], foam: Number(($event.target as HTMLSelectElement).value) })">
              <option
                v-for="s in sheets.filter((s) => !d.layers.length || s.thickness !== d.foam)"
                :key="s.thickness"
                :value="s.thickness">
                {{ unit === "in" && s.inch ? `${s.inch} in` : show(s.thickness) }}: {{ s.use }}
              </option>
              <option v-if="d.layers.length || !sheets.some((s) => s.thickness === d.foam)" :value="d.foam">
                {{ d.layers.length ? d.layers.map((l) => show(Number(l.thickness))).join(" + ") : show(d.foam) }}
              </option>
            </select>
          </label>
          <label v-if="drawn && !single" class="field wide"
            ><span class="word">For</span>
            <select
              name="side"
              :value="d.side"
              @change="set({ side: ($event.target as HTMLSelectElement).value as DesignIn['side'] })">
              <option value="both">both sides</option>
              <option value="left">left only</option>
              <option value="right">right only</option>
            </select>
          </label>
          <LengthField
            word="Base layer"
            name="base"
            :value="num(d.base_layer)"
            :error="wrong('base')"
            @change="set({ base_layer: $event })" />
          <LengthField
            word="Ease"
            name="ease"
            hint="Air between base layer and foam"
            :value="num(d.ease)"
            :error="wrong('ease')"
            @change="set({ ease: $event })" />
          <details class="wide under" :open="Boolean(d.over.length || Object.keys(d.padding).length)">
            <summary>What lies beneath</summary>
            <label v-for="p in beneath" :key="p.id" class="check">
              <input
                type="checkbox"
                :name="`over-${p.id}`"
                :checked="d.over.includes(p.name)"
                @change="lieOver(p.name, ($event.target as HTMLInputElement).checked)" />
              over {{ p.name }}
            </label>
            <p v-if="wrong('over')" class="small words stop">{{ wrong("over") }}</p>
            <p class="small soft">Padding under it, by station:</p>
            <div class="fields">
              <LengthField
                v-for="s in piece.stations"
                :key="s"
                :word="s"
                :name="`padding-${s}`"
                :value="num(d.padding[s]) ?? 0"
                @change="pad(s, $event)" />
            </div>
          </details>
          <p v-if="Object.keys(d.ease_at ?? {}).length" class="small soft wide">
            Fitting changed:
            {{
              Object.entries(d.ease_at ?? {})
                .map(([s, v]) => `${s} ${Number(v) > 0 ? "+" : ""}${show(Number(v))}`)
                .join(", ")
            }}
          </p>
        </template>
        <template v-else-if="g.key === 'back'">
          <label class="field"
            ><span class="word">For</span>
            <select
              name="side"
              :value="d.side"
              @change="set({ side: ($event.target as HTMLSelectElement).value as DesignIn['side'] })">
              <option value="both">both sides</option>
              <option value="left">left only</option>
              <option value="right">right only</option>
            </select>
          </label>
          <label class="field"
            ><span class="word">Back</span>
            <select
              name="back"
              :value="d.back"
              @change="set({ back: ($event.target as HTMLSelectElement).value as DesignIn['back'] })">
              <option value="open">open</option>
              <option value="closed">closed, glued</option>
            </select>
          </label>
          <template v-if="d.back === 'open'">
            <label class="field"
              ><span class="word">Closure</span>
              <select
                name="closure"
                :value="d.closure"
                @change="
                  set({ closure: ($event.target as HTMLSelectElement).value as DesignIn['closure'], gap: null })
                ">
                <option v-for="(word, key) in CLOSURES" :key="key" :value="key">{{ word }}</option>
              </select>
            </label>
            <LengthField
              word="Opening"
              name="gap"
              :value="num(d.gap) ?? catalogue.data.value?.usual_gap[d.closure ?? 'none'] ?? null"
              :error="wrong('gap')"
              @change="set({ gap: $event === '' ? null : $event })" />
          </template>
          <label class="field wide"
            ><span class="word">Pattern shows</span>
            <select
              name="face"
              :value="d.drawn_face"
              @change="set({ drawn_face: ($event.target as HTMLSelectElement).value as DesignIn['drawn_face'] })">
              <option value="outer">the outer face</option>
              <option value="inner">the inner face, to trace on the back</option>
            </select>
          </label>
        </template>
        <template v-else-if="g.key === 'ends'">
          <template v-for="e in ENDS" :key="e.key">
            <label class="field wide"
              ><span class="word">{{ e.word }}</span>
              <select
                :name="`${e.key}-shape`"
                :value="d[e.key].shape"
                @change="setEnd(e.key, { shape: ($event.target as HTMLSelectElement).value })">
                <option value="straight">straight</option>
                <option value="pointed">pointed at the front</option>
              </select>
            </label>
            <LengthField
              word="Kept free"
              :name="`${e.key}-inset`"
              hint="From the station to the edge"
              :value="num(d[e.key].inset) ?? e.usual"
              :error="wrong(`${e.key}.inset`)"
              @change="setEnd(e.key, { inset: $event === '' ? null : $event })" />
            <LengthField
              v-if="d[e.key].shape === 'pointed'"
              word="Point"
              :name="`${e.key}-point`"
              :value="num(d[e.key].point)"
              :error="wrong(`${e.key}.point`)"
              @change="setEnd(e.key, { point: $event })" />
            <LengthField
              word="Flare"
              :name="`${e.key}-flare`"
              hint="How far the rim stands off"
              :value="num(d[e.key].flare)"
              :error="wrong(`${e.key}.flare`)"
              @change="setEnd(e.key, { flare: $event })" />
          </template>
        </template>
        <template v-else>
          <GirthFields :piece="piece" :newest="newest" />
        </template>
      </div>
    </section>
  </div>
</template>

<style scoped>
.group {
  border-bottom: 1px solid var(--tape-deep);
}

.head {
  display: grid;
  width: 100%;
  padding: 9px 2px;
  border: 0;
  background: none;
  text-align: left;
  cursor: pointer;
}

.head b::before {
  content: "+";
  display: inline-block;
  width: 16px;
  color: var(--verdigris);
}

.head[aria-expanded="true"] b::before {
  content: "–";
}

.head .soft {
  padding-left: 16px;
}

.fields {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 10px;
  padding: 2px 2px 14px;
}

.wide {
  grid-column: 1 / -1;
}

select {
  width: 100%;
  height: 38px;
  padding: 0 6px;
  border: 1px solid var(--sheet-line);
  border-radius: 3px 8px 3px 7px;
  background: var(--sheet);
  color: inherit;
  font: inherit;
}

.under summary {
  min-height: 32px;
  cursor: pointer;
}

.check {
  display: flex;
  gap: 8px;
  align-items: center;
  min-height: 36px;
}
</style>
