<script setup lang="ts">
import { computed, ref } from "vue";
import type { Schemas } from "@/api/client";
import { minutes } from "@/parts/units";
import type { Layer, Painted, Stack } from "./useFinish";

/** Layers of one finish in the order in which they go on; every rule is checked as they are laid. */
const props = defineProps<{ painted: Painted; stack: Stack; craft: Schemas["CraftOut"] }>();
const emit = defineEmits<{ change: [next: (old: Stack) => Stack] }>();
const layers = computed(() => (props.stack.layers ?? []) as Layer[]);
const kind = (key: string) => props.craft.layers.find((k) => k.key === key)!;
const against = (n: number) => props.painted.findings.filter((f) => f.at === n + 1);
const whole = computed(() => props.painted.findings.filter((f) => f.at === 0));
const put = (how: (rows: Layer[]) => Layer[]) =>
  emit("change", (old) => ({ ...old, layers: how([...((old.layers ?? []) as Layer[])]) }));
const set = (n: number, more: Partial<Layer>) => put((rows) => rows.map((r, k) => (k === n ? { ...r, ...more } : r)));
const swap = (n: number, by: number) =>
  put((rows) => {
    const [row] = rows.splice(n, 1);
    rows.splice(n + by, 0, row);
    return rows;
  });
const fresh = ref("");
function add() {
  if (!fresh.value) return;
  const row = { kind: fresh.value } as Layer;
  put((rows) => [...rows, row]);
  fresh.value = "";
}
function number(event: Event, n: number, key: "coats" | "recoat" | "before_next") {
  const text = (event.target as HTMLInputElement).value.trim().replace(",", ".");
  const value = Number(text);
  set(n, {
    [key]: text && value >= 0 ? (key === "coats" ? Math.max(1, Math.round(value)) : value) : null,
  } as Partial<Layer>);
}
const open = ref(-1);
/** What is done with a layer, in a line. */
function told(n: number) {
  const c = props.painted.coats[n];
  if (!c) return "";
  const between = c.coats > 1 ? `${minutes(c.recoat)} between` : "";
  const ml = c.ml ? `${Math.round(c.ml)} ml` : "";
  const times = c.coats > 1 ? `${c.coats} coats` : "once";
  const line = layers.value[n].taped ? "ends at tape" : "";
  return [times, `by ${c.tool}`, between, `then ${minutes(c.settle)}`, ml, line].filter(Boolean).join(" · ");
}
const GROUPS = {
  prepare: "Prepare",
  primer: "Primers",
  smooth: "Smooth",
  colour: "Colour",
  metal: "Metal",
  weather: "Weathering",
  clear: "Clear",
};
const ON = ["bare foam", "sealed foam", "thermoplastic", "printed part", "vinyl", "woven sheet"] as const;
const weathering = (key: Schemas["WeatheringOut"]["key"]) =>
  emit("change", (old) => {
    const rows = old.weathering ?? [];
    return { ...old, weathering: rows.includes(key) ? rows.filter((w) => w !== key) : [...rows, key] };
  });
</script>

<template>
  <div class="editor">
    <p v-for="f in whole" :key="f.rule" class="words" :class="{ stop: f.hard }">
      <span
        >{{ f.words }} <b>{{ f.way_out }}</b></span
      >
    </p>
    <label class="on"
      ><span class="soft">On</span>
      <select
        class="press"
        name="stack-on"
        :value="stack.on ?? 'sealed foam'"
        @change="emit('change', (old) => ({ ...old, on: ($event.target as HTMLSelectElement).value as never }))">
        <option v-for="o in ON" :key="o" :value="o">{{ o }}</option>
      </select>
    </label>
    <ol class="plain-list">
      <li v-for="(l, n) in layers" :key="n" :class="{ stop: against(n).some((f) => f.hard) }">
        <div class="row">
          <input
            v-says="l.colour ?? kind(l.kind).colour"
            class="dab"
            type="color"
            :aria-label="`Colour of layer ${n + 1}`"
            @change="set(n, { colour: ($event.target as HTMLInputElement).value })" />
          <button class="what" :aria-expanded="open === n" @click="open = open === n ? -1 : n">
            <span
              ><b>{{ n + 1 }}. {{ kind(l.kind).word }}</b> <span class="soft">{{ l.name }}</span></span
            >
            <span class="figures told">{{ told(n) }}</span>
          </button>
          <button class="press plain small" :disabled="!n" :aria-label="`Layer ${n + 1} earlier`" @click="swap(n, -1)">
            ↑
          </button>
          <button
            class="press plain small"
            :disabled="n === layers.length - 1"
            :aria-label="`Layer ${n + 1} later`"
            @click="swap(n, 1)">
            ↓
          </button>
          <button
            class="press plain small"
            :aria-label="`Take out layer ${n + 1}`"
            @click="put((rows) => rows.filter((_, k) => k !== n))">
            Take out
          </button>
        </div>
        <p v-for="f in against(n)" :key="f.rule" class="words" :class="{ stop: f.hard }" :data-rule="f.rule">
          <span
            >{{ f.words }} <b>{{ f.way_out }}</b></span
          >
        </p>
        <div v-if="open === n" class="give">
          <label class="field"
            ><span class="word">Colour's name</span
            ><input
              v-says="l.name"
              class="press wide"
              :name="`layer-${n + 1}-name`"
              @change="set(n, { name: ($event.target as HTMLInputElement).value })"
          /></label>
          <label class="field"
            ><span class="word">Coats</span
            ><input
              v-says="l.coats ?? ''"
              class="press figures"
              :name="`layer-${n + 1}-coats`"
              :placeholder="String(kind(l.kind).coats[0])"
              @change="number($event, n, 'coats')"
          /></label>
          <label class="field"
            ><span class="word">With</span>
            <select
              class="press"
              :value="l.tool ?? ''"
              @change="set(n, { tool: (($event.target as HTMLSelectElement).value || null) as never })">
              <option value="">usual: {{ kind(l.kind).tools[0] }}</option>
              <option v-for="t in ['brush', 'spray', 'airbrush', 'cloth']" :key="t" :value="t">{{ t }}</option>
            </select>
          </label>
          <label class="field"
            ><span class="word">Faces</span>
            <select
              class="press"
              :value="l.faces ?? 'outside'"
              @change="set(n, { faces: ($event.target as HTMLSelectElement).value as never })">
              <option v-for="t in ['outside', 'inside', 'both']" :key="t" :value="t">{{ t }}</option>
            </select>
          </label>
          <label class="field"
            ><span class="word">Recoat, min</span
            ><input
              v-says="l.recoat ?? ''"
              class="press figures"
              :placeholder="String(kind(l.kind).recoat)"
              @change="number($event, n, 'recoat')"
          /></label>
          <label class="field"
            ><span class="word">Before the next, min</span
            ><input
              v-says="l.before_next ?? ''"
              class="press figures"
              :name="`layer-${n + 1}-settle`"
              :placeholder="String(kind(l.kind).settle)"
              @change="number($event, n, 'before_next')"
          /></label>
          <label class="tick"
            ><input
              type="checkbox"
              :name="`layer-${n + 1}-taped`"
              :checked="l.taped"
              @change="set(n, { taped: ($event.target as HTMLInputElement).checked })" />
            ends at a taped line</label
          >
          <label class="tick"
            ><input
              type="checkbox"
              :checked="l.tested"
              @change="set(n, { tested: ($event.target as HTMLInputElement).checked })" />
            tested on a scrap</label
          >
        </div>
      </li>
    </ol>
    <form class="give" @submit.prevent="add">
      <label class="field"
        ><span class="word">Another layer on top</span>
        <select v-model="fresh" class="press" name="layer-new">
          <option value="">choose…</option>
          <optgroup v-for="(word, g) in GROUPS" :key="g" :label="word">
            <option v-for="k in craft.layers.filter((x) => x.group === g)" :key="k.key" :value="k.key">
              {{ k.word }}
            </option>
          </optgroup>
        </select>
      </label>
      <button class="press main" type="submit">Lay it on</button>
    </form>
    <div class="weather">
      <span class="soft">Weathering</span>
      <button
        v-for="w in craft.weatherings"
        :key="w.key"
        class="press small"
        :aria-pressed="(stack.weathering ?? []).includes(w.key)"
        :title="`${w.place}. ${w.stop}`"
        @click="weathering(w.key)">
        {{ w.word }}
      </button>
    </div>
    <p
      v-for="w in craft.weatherings.filter((x) => (stack.weathering ?? []).includes(x.key))"
      :key="w.key"
      class="soft small">
      <b>{{ w.word }}</b>: {{ w.place }}. {{ w.how }} {{ w.stop }}
    </p>
  </div>
</template>

<style scoped>
.editor {
  display: grid;
  gap: 10px;
}

.on,
.row,
.weather {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 10px;
  align-items: center;
}

li {
  display: grid;
  gap: 6px;
  padding: 6px 0;
  border-bottom: 1px solid var(--sheet-line);
}

li.stop {
  border-left: 5px solid var(--oxide);
  padding-left: 8px;
}

.what {
  display: grid;
  flex: 1 1 210px;
  min-height: 52px;
  align-content: center;
  border: 0;
  background: none;
  text-align: left;
  font-size: 18px;
  cursor: pointer;
}

.told {
  font-size: 16px;
  color: var(--graphite-soft);
}

.dab {
  width: 40px;
  height: 40px;
  padding: 2px;
  border: 1.5px solid var(--graphite-soft);
  background: var(--sheet);
  cursor: pointer;
}

.give input.wide {
  width: 150px;
}
</style>
