<script setup lang="ts">
import { computed, ref, watch } from "vue";
import { useRouter } from "vue-router";
import { api, take } from "@/api/client";
import { freshBuilds, say as tell, useCatalogue, useChange, useHere, useSettings } from "@/api/queries";
import LengthField from "@/parts/LengthField.vue";
import ScreenFrame from "@/frame/ScreenFrame.vue";
import { useUnit } from "@/parts/units";
import AskLayer from "./AskLayer.vue";
import LayPages from "./LayPages.vue";
import MakePanels from "./MakePanels.vue";
import ShapeNotes from "./ShapeNotes.vue";
import TraceGuide from "./TraceGuide.vue";
import TraceTable, { type Tool } from "./TraceTable.vue";
import { useTraces, type HowToRead, type Pages } from "./useTraces";

/** Photographs of pieces on the floor, traced: which one, what was seen in it, and what is put right. */
const { build, buildId } = useHere();
const { unit, show, say } = useUnit();
const settings = useSettings();
const {
  list,
  chosen,
  traceId,
  trace,
  job,
  sent,
  refused,
  bring,
  camera,
  again,
  join,
  stop,
  act,
  rub,
  check,
  remove,
  bringPattern,
  pagesToLay,
  asksUnit,
  asksLayer,
} = useTraces(buildId);
const square = ref(100);
/** Whether the square was measured: cards of one print are measured once. */
const measured = ref(false);
const wrong = ref("");
const measure = useChange(
  async (text: string) => {
    wrong.value = "";
    square.value = (await take(api.POST("/api/scale-checks", { body: { measured: text, unit: unit.value } }))).measured;
    measured.value = true;
  },
  (r) => (wrong.value = r.message),
  undefined,
  [],
);
const now = computed(() => trace.data.value);
watch(now, (t, old) => {
  if (!t || (t.id === old?.id && Boolean(t.unmeasured) === Boolean(old.unmeasured))) return;
  square.value = t.square;
  measured.value = !t.unmeasured;
});
const picked = ref(1);
const edge = ref(-1);
const tool = ref<Tool>("look");
watch(traceId, () => ((picked.value = 1), (edge.value = -1), (tool.value = "look")));
const shape = computed(() => now.value?.shapes.find((s) => s.number === picked.value) ?? now.value?.shapes[0]);
const cards = computed(
  () => `/api/marker-cards.pdf?paper=${settings.data.value?.paper === "Letter" ? "Letter" : "A4"}&unit=${unit.value}`,
);
function pick(event: Event, how: { bare?: boolean; over?: number } = {}) {
  const input = event.target as HTMLInputElement;
  for (const file of input.files ?? []) bring.mutate({ file, square: square.value, checked: measured.value, ...how });
  input.value = "";
}
/** The photograph of the floor that this one was taken on, as long as it is not laid beneath it. */
const floor = computed(() => {
  const rows = list.data.value ?? [];
  const under = rows.find((t) => t.id === traceId.value)?.floor;
  return now.value?.over_floor ? undefined : rows.find((t) => t.id === under);
});
const about = computed(() => {
  const t = now.value;
  if (!t) return "Cut-open cast, paper pattern or any flat thing, measured off the floor";
  if (t.bare) return `${t.name}, the bare floor, ${t.cards.length} cards`;
  const pieces = `${t.shapes.length} ${t.shapes.length === 1 ? "piece" : "pieces"}, ${t.cards.length} cards`;
  return `${t.name}, ${pieces}${t.over_floor ? ", by the floor beneath" : ""}`;
});
const router = useRouter();
const catalogue = useCatalogue();
const template = ref("breastplate");
const lay = ref<{ file: File; pages: Pages } | null>(null);
/** What was said of the file so far: each answer brings the next question, or the piece. */
let known: HowToRead = {};
async function takeIn(file: File, more: HowToRead) {
  known = { ...known, ...more };
  const made = await bringPattern.mutateAsync({ file, template: template.value, how: known }).catch(() => null);
  if (!made) return;
  lay.value = null;
  if (made.left.length) tell(`Not in the panels: ${made.left.join("; ")}.`, "warning");
  await freshBuilds();
  await router.push({ name: "flatten", query: { piece: made.id } });
}
const answered = (file: File, what: string) =>
  takeIn(file, { layers: [known.layers, what].filter(Boolean).join("\n") });
async function askPages(file: File) {
  const pages = await pagesToLay(file).catch((refusal: Error) => void (refused.value = refusal.message));
  if (pages?.length) lay.value = { file, pages };
  else if (pages) await takeIn(file, {});
}
function pickPattern(event: Event) {
  const input = event.target as HTMLInputElement;
  const file = input.files?.[0];
  input.value = "";
  known = {};
  if (file) void askPages(file);
}
const TOOLS: { key: Tool; word: string; hint: string }[] = [
  { key: "look", word: "Look and drag", hint: "Choose a piece, drag its corners, move the picture" },
  {
    key: "piece",
    word: "This is piece",
    hint: "Rub over what was missed: the outline follows. From one to the other, two become one",
  },
  {
    key: "floor",
    word: "This is floor",
    hint: "Rub over what is no piece, between two that were taken for one, or down a slit from its mouth to its tip",
  },
  { key: "corner", word: "Corner", hint: "Touch the outline: a corner where there is none, none where there is one" },
  { key: "cut", word: "Cut", hint: "Draw a line across a piece to part it" },
  { key: "ruler", word: "Ruler", hint: "Draw from here to there, and hold a tape against it" },
];
/** A piece that is larger than one picture: the others show two of its cards or more. */
const partners = computed(() => {
  const rows = list.data.value ?? [];
  const own = rows.find((t) => t.id === traceId.value);
  return rows.filter((t) => own?.joins.includes(t.id));
});
const joinWords = computed(() =>
  partners.value.length === 1
    ? `Join with ${partners.value[0].name}`
    : `Join with ${partners.value.length} others of this ground`,
);
const number = computed(() => shape.value?.number ?? 1);
const send = (body: Parameters<typeof act.mutate>[0]) => act.mutate(body);
</script>

<template>
  <ScreenFrame title="Traced from a photograph" :about="about">
    <template #tools>
      <a class="press" :href="cards" download>Marker cards to print</a>
      <label class="press" :class="{ main: !now?.bare }"
        ><input
          class="file"
          type="file"
          name="photograph"
          multiple
          accept=".jpg,.jpeg,.png,.webp,.heic,image/*"
          @change="pick($event)" />{{ bring.isPending.value ? "Tracing …" : "Bring in a photograph" }}</label
      >
      <label class="press" title="Newspaper, carpet, planks, tiles: the floor and its cards before anything lies there"
        ><input
          class="file"
          type="file"
          name="floor-photograph"
          accept=".jpg,.jpeg,.png,.webp,.heic,image/*"
          @change="pick($event, { bare: true })" />Floor first</label
      >
    </template>
    <TraceGuide v-if="!now && !lay && list.isSuccess.value && !job" />
    <div class="bar">
      <select
        v-if="(list.data.value?.length ?? 0) > 1"
        class="press"
        aria-label="Photograph"
        :value="traceId"
        @change="chosen = Number(($event.target as HTMLSelectElement).value)">
        <option v-for="t in list.data.value" :key="t.id" :value="t.id">
          {{ t.name }} ({{ t.bare ? "floor" : t.pieces }})
        </option>
      </select>
      <span v-if="now && !now.bare" class="tools" role="radiogroup" aria-label="Tool">
        <button
          v-for="t in TOOLS"
          :key="t.key"
          class="press small"
          role="radio"
          :aria-checked="tool === t.key"
          :title="t.hint"
          @click="tool = t.key">
          {{ t.word }}
        </button>
      </span>
      <button
        v-if="now && partners.length"
        class="press small joins"
        :disabled="Boolean(job)"
        title="They show the same cards: a piece that is larger than one picture becomes whole"
        @click="join.mutate([now.id, ...partners.map((t) => t.id)])">
        {{ joinWords }}
      </button>
      <button
        v-if="now && floor"
        class="press small main"
        :disabled="Boolean(job)"
        title="What differs from the bare floor is a piece, whatever the floor looks like"
        @click="again.mutate({ square, checked: measured, over: floor.id })">
        Lay the floor of {{ floor.name }} beneath it
      </button>
      <template v-if="!now">
        <button
          class="press"
          :disabled="Boolean(job)"
          title="A simulated camera, with tilt, bend of the lens, shadows and noise"
          @click="camera.mutate(false)">
          Photograph a made-up cast
        </button>
        <button
          class="press"
          :disabled="Boolean(job)"
          title="The simulated camera takes two: the newspaper with its cards, then the cast on it"
          @click="camera.mutate(true)">
          The same on newspaper, floor first
        </button>
      </template>
    </div>
    <p v-if="refused" class="words stop" role="alert">{{ say(refused) }}</p>
    <div v-if="asksUnit" class="bar" role="group" aria-label="What its numbers are">
      <span>{{ asksUnit.name }} is in</span>
      <button
        v-for="u in ['mm', 'cm', 'in', 'pt', 'px']"
        :key="u"
        class="press small"
        @click="takeIn(asksUnit!, { unit: u })">
        {{ u }}
      </button>
      <LengthField
        word="or all of it together is so wide"
        name="pattern-wide"
        :value="null"
        @change="takeIn(asksUnit!, { wide: $event })" />
    </div>
    <AskLayer v-if="asksLayer" :asked="asksLayer" @said="(what) => answered(asksLayer!.file, what)" />
    <div v-if="job" class="job words" role="status">
      <progress :value="job.share" max="1" /> <b class="figures">{{ Math.round(job.share * 100) }} %</b>
      <span>{{ job.words }}</span>
      <button class="press small" @click="stop">Stop</button>
    </div>
    <div v-else-if="sent !== null" class="job words" role="status">
      <progress :value="sent" max="1" /> <b class="figures">{{ Math.round(sent * 100) }} %</b>
      <span>Sending the photograph</span>
    </div>
    <section v-if="now?.bare" class="next sheet">
      <h3>The floor is kept. Now the pieces.</h3>
      <p>Lay them down among the cards, push none of these, and photograph again from about the same place.</p>
      <label class="press main"
        ><input
          class="file"
          type="file"
          name="over-photograph"
          accept=".jpg,.jpeg,.png,.webp,.heic,image/*"
          @change="pick($event, { over: now.id })" />{{
          bring.isPending.value ? "Tracing …" : "Bring in the photograph with the pieces"
        }}</label
      >
      <button class="press small" @click="remove.mutate(undefined)">Take the photograph away</button>
    </section>
    <template v-if="now">
      <p v-if="now.shapes.length" class="soft">
        I see {{ now.shapes.length === 1 ? "one piece" : `${now.shapes.length} pieces` }}. Is that all? Whatever has no
        line round it was missed: rub over it with “This is piece”.
      </p>
      <p v-for="f in now.findings" :key="f.what" class="words" :class="{ stop: f.weight === 'stop' }">
        <span
          ><b>{{ say(f.what) }}</b> {{ say(f.do) }}</span
        >
      </p>
      <TraceTable
        :trace="now"
        :chosen="number"
        :edge="edge"
        :tool="tool"
        :busy="rub.isPending.value"
        @choose="(n, e) => ((picked = n), (edge = e))"
        @move="(at, to) => send({ act: 'move', number, at, to } as never)"
        @corner="(at) => send({ act: 'corner', number, at } as never)"
        @cut="(at, to) => send({ act: 'cut', number, at, to } as never)"
        @rub="(points, wide) => rub.mutate({ what: tool === 'piece' ? 'piece' : 'floor', points, wide })" />
    </template>
    <LayPages
      v-if="lay"
      :pages="lay.pages"
      :name="lay.file.name"
      @laid="takeIn(lay.file, { places: $event })"
      @apart="takeIn(lay.file, {})"
      @leave="lay = null" />
    <section v-if="!now && !job && !lay" class="elsewhere sheet">
      <h3>Or a pattern from elsewhere</h3>
      <p class="soft">
        SVG, DXF, or a PDF at full size. Closed lines become panels, open ones marks, words stay with them.
      </p>
      <p class="bar">
        <select v-model="template" class="press" name="pattern-template" aria-label="What it is a pattern of">
          <option v-for="t in catalogue.data.value?.templates" :key="t.name" :value="t.name">{{ t.word }}</option>
        </select>
        <label class="press"
          ><input class="file" type="file" name="pattern-file" accept=".svg,.dxf,.pdf" @change="pickPattern" />Bring in
          a pattern file</label
        >
      </p>
    </section>

    <template v-if="now && build && !now.bare" #notes>
      <ShapeNotes v-if="shape" :trace="now" :chosen="number" :edge="edge" @act="send" />
      <MakePanels v-if="now.shapes.length" :trace="now" :build="build" />
      <section class="scale">
        <h3>Is it to scale?</h3>
        <p class="soft small">
          The cards agree within <b class="figures">{{ now.residual_mm.toFixed(2) }} mm</b
          ><template v-if="now.cards_left_out.length">; card {{ now.cards_left_out.join(", ") }} is left out</template>.
          <template v-if="now.unmeasured">{{ say(now.unmeasured.what) }} {{ say(now.unmeasured.do) }}</template>
          <template v-else>The cards' test square was measured: {{ show(now.square) }}.</template>
        </p>
        <button v-if="now.unmeasured && Math.abs(square - now.square) <= 0.05" class="press" @click="check.mutate()">
          It measures {{ show(now.square) }}
        </button>
        <LengthField
          word="The square on the cards' page"
          name="card-square"
          :value="square"
          :error="wrong"
          @change="measure.mutate($event)" />
        <button
          v-if="Math.abs(square - now.square) > 0.05"
          class="press main"
          @click="again.mutate({ square, checked: true })">
          Measure again with {{ show(square) }}
        </button>
      </section>
      <section class="ways">
        <label class="press small"
          ><input class="file" type="file" name="pattern-file" accept=".svg,.dxf,.pdf" @change="pickPattern" />Bring in
          a pattern file</label
        >
        <a class="press small" :href="`/api/traces/${now.id}/outlines.svg`" download>Outlines, SVG</a>
        <a class="press small" :href="`/api/traces/${now.id}/outlines.dxf`" download>DXF</a>
        <button class="press small" @click="remove.mutate(undefined)">Take the photograph away</button>
      </section>
    </template>
  </ScreenFrame>
</template>

<style scoped>
.bar,
.tools,
.ways {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
}

.job {
  display: flex;
  gap: 12px;
  align-items: center;
}

.elsewhere {
  display: grid;
  gap: 10px;
  max-width: 980px;
  padding: 18px 26px;
}

.scale {
  display: grid;
  gap: 8px;
}

.next {
  display: grid;
  gap: 10px;
  justify-items: start;
  padding: 18px 26px;
}
</style>
