<script setup lang="ts">
import { computed, ref, watch } from "vue";
import { api, take, type DesignIn, type Piece, type Schemas } from "@/api/client";
import { useAsk, useDesignChange, usePattern, usePieceQuery } from "@/api/queries";
import ScreenFrame from "@/frame/ScreenFrame.vue";
import { useUnit } from "@/parts/units";
import CastView from "@/scene/CastView.vue";
import FitNotes from "./FitNotes.vue";
import LayNotes from "./LayNotes.vue";
import LieArrows from "./LieArrows.vue";
import { useLaying } from "./useLaying";

/** Panels that came flat, on the table: which edge is glued to which, made equally long, with what that changes. */
const props = defineProps<{ piece: Piece }>();
const { show } = useUnit();
type Edge = { panel: number; edge: number };
type Mate = Schemas["FlatMate-Output"];
const pieceId = computed(() => props.piece.id);
const table = useAsk({
  queryKey: ["flat", pieceId, computed(() => props.piece.tag)],
  queryFn: (how) => take(api.GET("/api/pieces/{piece}/flat", { ...how, params: { path: { piece: pieceId.value } } })),
  placeholderData: (old: unknown) => old,
});
const pattern = usePattern(pieceId);
const cast = usePieceQuery("cast", pieceId, (p, how) =>
  take(api.GET("/api/pieces/{piece}/cast", { ...how, params: { path: { piece: p } } })),
);
const save = useDesignChange(computed(() => props.piece));
const first = ref<Edge | null>(null);
watch(pieceId, () => (first.value = null));
const flat = computed(() => props.piece.design.flat!);
const mates = (change: (now: Mate[]) => Mate[]) =>
  save(
    (now) => ({ ...now, flat: { ...now.flat!, mates: change([...(now.flat!.mates ?? [])] as Mate[]) } }) as DesignIn,
  );
const same = (a: Edge, b: Edge) => a.panel === b.panel && a.edge === b.edge;
const taken = (e: Edge) => (flat.value.mates ?? []).some((m) => same(m.a, e) || same(m.b, e));
/** The first touch takes an edge, the second gives its mate. */
function touch(e: Edge) {
  if (taken(e)) return;
  if (!first.value) return void (first.value = e);
  const a = first.value;
  first.value = null;
  if (!same(a, e)) mates((now) => [...now, { a, b: e, name: "", true: true }]);
}
const box = computed(() => {
  const all = (table.data.value?.panels ?? []).flatMap((p) => p.edges.flatMap((e) => e.points));
  if (!all.length) return "0 0 100 100";
  const xs = all.map((p) => p[0]);
  const ys = all.map((p) => -p[1]);
  const [x, y] = [Math.min(...xs) - 34, Math.min(...ys) - 34];
  return `${x} ${y} ${Math.max(...xs) + 34 - x} ${Math.max(...ys) + 34 - y}`;
});
const line = (points: readonly (readonly number[])[]) => `M${points.map((p) => `${p[0]},${-p[1]}`).join("L")}`;
const middle = (points: readonly (readonly number[])[]) => points[Math.floor(points.length / 2)];
const centre = (p: Schemas["FlatPanelOut"]) => {
  const all = p.edges.flatMap((e) => e.points);
  return [all.reduce((t, q) => t + q[0], 0) / all.length, -all.reduce((t, q) => t + q[1], 0) / all.length];
};
const letter = (name: string) => name.replace(/^seam /, "");
const apart = (m: Schemas["FlatMateOut"]) => Math.abs(m.came[0] - m.came[1]);
const svg = ref<SVGSVGElement>();
const laying = useLaying(
  computed(() => props.piece),
  computed(() => table.data.value),
  svg,
);
const { on: aiming, lies, held } = laying;
const laidAt = computed(() => (lies.value.length ? [lies.value[0].around, lies.value[0].along] : null));
const wrong = computed(() => (lies.value.length && pattern.isError.value ? (pattern.error.value?.message ?? "") : ""));
const told = computed(() => {
  if (!aiming.value) return touched.value;
  return held.value
    ? `Now touch the same place on the body: panel ${held.value.panel} goes there`
    : "Touch a place on a panel that you know on the body";
});
const touched = computed(() => {
  if (!first.value) return "Touch an edge, then the edge it is glued to";
  const { panel, edge } = first.value;
  const length = table.data.value?.panels.find((p) => p.number === panel)?.edges[edge]?.length ?? 0;
  return `Edge ${edge + 1} of panel ${panel}, ${show(length)}: now touch the edge it is glued to`;
});
</script>

<template>
  <ScreenFrame title="On the table" :about="told">
    <template #tools>
      <button
        v-if="cast.data.value?.length"
        class="press"
        :aria-pressed="aiming"
        @click="(laying.begin(), (first = null))">
        Lay it on the body
      </button>
      <RouterLink class="press" :to="{ name: 'trace', query: { piece: piece.id } }">{{
        piece.design.flat?.source === "file" ? "Another pattern file" : "Back to the photograph"
      }}</RouterLink>
      <RouterLink class="press main" :to="{ name: 'cut', query: { piece: piece.id } }">On to cutting →</RouterLink>
    </template>
    <div class="split" :class="{ laying: aiming }">
      <!-- Its place is kept while the body comes: what slides away under a finger is not touched. -->
      <div v-if="!cast.isError.value && cast.data.value?.length !== 0" class="body">
        <CastView
          v-if="cast.data.value"
          :cast="cast.data.value[0]"
          foam
          :small="!aiming"
          :dot="laidAt"
          @touch="laying.land" />
      </div>
      <svg
        v-if="table.data.value"
        ref="svg"
        class="table"
        :viewBox="box"
        role="application"
        aria-label="Panels and their edges">
        <g v-for="p in table.data.value.panels" :key="p.number">
          <path
            class="paper"
            :class="{ aim: aiming }"
            :data-panel="p.number"
            :d="p.edges.map((e, k) => (k ? line(e.points).replace('M', 'L') : line(e.points))).join('') + 'Z'"
            @click="laying.hold(p.number, $event)" />
          <path v-for="(l, k) in p.lines" :key="`l${k}`" class="inner" :d="line(l)" />
          <path v-for="(h, k) in p.holes" :key="`h${k}`" class="inner" :d="`${line(h)}Z`" />
          <g
            v-for="(e, k) in p.edges"
            :key="k"
            class="edge"
            :class="{ dart: e.dart, mated: e.mate, first: first && same(first, { panel: p.number, edge: k }) }">
            <path class="seen" :d="line(e.points)" />
            <path
              class="hand"
              :d="line(e.points)"
              :data-edge="`${p.number}-${k}`"
              @click="touch({ panel: p.number, edge: k })">
              <title>Edge {{ k + 1 }} of panel {{ p.number }}: {{ show(e.length) }}</title>
            </path>
            <g v-if="e.mate" class="tag" :transform="`translate(${middle(e.points)[0]} ${-middle(e.points)[1]})`">
              <circle r="9" />
              <text dy="4.5">{{ letter(e.mate) }}</text>
            </g>
          </g>
          <text class="number" :x="centre(p)[0]" :y="centre(p)[1]">{{ p.number }}</text>
          <text class="name" :x="centre(p)[0]" :y="centre(p)[1] + 16">{{ p.name }}</text>
        </g>
        <LieArrows :laying="laying" />
      </svg>
    </div>

    <template v-if="table.data.value" #notes>
      <section>
        <h3>Edges that meet</h3>
        <p v-if="!table.data.value.mates.length" class="soft">
          None yet. Touch one, then the other: their lengths are compared, ticks are laid, and both are made equal.
        </p>
        <article v-for="(m, k) in table.data.value.mates" :key="k" class="mate" :class="{ look: apart(m) > 3 }">
          <header>
            <b>{{ m.name }}</b>
            <span class="soft">panel {{ m.mate.a.panel }} to {{ m.mate.b.panel }}</span>
            <button
              class="press small plain"
              :aria-label="`Part ${m.name}`"
              @click="mates((now) => now.filter((_, j) => j !== k))">
              ✕
            </button>
          </header>
          <p class="figures">
            {{ show(m.came[0]) }} and {{ show(m.came[1]) }}:
            <b>{{ apart(m) < 0.05 ? "equal" : `${show(apart(m))} apart` }}</b>
          </p>
          <p v-if="m.mate.true && apart(m) >= 0.05" class="figures good">
            Made equal, {{ show(m.now[0]) }}; a corner moved {{ show(m.moved) }}.
          </p>
          <p v-if="apart(m) > 3" class="soft small">
            More than 3 mm: a tape that was pulled, a wrong pair, or a corner put elsewhere? Look at both edges.
          </p>
          <label class="tick"
            ><input
              type="checkbox"
              :name="`true-${k}`"
              :checked="m.mate.true"
              @change="
                mates((now) =>
                  now.map((x, j) => (j === k ? { ...x, true: ($event.target as HTMLInputElement).checked } : x)),
                )
              " />
            make them equal</label
          >
        </article>
      </section>
      <LayNotes
        :lies="lies"
        :pattern="pattern.isError.value ? undefined : pattern.data.value"
        :wrong="wrong"
        @turn="laying.turn"
        @take="laying.takeUp" />
      <FitNotes :piece="piece" :panels="table.data.value.panels" />
      <section>
        <h3>Panels</h3>
        <p v-for="p in table.data.value.panels" :key="p.number" class="row figures">
          <span>{{ p.number }} {{ p.name }}</span
          ><span v-if="p.off" class="soft">± {{ p.off.toFixed(1) }} mm</span>
        </p>
        <p v-if="table.data.value.factor !== 1" class="words">
          <span
            >Widened {{ ((table.data.value.factor - 1) * 100).toFixed(1) }} % for base layer, ease and half the
            foam.</span
          >
        </p>
        <p v-if="!lies.length" class="soft small">
          Panels that came flat carry no strain: what the foam has to give between their edges is not known. Close them
          in paper or scrap first.
        </p>
      </section>
    </template>
  </ScreenFrame>
</template>

<style scoped>
.table {
  flex: 1 1 auto;
  min-height: 300px;
  width: 100%;
}

.split {
  display: grid;
  grid-template-columns: 230px minmax(0, 1fr);
  gap: 18px;
  flex: 1;
  min-height: 0;
}

.split.laying {
  grid-template-columns: minmax(0, 1.3fr) minmax(0, 1fr);
}

.split:not(:has(.body)) {
  grid-template-columns: minmax(0, 1fr);
}

.body {
  display: flex;
  flex-direction: column;
  min-width: 0;
}

.paper.aim {
  cursor: crosshair;
}

.paper {
  fill: var(--sheet);
  filter: drop-shadow(0 2px 4px rgb(60 45 20 / 30%));
}

.inner {
  fill: none;
  stroke: var(--graphite-soft);
  stroke-width: 0.8;
  stroke-dasharray: 5 2.5;
}

.edge .seen {
  fill: none;
  stroke: var(--graphite);
  stroke-width: 1.4;
}

.edge .hand {
  fill: none;
  stroke: transparent;
  stroke-width: 16;
  cursor: pointer;
}

.edge:hover .seen {
  stroke: var(--verdigris);
  stroke-width: 3.5;
}

.edge.dart .seen {
  stroke: var(--oxide);
}

.edge.mated .seen {
  stroke: var(--verdigris);
  stroke-width: 2.6;
}

.edge.first .seen {
  stroke: var(--ochre-fill);
  stroke-width: 4.5;
}

.tag circle {
  fill: var(--verdigris);
}

.tag {
  pointer-events: none;
}

.tag text {
  fill: var(--sheet);
  font: 700 12px var(--sans);
  text-anchor: middle;
}

.number,
.name {
  pointer-events: none;
}

.number {
  font: 700 26px var(--slab);
  fill: var(--graphite);
  text-anchor: middle;
}

.name {
  font: 11px var(--sans);
  fill: var(--graphite-soft);
  text-anchor: middle;
}

section {
  display: grid;
  gap: 10px;
}

.mate {
  display: grid;
  gap: 4px;
  padding: 10px 12px;
  border-left: 4px solid var(--verdigris);
  background: var(--vellum);
}

.mate.look {
  border-color: var(--ochre-fill);
}

.mate header {
  display: flex;
  gap: 10px;
  align-items: baseline;
}

.mate header .press {
  margin-left: auto;
}

@media (max-width: 760px) {
  .split,
  .split.laying {
    grid-template-columns: 1fr;
  }
}

.row {
  display: flex;
  justify-content: space-between;
}
</style>
