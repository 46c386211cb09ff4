<script setup lang="ts">
import { computed, reactive, ref } from "vue";
import type { DesignIn, Piece, Schemas } from "@/api/client";
import { say as tell } from "@/api/queries";
import { typed, useUnit, weight } from "@/parts/units";
import MotifField from "./MotifField.vue";
import { made, type Bench } from "./useBench";

/** What goes on a piece beside its panels: each brings its own steps to the order of work. */
const props = defineProps<{ piece: Piece; bench: Bench; kinds: readonly Schemas["DetailKindOut"][] }>();
const emit = defineEmits<{ change: [change: (now: DesignIn) => DesignIn] }>();
type Detail = Schemas["Detail-Input"];
const { show, unit } = useUnit();
const rows = computed(() => props.piece.design.making.details);
const fresh = reactive({
  kind: "trim",
  name: "",
  count: 1,
  length: "",
  size: "",
  weight: "",
  edge: "",
  apart: false,
  flush: false,
  covers: false,
});
/** Kinds that can be cut from film by a drawing. */
const FILM = ["stencil", "decal"];
const motif = ref<Schemas["MotifOut"] | null>(null);
function put() {
  const name = fresh.name.trim() || fresh.kind;
  const keys = new Set(rows.value.map((d) => d.key));
  const stem =
    name
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, "-")
      .replace(/^-+|-+$/g, "")
      .slice(0, 30) || "detail";
  let key = stem;
  for (let n = 2; keys.has(key); n++) key = `${stem}-${n}`;
  const count = Math.round(Number(fresh.count));
  if (!(count >= 1)) return tell("How many is a whole number of at least 1.", "error");
  const row = {
    key,
    kind: fresh.kind,
    name,
    count,
    edge: fresh.edge,
    apart: fresh.apart,
    flush: fresh.flush,
    covers: fresh.covers,
    ...(fresh.length.trim() ? { length: typed(fresh.length, unit.value) } : {}),
    ...(fresh.size.trim() ? { size: typed(fresh.size, unit.value) } : {}),
    ...(motif.value && FILM.includes(fresh.kind) ? { motif: motif.value.rings } : {}),
    ...(fresh.weight.trim() ? { weight: fresh.weight.trim() } : {}),
  } as Detail;
  emit(
    "change",
    made((now) => ({ details: [...(now.details ?? []), row] })),
  );
  Object.assign(fresh, { name: "", count: 1, length: "", size: "", weight: "", edge: "" });
  motif.value = null;
}
const drop = (key: string) =>
  emit(
    "change",
    made((now) => ({ details: (now.details ?? []).filter((d) => d.key !== key) })),
  );
const words = (d: (typeof rows.value)[number]) =>
  [
    d.count > 1 ? `${d.count} of them` : "",
    d.length ? `${show(d.length)} long` : "",
    d.size ? `${show(d.size)} across` : "",
    d.motif?.length ? "cut by its drawing" : "",
    d.weight ? `${weight(d.weight, unit.value)} each` : "",
    d.edge ? `on ${d.edge}` : "",
    d.apart ? "painted apart" : "",
    d.flush ? "lies flush" : "",
    d.covers ? "hides the closure" : "",
  ]
    .filter(Boolean)
    .join(", ");
</script>

<template>
  <section class="sheet" aria-label="What goes on it">
    <h3>What goes on it</h3>
    <p class="soft">Trims, collars, rivets, magnets, gems: each brings its steps to the right place in the order.</p>
    <p v-for="d in rows" :key="d.key" class="row">
      <span class="what">
        <b>{{ d.name }}</b>
        <span class="soft">{{ [d.kind, words(d)].filter(Boolean).join(", ") }}</span>
      </span>
      <button class="press plain small" :aria-label="`Take out ${d.name}`" @click="drop(d.key)">Take out</button>
    </p>
    <form class="give" @submit.prevent="put">
      <label class="field"
        ><span class="word">What</span>
        <select v-model="fresh.kind" class="press" name="detail-kind">
          <option v-for="k in kinds" :key="k.key" :value="k.key">{{ k.key }}</option>
        </select>
      </label>
      <label class="field"
        ><span class="word">Its name</span
        ><input v-model="fresh.name" class="press wide" name="detail-name" maxlength="80"
      /></label>
      <label class="field"
        ><span class="word">How many</span><input v-model="fresh.count" class="press figures" name="detail-count"
      /></label>
      <label class="field"
        ><span class="word">Long, {{ unit }}</span
        ><input v-model="fresh.length" class="press figures" name="detail-length"
      /></label>
      <label class="field"
        ><span class="word">Across, {{ unit }}</span
        ><input v-model="fresh.size" class="press figures" name="detail-size"
      /></label>
      <label class="field"
        ><span class="word">Weighs, g, with what is in it</span
        ><input v-model="fresh.weight" class="press figures" name="detail-weight"
      /></label>
      <label class="field"
        ><span class="word">Fixed to</span>
        <select v-model="fresh.edge" class="press" name="detail-edge">
          <option value="">no edge</option>
          <option v-for="e in bench.edges" :key="e" :value="e">{{ e }}</option>
        </select>
      </label>
      <label class="tick"><input v-model="fresh.apart" type="checkbox" name="detail-apart" /> painted apart</label>
      <label class="tick"><input v-model="fresh.flush" type="checkbox" /> lies flush</label>
      <label class="tick"><input v-model="fresh.covers" type="checkbox" /> hides the closure</label>
      <MotifField v-if="FILM.includes(fresh.kind)" v-model="motif" :wide="fresh.size" />
      <button class="press main" type="submit">Put it on</button>
    </form>
  </section>
</template>

<style scoped>
section {
  display: grid;
  gap: 10px;
  padding: 16px 20px;
}

.row {
  display: flex;
  align-items: center;
  justify-content: space-between;
  gap: 12px;
  min-height: 40px;
  border-bottom: 1px solid var(--sheet-line);
}

.what {
  display: grid;
}

.give input.press {
  width: 84px;
}

.give input.wide {
  width: 180px;
}
</style>
