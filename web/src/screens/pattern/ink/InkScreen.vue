<script setup lang="ts">
import { onKeyStroke, useLocalStorage } from "@vueuse/core";
import { computed, ref, shallowRef, watch } from "vue";
import { api, take, type DesignIn } from "@/api/client";
import { useCatalogue, useDesignChange, useHere, usePieceQuery } from "@/api/queries";
import InkSheet from "@/canvas/InkSheet.vue";
import { held, SheetMap, type Pair, type Stroke } from "@/canvas/sheetMap";
import CameFlat from "@/parts/CameFlat.vue";
import NoPattern from "@/frame/NoPattern.vue";
import PictureTools from "./PictureTools.vue";
import ScreenFrame from "@/frame/ScreenFrame.vue";
import InkCast from "@/scene/InkCast.vue";
import { useInk, type Chosen } from "./inkDraft";
import InkNotes from "./InkNotes.vue";

const { piece, pieceId } = useHere();
const catalogue = useCatalogue();
const cast = usePieceQuery("sheet", pieceId, (p, how) =>
  take(api.GET("/api/pieces/{piece}/sheet", { ...how, params: { path: { piece: p } } })),
);
const draft = useInk(piece, pieceId);
const { ink, read, chosen } = draft;
const size = useDesignChange(piece);

const turned = ref(false);
const pen = ref(false);
const snapping = useLocalStorage("ink-snap", true);
const foam = ref(false);
const pointed = ref<Pair | null>(null);
const sheet = ref<InstanceType<typeof InkSheet>>();
const map = shallowRef<SheetMap>();
watch(
  [cast.data, turned],
  () => (map.value = cast.data.value ? new SheetMap(cast.data.value, turned.value) : undefined),
  { immediate: true },
);
watch(pieceId, () => ((pen.value = false), (turned.value = piece.value?.design.template === "backplate")), {
  immediate: true,
});

const KINDS = computed(() => Object.keys(catalogue.data.value?.stroke_kinds ?? {}) as Stroke["kind"][]);
const picture = ref<InstanceType<typeof PictureTools>>();

function take_up(kind: Stroke["kind"]) {
  if (pen.value && draft.kinds.value === kind) pen.value = false;
  else [pen.value, draft.kinds.value] = [true, kind];
  chosen.value = null;
}

function draw(points: Pair[], closed: boolean) {
  draft.add(points, closed);
  pen.value = false;
}

/** A stroke begun on the cast goes on there or on the sheet. */
const drawOnCast = (at: Pair) => sheet.value?.begin(at);

function takeMesh(event: Event) {
  const choice = event.target as HTMLSelectElement;
  if (choice.value) window.location.assign(`/api/pieces/${pieceId.value}/shape.${choice.value}`);
  choice.selectedIndex = 0;
}

function setSymmetric(on: boolean) {
  draft.edit((now) => ({
    ...now,
    symmetric: on,
    strokes: on
      ? now.strokes.filter((s) => s.points.reduce((sum, p) => sum + p[0], 0) > -0.02 * s.points.length)
      : now.strokes,
  }));
}

const choose = (at: Chosen | null) => (chosen.value = at);
const inField = (event: KeyboardEvent) =>
  ["INPUT", "SELECT", "TEXTAREA"].includes((event.target as HTMLElement).tagName);

/** Arrow keys move the chosen point, or the whole line, by 1 mm; with Shift by 10. */
let keyed = 0;
onKeyStroke(["ArrowUp", "ArrowDown", "ArrowLeft", "ArrowRight"], (event) => {
  const at = chosen.value;
  const s = draft.stroke.value;
  if (!at || !s || !map.value || inField(event)) return;
  event.preventDefault();
  const by = event.shiftKey ? 10 : 1;
  const [dx, dy] = { ArrowUp: [0, by], ArrowDown: [0, -by], ArrowLeft: [-by, 0], ArrowRight: [by, 0] }[
    event.key
  ] as Pair;
  const nudge = (p: Pair): Pair => {
    const mm = map.value!.mm(p[1]);
    return held(map.value!.cast, [p[0] + dx / map.value!.girth(mm), map.value!.alongAt(mm + dy)]);
  };
  draft.show({
    ...ink.value,
    strokes: ink.value.strokes.map((x) =>
      x.key === s.key
        ? { ...x, points: x.points.map((p, i) => (at.index === null || at.index === i ? nudge(p as Pair) : p)) }
        : x,
    ),
  });
  clearTimeout(keyed);
  keyed = window.setTimeout(() => draft.keep(), 350);
});
onKeyStroke(["Delete", "Backspace"], (event) => {
  if (!inField(event) && chosen.value) draft.remove();
});
onKeyStroke("Escape", () => {
  if (pen.value && sheet.value?.drawing()) sheet.value.drop();
  else if (pen.value) pen.value = false;
  else chosen.value = null;
});
onKeyStroke("Enter", (event) => {
  if (pen.value && !inField(event)) sheet.value?.finish();
});
const hint = computed(() =>
  pen.value
    ? "Press point after point on the sheet; press the last one twice, or Enter, to end. " +
      "Close a ring on its first point."
    : chosen.value
      ? "Drag a point. Arrow keys move it by 1 mm, with Shift by 10. Alt holds it free of other lines."
      : "Press a line to choose it.",
);
</script>

<template>
  <ScreenFrame title="Ink on the cast" :about="hint" margin="The line in hand">
    <template #tools>
      <RouterLink class="press main" :to="{ name: 'flatten', query: { piece: pieceId } }">Lay it flat →</RouterLink>
    </template>
    <CameFlat :piece="piece">What is inked here changes nothing of them: see Trace and Flatten.</CameFlat>
    <NoPattern v-if="!map || cast.isError.value || !piece" :error="cast.error.value" />
    <template v-else>
      <div class="pens" role="toolbar" aria-label="Lines to draw">
        <button
          v-for="k in KINDS"
          :key="k"
          class="pen"
          :class="[k.replace(' ', '-'), { on: pen && draft.kinds.value === k }]"
          :title="`Draw: ${catalogue.data.value?.stroke_kinds[k]}`"
          @click="take_up(k)">
          <i aria-hidden="true" />{{ k }}
        </button>
        <span class="gap" />
        <label class="tick"
          ><input
            type="checkbox"
            name="mirror"
            :checked="ink.symmetric"
            @change="setSymmetric(($event.target as HTMLInputElement).checked)" />
          Mirror</label
        >
        <label class="tick"><input v-model="snapping" type="checkbox" name="snap" /> Snap</label>
        <label class="tick"><input v-model="foam" type="checkbox" name="foam-on" /> Foam</label>
        <button class="press small" @click="turned = !turned">
          {{ turned ? "Front in the middle" : "Back in the middle" }}
        </button>
        <button class="press small" title="Whole sheet" @click="sheet?.home()">⤢</button>
      </div>
      <div class="both">
        <InkSheet
          ref="sheet"
          class="paper sheet"
          :map="map"
          :ink="ink"
          :read="read"
          :chosen="chosen"
          :pen="pen"
          :snapping="snapping"
          :pointed="pointed"
          :picture="picture?.laid ?? null"
          :scaling="picture?.scaling ?? false"
          :moving="draft.moving.value"
          @choose="choose"
          @move="draft.movePoint"
          @drop="draft.keep()"
          @draw="draw"
          @bend="draft.bend"
          @hover="pointed = null"
          @measure="picture?.measured($event)" />
        <InkCast
          :map="map"
          :ink="ink"
          :read="read"
          :chosen="chosen"
          :foam="foam"
          :pen="pen"
          :snapping="snapping"
          @choose="choose"
          @move="draft.movePoint"
          @drop="draft.keep()"
          @draw="drawOnCast"
          @hover="pointed = $event" />
      </div>
      <footer class="foot">
        <PictureTools ref="picture" :key="pieceId" :piece="pieceId" />
        <span class="out">
          <a class="press small" :href="`/api/pieces/${pieceId}/sheet.svg`">Sheet as SVG</a>
          <select class="press small" aria-label="Take away as a mesh" @change="takeMesh">
            <option value="">Mesh …</option>
            <template v-for="what in ['armour', 'body', 'ink']" :key="what"
              ><option v-for="e in ['obj', 'stl', 'ply', 'glb']" :key="e" :value="`${e}?what=${what}`">
                {{ what }}, {{ e.toUpperCase() }}
              </option></template
            >
          </select>
        </span>
      </footer>
    </template>

    <template v-if="map && piece && !cast.isError.value" #notes>
      <InkNotes
        :piece="piece"
        :map="map"
        :draft="draft"
        @choose="(key: string) => choose({ key, index: null })"
        @size="(how: (now: DesignIn) => DesignIn) => size(how)" />
    </template>
  </ScreenFrame>
</template>

<style scoped>
.pens {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
  align-items: center;
}

.pen {
  display: flex;
  gap: 6px;
  align-items: center;
  min-height: 38px;
  padding: 2px 8px 2px 6px;
  border: 0;
  border-bottom: 3px solid transparent;
  background: none;
  font-weight: 600;
  cursor: pointer;
}

.pen i {
  width: 18px;
  border-top: 3px solid var(--graphite);
  transform: rotate(-14deg);
}

.pen.seam i {
  border-color: var(--verdigris);
}

.pen.dart i {
  border-color: var(--oxide);
}

.pen.fold i,
.pen.score i {
  border-color: var(--plum);
}

.pen.score i {
  border-top-width: 1.5px;
}

.pen.trim-edge i {
  border-color: var(--ochre-fill);
}

.pen.centre-line i,
.pen.mark i {
  border-top-width: 1.5px;
  border-color: var(--graphite-soft);
}

.pen:hover {
  background: var(--verdigris-pale);
}

.pen.on {
  background: var(--sheet);
  border-color: var(--oxide);
}

.gap {
  flex: 1;
}

.tick {
  display: flex;
  gap: 6px;
  align-items: center;
  min-height: 36px;
  padding: 0 6px;
}

.tick input {
  width: 19px;
  height: 19px;
  accent-color: var(--verdigris);
}

.both {
  display: grid;
  grid-template-columns: minmax(0, 1.45fr) minmax(0, 1fr);
  gap: 14px;
  flex: 1;
  min-height: 300px;
}

.foot {
  display: flex;
  justify-content: space-between;
  gap: 12px;
}

.out {
  display: flex;
  gap: 8px;
}

@media (max-width: 760px) {
  .both {
    grid-template-columns: 1fr;
    grid-template-rows: 420px 340px;
  }

  .foot {
    flex-wrap: wrap;
  }
}
</style>
