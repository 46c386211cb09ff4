<script setup lang="ts">
/** Pages at full size, files for a cutter, the record card. */
import { computed, ref } from "vue";
import { api, take, type Schemas, type Settings } from "@/api/client";
import { useAsk, useCatalogue, useChange, useHere, useSettings, useSettingsChange } from "@/api/queries";
import PageMap from "@/canvas/PageMap.vue";
import LengthField from "@/parts/LengthField.vue";
import NoPattern from "@/frame/NoPattern.vue";
import ScreenFrame from "@/frame/ScreenFrame.vue";
import { useUnit } from "@/parts/units";

const { piece, pieceId } = useHere();
const { show, unit, say } = useUnit();
const catalogue = useCatalogue();
const settings = useSettings();
const setSettings = useSettingsChange();
const paper = computed(() => settings.data.value?.paper ?? "A4");
const scale = computed(() => settings.data.value?.print_scale ?? 1);
const fold = ref(false);
const query = computed(() => ({ paper: paper.value, unit: unit.value, scale: scale.value, fold: fold.value }));
const pages = useAsk({
  queryKey: ["pages", pieceId, query],
  queryFn: (how) =>
    take(
      api.GET("/api/pieces/{piece}/pages", { ...how, params: { path: { piece: pieceId.value }, query: query.value } }),
    ),
  enabled: computed(() => pieceId.value > 0),
});
const pdf = computed(
  () =>
    `/api/pieces/${pieceId.value}/pattern.pdf?paper=${paper.value}` +
    `&unit=${unit.value}&scale=${scale.value}&fold=${fold.value}`,
);

const measured = ref<number | null>(null);
const check = ref<Schemas["ScaleOut"] | null>(null);
const wrong = ref("");
const judge = useChange(
  async (text: string) => {
    wrong.value = "";
    check.value = await take(api.POST("/api/scale-checks", { body: { measured: text, unit: unit.value } }));
    measured.value = check.value.measured;
  },
  (r) => ((wrong.value = r.message), (check.value = null)),
);

function correct() {
  setSettings.mutate({ print_scale: scale.value * check.value!.correction });
  check.value = null;
  measured.value = null;
}

const size = (name: string) => catalogue.data.value?.papers[name]?.map((v) => show(v)).join(" × ");
</script>

<template>
  <ScreenFrame
    title="Pages to print and cut"
    :about="piece ? 'Full size, 1:1. Tape the pages, cut the paper, trace it on the foam.' : ''">
    <template #tools>
      <template v-if="pages.data.value && !pages.isError.value">
        <button v-if="pages.data.value.folds" class="press" :aria-pressed="fold" @click="fold = !fold">
          {{ fold ? "Whole panels" : "Halves, on the fold" }}
        </button>
        <a class="press" :href="`/api/pieces/${pieceId}/pattern.svg?fold=${fold}`" download>SVG for a cutter</a>
        <a class="press main" :href="pdf" download>PDF, {{ pages.data.value.pages }} pages of {{ paper }}</a>
      </template>
    </template>
    <NoPattern v-if="!pages.data.value || pages.isError.value" :error="pages.error.value" />
    <template v-else>
      <div class="papers" role="radiogroup" aria-label="Paper">
        <button
          v-for="(_, name) in catalogue.data.value?.papers"
          :key="name"
          role="radio"
          :aria-checked="paper === name"
          class="paper"
          :class="{ on: paper === name }"
          @click="setSettings.mutate({ paper: name as Settings['paper'] })">
          <b>{{ name }}</b><span class="soft small figures">{{ size(String(name)) }}</span>
        </button>
      </div>
      <p class="words stop">
        <span
          ><b>Print at actual size.</b> Choose “100 %” or “no scaling”, never “fit to page”:
          {{ say("one per cent of 400 mm is already 4 mm") }}.</span
        >
      </p>
      <div class="maps sheet">
        <PageMap v-for="p in pages.data.value.plans" :key="p.code" :plan="p" />
      </div>
    </template>

    <template v-if="pages.data.value && !pages.isError.value" #notes>
      <section>
        <h3>Is the print true?</h3>
        <p>
          The first page has a square of <b class="figures">{{ unit === "in" ? "4 in" : "100 mm" }}</b>. Measure it with
          the ruler you cut by, as finely as you can.
        </p>
        <LengthField
          word="I measured"
          name="square"
          :value="measured"
          :error="wrong"
          empty="side of the square"
          @change="judge.mutate($event)" />
        <div v-if="check" class="words" :class="{ stop: !check.good, good: check.good }" role="status">
          <div>
            <b>{{ check.sentence }}</b>
            <p v-if="!check.good" class="soft">
              Drawn {{ show(check.wanted) }}, printed {{ show(check.measured) }}: off by
              {{ check.off_percent.toFixed(1) }} %, more than the 0.5 % that fits.
            </p>
            <button v-if="!check.good" class="press main" @click="correct">Correct the next print</button>
          </div>
        </div>
        <p v-if="scale !== 1" class="words">
          <span
            >Prints are drawn at {{ (scale * 100).toFixed(2) }} % for this printer.
            <button class="press small" @click="setSettings.mutate({ print_scale: 1 })">As drawn again</button></span
          >
        </p>
      </section>
      <section>
        <h3>Putting the pages together</h3>
        <p class="soft">
          Pages share {{ show(12) }}. Trim one margin, lay the crosses over each other, tape. The letter is the column,
          the number the row. Pages with nothing on them are left out.
        </p>
      </section>
      <section>
        <h3>Other ways out</h3>
        <p>
          <a :href="`/api/pieces/${pieceId}/card.pdf?paper=${paper}`" download>Record card</a>: all panels on one sheet,
          reduced. Print it on card and keep it.
        </p>
        <p>
          <a :href="`/api/pieces/${pieceId}/pattern.dxf?fold=${fold}`" download>DXF</a>, in millimetres, with the layers
          of the SVG.
        </p>
        <p><a :href="`/api/pieces/${pieceId}/pattern.json`" download="pattern.json">All figures as JSON</a></p>
        <p class="soft">
          The SVG has groups named cut, seam marks, fold, score, trim edge, layer cut, mark, cut rim, kerf, centre line
          and label, in millimetres. Each outline is the face that stays full at that edge.
        </p>
      </section>
    </template>
  </ScreenFrame>
</template>

<style scoped>
.papers {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
}

.paper {
  display: grid;
  min-width: 128px;
  padding: 8px 14px;
  border: 1.5px solid var(--sheet-line);
  border-radius: 2px;
  background: var(--sheet);
  text-align: left;
  cursor: pointer;
}

.paper.on {
  border-color: var(--verdigris);
  box-shadow: inset 0 -4px 0 var(--verdigris);
}

.maps {
  display: flex;
  flex-wrap: wrap;
  gap: 28px;
  padding: 20px 24px;
}

section {
  display: grid;
  gap: 8px;
}

.good {
  border-color: var(--verdigris);
  background: var(--verdigris-pale);
}

a {
  color: inherit;
}
</style>
