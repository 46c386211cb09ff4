<script setup lang="ts">
import { api, seen, take, type Build, type Cut, type Panel, type Schemas } from "@/api/client";
import { useChange } from "@/api/queries";
import { useUnit } from "@/parts/units";

/** The darts of a panel and the splits of its piece, to be taken out again, and how darts are cut in this build. */
const props = defineProps<{ panel: Panel; splits: Cut[]; build?: Build }>();
const emit = defineEmits<{ remove: [key: string] }>();
const { show, say: words } = useUnit();
type Schools = Schemas["BuildIn"]["dart_edges"];
const SCHOOL = {
  "by fold":
    "Square where the fold across the dart is under 20° or the foam is 4 mm or less, bevelled above. " +
    "Makers disagree. " +
    "Each is right where it works: a flat dart closes square, a sharp one wants its edges cut to half the fold.",
  square: "One school: bevels only made puckers, and the foam is formed after the dart is shut.",
  bevelled: "The other school: whatever meets at an angle is bevelled, cups above all.",
};
const school = useChange(async (edges: Schools) => {
  const { name, wearer_id, event_name, event_on } = props.build!;
  return take(
    api.PUT("/api/builds/{build}", {
      params: { path: { build: props.build!.id } },
      body: { name, wearer_id, event_name, event_on, dart_edges: edges },
      headers: seen(props.build!),
    }),
  );
});
</script>

<template>
  <section v-if="panel.darts.length">
    <h3>Darts</h3>
    <div v-for="d in panel.darts" :key="d.key" class="dart">
      <p class="ends">
        <b>{{ d.name }}</b><span class="figures">{{ show(Math.abs(d.intake)) }} wide</span>
      </p>
      <p class="ends">
        <span>Legs</span><span class="figures">{{ show(d.left) }} · {{ show(d.right) }}</span>
      </p>
      <p class="ends">
        <span>Opens</span><span class="figures">{{ d.angle.toFixed(1) }}°</span>
      </p>
      <p v-if="d.curvature !== null" class="ends">
        <span>Body curves round it</span><span class="figures">{{ d.curvature.toFixed(1) }}°</span>
      </p>
      <p v-if="d.angle < 0" class="words look">
        Its sides lie over each other: the body is a saddle there. Split it, or slash and let in a wedge.
      </p>
      <button class="press small" @click="emit('remove', d.key)">Take it out</button>
    </div>
  </section>
  <section v-if="splits.length">
    <h3>Splits and wedges</h3>
    <p v-for="c in splits" :key="c.key" class="ends">
      <span>{{ c.name }}</span><button class="press small" @click="emit('remove', c.key)">Take it out</button>
    </p>
  </section>
  <section v-if="panel.darts.length && build">
    <h3>Dart edges in this build</h3>
    <select
      class="press"
      name="dart-edges"
      aria-label="Dart edges"
      :value="build.dart_edges"
      @change="school.mutate(($event.target as HTMLSelectElement).value as Schools)">
      <option value="by fold">by the fold, 20° and over</option>
      <option value="square">all square</option>
      <option value="bevelled">all bevelled</option>
    </select>
    <p class="soft">{{ words(SCHOOL[build.dart_edges]) }}</p>
  </section>
</template>

<style scoped>
section select {
  max-width: 100%;
}

section {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 7px;
}

.dart {
  display: grid;
  gap: 4px;
  justify-items: stretch;
}

.dart .press {
  justify-self: start;
}

.ends b,
.ends span:last-child {
  white-space: nowrap;
}
</style>
