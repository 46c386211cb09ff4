<script setup lang="ts">
/** The measures of a wearer: dated sets, limbs and trunk, what is guessed and what is unlikely. */
import { ElDatePicker } from "element-plus/es/components/date-picker/index";
import { computed, ref, watch } from "vue";
import { api, seen, take, type MeasurementsIn } from "@/api/client";
import { saveSet, useAsk, useCatalogue, useChange, useHere, useWearers } from "@/api/queries";
import EmptySheet from "@/frame/EmptySheet.vue";
import MeasureChart from "@/parts/MeasureChart.vue";
import ScreenFrame from "@/frame/ScreenFrame.vue";
import AddPiece from "@/parts/AddPiece.vue";
import { useUnit } from "@/parts/units";
import LimbSheet from "./LimbSheet.vue";
import TorsoSheet from "./TorsoSheet.vue";
import { useDraft } from "./wearerDraft";

const { build, piece } = useHere();
const catalogue = useCatalogue();
const { show, say: words } = useUnit();
const wearerId = computed(() => build.value?.wearer_id ?? 0);
const enabled = computed(() => wearerId.value > 0);
const path = () => ({ params: { path: { wearer: wearerId.value } } });
const sets = useAsk({
  queryKey: ["sets", wearerId],
  queryFn: (how) => take(api.GET("/api/wearers/{wearer}/measurement-sets", { ...how, ...path() })),
  enabled,
});
const history = useAsk({
  queryKey: ["history", wearerId],
  queryFn: (how) => take(api.GET("/api/wearers/{wearer}/history", { ...how, ...path() })),
  enabled,
});

const chosen = ref(0);
const draft = useDraft(sets.data, chosen);
const segment = ref("");
let follows = 0;
watch(
  [piece, build, catalogue.data],
  () => {
    if (piece.value && piece.value.id !== follows) segment.value = piece.value.segment;
    else if (!segment.value && build.value && !build.value.pieces.length)
      segment.value = catalogue.data.value?.segments[0]?.name ?? "";
    follows = piece.value?.id ?? 0;
    for (const s of catalogue.data.value?.segments ?? [])
      for (const st of s.stations) draft.usualAt.value[`${s.name}.${st.name}`] = st.at;
  },
  { immediate: true },
);
const shownJson = computed(() => JSON.stringify(draft.shown.value ?? null));
const completed = useAsk({
  queryKey: ["completed", shownJson],
  queryFn: () => take(api.POST("/api/measurements/completed", { body: draft.shown.value as MeasurementsIn })),
  enabled: computed(() => Boolean(draft.shown.value)),
  placeholderData: (old: unknown) => old,
});
const csv = useChange(async (file: File) => {
  await take(api.POST("/api/wearers/{wearer}/measurements/from-csv", { ...path(), body: { text: await file.text() } }));
});
function pickCsv(event: Event) {
  const input = event.target as HTMLInputElement;
  if (input.files?.[0]) csv.mutate(input.files[0]);
  input.value = "";
}
const limb = computed(() => catalogue.data.value?.segments.find((s) => s.name === segment.value));
const today = () => {
  const now = new Date();
  const two = (n: number) => String(n).padStart(2, "0");
  return `${now.getFullYear()}-${two(now.getMonth() + 1)}-${two(now.getDate())}`;
};

const measure = useChange(async (from: MeasurementsIn | null) => {
  const body = { ...(from ?? { limbs: [], confirmed: [] }), taken_on: today() };
  const kept = await take(api.POST("/api/wearers/{wearer}/measurement-sets", { ...path(), body }));
  chosen.value = kept.id;
});
const remove = useChange((id: number) =>
  take(api.DELETE("/api/measurement-sets/{number}", { params: { path: { number: id } } })),
);
const wearers = useWearers();
const person = computed(() => wearers.data.value?.find((w) => w.id === wearerId.value));
const rename = useChange((change: { name?: string; note?: string }) =>
  take(
    api.PUT("/api/wearers/{wearer}", {
      ...path(),
      body: { name: person.value!.name, note: person.value!.note, ...change },
      headers: seen(person.value!),
    }),
  ),
);
const redate = useChange((day: string) =>
  saveSet(draft.kept.value!, { ...(draft.kept.value!.readings as MeasurementsIn), taken_on: day }),
);
const newest = computed(() => sets.data.value?.[0]);
const old = computed(() => newest.value && draft.kept.value && newest.value.id !== draft.kept.value.id);
const date = (iso: string) =>
  new Date(iso).toLocaleDateString(undefined, { timeZone: "UTC", day: "numeric", month: "short", year: "numeric" });
const charts = computed(() => (history.data.value?.measures ?? []).filter((m) => m.segment === segment.value));
const offScan = (name: string) => draft.shown.value?.scans.some((s) => s.segment === name);
const trunkKnown = computed(() => offScan("torso") || Object.keys(draft.shown.value?.torso?.girths ?? {}).length > 1);
const begun = (name: string) =>
  offScan(name) || draft.shown.value?.limbs.some((l) => l.segment === name && Object.keys(l.stations).length > 0);
const measured = (name: string) =>
  offScan(name) || draft.shown.value?.limbs.some((l) => l.segment === name && Object.keys(l.stations).length === 3);
</script>

<template>
  <ScreenFrame :title="build ? `${build.wearer}, measured` : 'Wearer'" about="Over the base layer. Saved at once.">
    <template #tools>
      <template v-if="draft.kept.value">
        <RouterLink class="press" :to="{ name: 'scan', query: piece ? { piece: piece.id } : {} }"
          >Off a scan</RouterLink
        >
        <select
          class="press"
          :value="draft.kept.value.id"
          aria-label="Measurement set"
          @change="chosen = Number(($event.target as HTMLSelectElement).value)">
          <option v-for="s in sets.data.value" :key="s.id" :value="s.id">{{ date(s.readings.taken_on) }}</option>
        </select>
        <button class="press main" @click="measure.mutate(newest ? (newest.readings as MeasurementsIn) : null)">
          Measure again today
        </button>
      </template>
    </template>

    <EmptySheet v-if="sets.isSuccess.value && !sets.data.value?.length" title="Nobody has been measured yet">
      <p>
        Take a soft tape. Put on what will be worn under the armour. Three girths and two distances make one limb; it
        takes five minutes.
      </p>
      <template #do
        ><button class="press main" @click="measure.mutate(null)">Start measuring today</button>
        <RouterLink class="press" :to="{ name: 'scan' }">Begin with a scan</RouterLink></template
      >
    </EmptySheet>

    <template v-else-if="draft.kept.value && catalogue.data.value && (limb || segment === 'torso')">
      <p v-if="old" class="words">
        This is an older set. Patterns are made from the newest, of {{ date(newest!.readings.taken_on) }}.
      </p>
      <div class="tabs" role="tablist">
        <button
          role="tab"
          :aria-selected="segment === 'torso'"
          :class="{ on: segment === 'torso' }"
          @click="segment = 'torso'">
          Torso <span v-if="trunkKnown" title="measured">✓</span>
        </button>
        <button
          v-for="s in catalogue.data.value.segments"
          :key="s.name"
          role="tab"
          :aria-selected="s.name === segment"
          :class="{ on: s.name === segment }"
          @click="segment = s.name">
          {{ s.word }} <span v-if="measured(s.name)" title="measured">✓</span>
        </button>
      </div>
      <div v-if="draft.questions.value.length" class="words question" role="alert">
        <div>
          <p v-for="q in draft.questions.value" :key="q.key">
            <b>{{ words(q.message) }}</b>
          </p>
          <p class="soft">Nothing is saved until you say.</p>
        </div>
        <div class="answers">
          <button class="press" @click="draft.forget()">Let me fix it</button>
          <button class="press main" @click="draft.confirm()">It is right, keep it</button>
        </div>
      </div>
      <div
        v-if="build && !build.pieces.length && (segment === 'torso' ? trunkKnown : begun(segment))"
        class="next sheet">
        <h3>Measured. Which piece comes first?</h3>
        <AddPiece :build="build.id" />
      </div>
      <p v-if="offScan(segment)" class="words">
        The {{ segment }} comes from a scan; its tape readings rest.
        <RouterLink :to="{ name: 'scan', query: piece ? { piece: piece.id } : {} }">Look at the scan</RouterLink>
      </p>
      <LimbSheet v-if="limb" :segment="limb" :draft="draft" :guesses="completed.data.value?.limbs" />
      <TorsoSheet v-else :draft="draft" :completed="completed.data.value" />
    </template>

    <template v-if="draft.kept.value && (limb || segment === 'torso')" #notes>
      <section>
        <h3>Since last time</h3>
        <ul v-if="history.data.value?.changes.length" class="plain-list changes">
          <li v-for="c in history.data.value.changes" :key="c.message">{{ words(c.message) }}</li>
        </ul>
        <RouterLink
          v-if="(sets.data.value?.length ?? 0) > 1 && build?.pieces.length"
          class="press"
          :to="{ name: 'regrade', params: { build: build.id } }"
          >What still fits?</RouterLink
        >
        <p v-if="!history.data.value?.changes.length" class="soft">
          {{
            (sets.data.value?.length ?? 0) > 1
              ? "No girth changed."
              : "The first set. Measure again before the next costume: bodies change."
          }}
        </p>
      </section>
      <section>
        <h3>{{ limb?.word ?? "Torso" }} over time</h3>
        <div v-for="m in charts" :key="m.key" class="over">
          <span
            >{{ m.station }}<span v-if="m.side !== 'both'" class="soft"> {{ m.side }}</span></span
          >
          <b class="figures">{{ show(m.girths[m.girths.length - 1]) }}</b>
          <MeasureChart :dates="m.dates" :girths="m.girths" :word="m.station" />
        </div>
        <p v-if="!charts.length" class="soft">Nothing measured here yet.</p>
      </section>
      <section class="set">
        <label class="field"
          ><span class="word">The wearer's name</span>
          <input
            v-says="person?.name"
            class="line"
            maxlength="120"
            name="wearer"
            @change="
              ($event.target as HTMLInputElement).value.trim() &&
              rename.mutate({ name: ($event.target as HTMLInputElement).value.trim() })
            " />
        </label>
        <label class="field"
          ><span class="word">Worn while measuring, allergies, anything</span>
          <textarea
            v-says="person?.note"
            class="line"
            rows="2"
            maxlength="2000"
            @change="rename.mutate({ note: ($event.target as HTMLTextAreaElement).value })" />
        </label>
        <label class="field"
          ><span class="word">This set was taken on</span>
          <el-date-picker
            :model-value="draft.kept.value.readings.taken_on"
            type="date"
            value-format="YYYY-MM-DD"
            format="D MMM YYYY"
            :clearable="false"
            @update:model-value="redate.mutate(String($event))" />
        </label>
        <a class="press small" :href="`/api/wearers/${wearerId}/measurements.csv`" download="measurements.csv"
          >All sets as CSV</a
        >
        <label class="press small"
          ><input class="file" type="file" name="csv" accept=".csv,text/csv" @change="pickCsv" />Bring in a CSV</label
        >
        <button
          class="press small"
          :disabled="(sets.data.value?.length ?? 0) < 2"
          title="Undo brings it back"
          @click="remove.mutate(draft.kept.value.id)">
          Remove this set
        </button>
      </section>
    </template>
  </ScreenFrame>
</template>

<style scoped>
.tabs {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}

.tabs button {
  min-height: 42px;
  padding: 4px 9px;
  border: 0;
  border-bottom: 3px solid transparent;
  background: none;
  font: 700 16px var(--slab);
  cursor: pointer;
}

.tabs .on {
  border-color: var(--verdigris);
  background: var(--sheet);
}

.question {
  flex-wrap: wrap;
  align-items: center;
  justify-content: space-between;
}

.answers {
  display: flex;
  gap: 8px;
}

.next {
  display: grid;
  gap: 12px;
  padding: 18px 22px;
}

.changes li {
  padding: 3px 0;
}

.over {
  display: grid;
  grid-template-columns: 1fr auto;
  padding: 8px 0 2px;
  border-bottom: 1px solid var(--sheet-line);
}

.over :deep(.chart) {
  grid-column: 1 / -1;
}

.set {
  display: grid;
  gap: 8px;
  justify-items: start;
}

.file {
  position: absolute;
  width: 1px;
  height: 1px;
  opacity: 0;
}

.set .field {
  width: 100%;
}

.line {
  width: 100%;
  padding: 6px 8px;
  border: 1px solid var(--sheet-line);
  border-radius: 3px 8px 3px 7px;
  background: transparent;
  color: inherit;
  font: inherit;
  resize: vertical;
}
</style>
