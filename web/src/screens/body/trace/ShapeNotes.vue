<script setup lang="ts">
import { computed } from "vue";
import { api, take } from "@/api/client";
import { useAsk } from "@/api/queries";
import { useUnit } from "@/parts/units";
import { KINDS, type ActIn, type Kind, type Trace } from "./useTraces";

/** One traced shape: how far it may be off, what was found on it, and what can be put right. */
const props = defineProps<{ trace: Trace; chosen: number; edge: number }>();
const emit = defineEmits<{ act: [body: ActIn]; choose: [number: number] }>();
const { show, unit, say } = useUnit();
const shape = computed(() => props.trace.shapes.find((s) => s.number === props.chosen));
const found = computed(() => props.trace.found.find((f) => f.number === props.chosen));
const size = computed(() => {
  const xs = shape.value?.outline.map((p) => p[0]) ?? [0];
  const ys = shape.value?.outline.map((p) => p[1]) ?? [0];
  return [Math.max(...xs) - Math.min(...xs), Math.max(...ys) - Math.min(...ys)];
});
const objects = useAsk({
  queryKey: ["objects", computed(() => props.trace.build_id), computed(() => props.trace.shapes)],
  queryFn: (how) =>
    take(api.GET("/api/builds/{build}/objects", { ...how, params: { path: { build: props.trace.build_id } } })),
  enabled: computed(() => Boolean(shape.value?.object)),
});
const thing = computed(() => objects.data.value?.find((o) => o.trace === props.trace.id && o.number === props.chosen));
const act = (body: Partial<ActIn> & { act: ActIn["act"] }) => emit("act", { number: props.chosen, ...body } as ActIn);
/** Tenths of a millimetre are told as such, also to makers who think in inches. */
const small = (mm: number) =>
  unit.value === "in" ? `${(mm / 25.4).toFixed(3)} in` : `${mm.toFixed(mm < 1 ? 2 : 1)} mm`;
const inks = computed(() => (shape.value?.lines ?? []).map((l, k) => ({ ...l, k, long: run(l.points) })));
const run = (points: readonly (readonly number[])[]) =>
  points.slice(1).reduce((t, p, k) => t + Math.hypot(p[0] - points[k][0], p[1] - points[k][1]), 0);
</script>

<template>
  <section v-if="shape" class="shape">
    <h3>Piece {{ shape.number }}</h3>
    <input
      v-says="shape.name ?? ''"
      class="press"
      name="shape-name"
      maxlength="80"
      placeholder="Name it, such as: left front"
      aria-label="Name of the piece"
      @change="act({ act: 'name', words: ($event.target as HTMLInputElement).value })" />
    <p class="figures">{{ show(size[0]) }} wide, {{ show(size[1]) }} high</p>
    <p v-if="shape.object" class="good words">
      <span
        >Kept as an object to fit: {{ show(thing?.long ?? 0) }} long, {{ show(thing?.wide ?? 0) }} wide,
        {{ show(thing?.round ?? 0) }} round.</span
      >
    </p>
    <p v-if="found" class="sure figures" :class="{ bad: found.error_mm.rms > 0.5 }">
      Off by no more than about <b>{{ small(found.error_mm.rms * 2) }}</b> on the whole,
      <b>{{ small(found.error_mm.worst) }}</b> anywhere<template v-if="trace.unmeasured"
        >, if the cards are printed to size: that is not checked yet</template
      >.
    </p>
    <div v-for="f in found?.findings ?? []" :key="f.what" class="words" :class="{ stop: f.weight === 'stop' }">
      <div>
        <b>{{ say(f.what) }}</b> {{ say(f.do) }}
      </div>
    </div>
  </section>
  <section v-if="found?.slits.length">
    <h3>Cut-in darts</h3>
    <p v-for="(s, k) in found.slits" :key="k" class="row figures">
      <span>{{ show(s.deep_mm) }} deep</span><span>{{ s.angle_deg.toFixed(0) }}° open</span>
    </p>
  </section>
  <section v-if="inks.length">
    <h3>Ink</h3>
    <label v-for="l in inks" :key="l.k" class="row">
      <span
        ><i class="pen" :style="{ background: l.name === 'black' ? '#22201f' : l.name }" />{{ l.name }},
        <span class="figures">{{ show(l.long) }}</span></span
      >
      <select
        class="press small"
        :name="`kind-${l.k}`"
        :aria-label="`What the ${l.name} line is`"
        :value="l.kind"
        @change="act({ act: 'kind', line: l.k, kind: ($event.target as HTMLSelectElement).value as Kind })">
        <option v-for="(k, key) in KINDS" :key="key" :value="key">{{ k.word }}</option>
      </select>
    </label>
    <button v-if="inks.some((l) => l.kind === 'segment')" class="press" @click="act({ act: 'segments' })">
      Part into numbered segments
    </button>
  </section>
  <section v-if="shape">
    <h3>Put it right</h3>
    <p class="soft small">Drag a corner. Touch an edge for what can be done with it.</p>
    <div v-if="edge >= 0" class="acts">
      <button class="press small" @click="act({ act: 'straighten', edge })">Straighten this edge</button>
      <button class="press small" @click="act({ act: 'smooth', edge })">Smooth this edge</button>
      <button
        class="press small"
        title="Half of a piece, cut along its middle: the other half is drawn on beyond this edge"
        @click="act({ act: 'unfold', edge })">
        Unfold about this edge
      </button>
    </div>
    <div class="acts">
      <button class="press small" @click="act({ act: 'symmetric', words: 'left' })">Left half, mirrored</button>
      <button class="press small" @click="act({ act: 'symmetric', words: 'right' })">Right half, mirrored</button>
      <button
        class="press small"
        title="Up on the panel is up in the picture"
        @click="act({ act: 'turn', degrees: 90 })">
        ↺ 90°
      </button>
      <button class="press small" @click="act({ act: 'turn', degrees: 5 })">↺ 5°</button>
      <button class="press small" @click="act({ act: 'turn', degrees: -5 })">↻ 5°</button>
    </div>
    <div class="acts">
      <select
        v-if="trace.shapes.length > 1"
        class="press small"
        aria-label="Join with another piece"
        @change="act({ act: 'join', other: Number(($event.target as HTMLSelectElement).value) })">
        <option value="" selected disabled>Join with …</option>
        <option v-for="s in trace.shapes.filter((s) => s.number !== chosen)" :key="s.number" :value="s.number">
          {{ s.number }} {{ s.name }}
        </option>
      </select>
      <button
        class="press small"
        :disabled="!shape.object && !shape.name"
        :title="shape.name ? 'A phone, a handle, a gem, a sole: its outline is kept by its name' : 'Name it first'"
        @click="act({ act: 'object' })">
        {{ shape.object ? "A panel after all" : "An object to fit, no panel" }}
      </button>
      <button
        class="press small"
        role="switch"
        :aria-checked="shape.mirrored"
        title="The other side of the body gets the same panel, turned over"
        @click="act({ act: 'pair' })">
        {{ shape.mirrored ? "Cut 1 + 1 turned over ✓" : "Cut 1 + 1 turned over" }}
      </button>
      <button class="press small" @click="act({ act: 'drop' })">Not a piece: leave it out</button>
    </div>
  </section>
</template>

<style scoped>
section {
  display: grid;
  gap: 8px;
}

.row {
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  align-items: center;
  gap: 4px 10px;
}

.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}

.pen {
  display: inline-block;
  width: 22px;
  height: 5px;
  margin-right: 8px;
  border-radius: 3px;
  vertical-align: middle;
}

.sure {
  padding: 8px 10px;
  border-left: 4px solid var(--verdigris);
  background: var(--verdigris-pale);
}

.sure.bad {
  border-color: var(--ochre-fill);
  background: var(--ochre-pale);
}
</style>
