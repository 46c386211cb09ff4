<script setup lang="ts">
import { computed, reactive, ref, watch } from "vue";
import { useRouter } from "vue-router";
import { api, take, type Build, type Schemas } from "@/api/client";
import { freshBuilds, useAsk, useCatalogue, useChange } from "@/api/queries";
import LengthField from "@/parts/LengthField.vue";
import { useUnit } from "@/parts/units";
import type { Trace } from "./useTraces";

type Template = NonNullable<Schemas["PanelsIn"]["template"]>;
/** From outlines to panels of a piece: which ones, whose, and whether they came off the skin. */
const props = defineProps<{ trace: Trace; build: Build }>();
const catalogue = useCatalogue();
const router = useRouter();
const { show } = useUnit();
const left = reactive(new Set<number>());
watch(
  () => props.trace.id,
  () => left.clear(),
);
const into = ref(0);
const template = ref("breastplate");
const name = ref("");
const grow = ref(false);
const station = ref("");
const girth = ref<string | null>(null);
const stations = useAsk({
  queryKey: ["stations", computed(() => props.build.id), template],
  queryFn: (how) =>
    take(
      api.GET("/api/builds/{build}/stations", {
        ...how,
        params: { path: { build: props.build.id }, query: { template: template.value as Template } },
      }),
    ),
});
/** Where a cast is widest tells best what it was laid on. */
watch(
  stations.data,
  (rows) => (station.value = rows?.length ? rows.reduce((a, b) => (a.girth > b.girth ? a : b)).name : ""),
);
const wrong = ref("");
const flats = computed(() => props.build.pieces.filter((p) => p.design.flat));
const used = computed(() => props.trace.shapes.filter((s) => !s.object && !left.has(s.number)).map((s) => s.number));
const word = computed(() => catalogue.data.value?.templates.find((t) => t.name === template.value)?.word ?? "");
const stopped = computed(() =>
  [props.trace.findings, ...props.trace.found.filter((f) => used.value.includes(f.number)).map((f) => f.findings)].some(
    (said) => said.some((x) => x.weight === "stop"),
  ),
);
const make = useChange(
  async () => {
    wrong.value = "";
    const made = await take(
      api.POST("/api/traces/{trace}/panels", {
        params: { path: { trace: props.trace.id } },
        body: {
          shapes: used.value,
          piece: into.value || null,
          name: name.value.trim() || `${word.value}, traced`,
          template: template.value as Template,
          grow: grow.value,
          station: station.value,
          girth: girth.value ? (girth.value as unknown as number) : null,
        },
      }),
    );
    await freshBuilds();
    await router.push({ name: "flatten", query: { piece: made.id } });
  },
  (refusal) => (wrong.value = refusal.fields[0]?.message ?? refusal.message),
);
</script>

<template>
  <section>
    <h3>Make panels of them</h3>
    <div class="which">
      <button
        v-for="s in trace.shapes.filter((x) => !x.object)"
        :key="s.number"
        class="press small figures"
        :aria-pressed="!left.has(s.number)"
        @click="left.has(s.number) ? left.delete(s.number) : left.add(s.number)">
        {{ s.number }} {{ s.name }}
      </button>
    </div>
    <label v-if="flats.length" class="field"
      ><span class="word">For</span>
      <select v-model="into" class="press" name="into">
        <option :value="0">a new piece</option>
        <option v-for="p in flats" :key="p.id" :value="p.id">{{ p.name }}, beside its panels</option>
      </select></label
    >
    <template v-if="!into">
      <label class="field"
        ><span class="word">What it is</span>
        <select v-model="template" class="press" name="traced-template">
          <option v-for="t in catalogue.data.value?.templates" :key="t.name" :value="t.name">{{ t.word }}</option>
        </select></label
      >
      <label class="field"
        ><span class="word">Name</span
        ><input v-model="name" class="press" name="traced-name" maxlength="120" :placeholder="`${word}, traced`"
      /></label>
      <label class="tick"
        ><input v-model="grow" type="checkbox" name="grow" /><span
          >They came off the skin: widen them for base layer, ease and half the foam</span
        ></label
      >
      <label class="field"
        ><span class="word">Taken round</span>
        <select v-model="station" class="press" name="cast-station">
          <option v-for="s in stations.data.value" :key="s.name" :value="s.name">
            {{ s.name }}, {{ show(s.girth) }}
          </option>
          <option value="">somewhere else</option>
        </select></label
      >
      <p v-if="station" class="words">Where the {{ station }} measures otherwise later on, the panels follow.</p>
      <LengthField
        v-else-if="grow"
        word="Round the body there"
        name="cast-girth"
        :value="null"
        empty="girth"
        @change="girth = $event" />
    </template>
    <p v-if="stopped" class="words stop">This cannot be trusted yet: see what is said of it.</p>
    <p v-if="wrong" class="words stop" role="alert">{{ wrong }}</p>
    <button
      class="press main"
      :disabled="!used.length || stopped || (grow && !into && !girth && !station)"
      @click="make.mutate(undefined)">
      Make {{ used.length === 1 ? "a panel" : `${used.length} panels` }} →
    </button>
  </section>
</template>

<style scoped>
section {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 10px;
  padding-top: 14px;
  border-top: 2px solid var(--sheet-line);
}

.which {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}

.tick {
  display: flex;
  gap: 8px;
  align-items: start;
}
</style>
