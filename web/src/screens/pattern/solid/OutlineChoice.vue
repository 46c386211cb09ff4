<script setup lang="ts">
import { computed, ref } from "vue";
import { api, take } from "@/api/client";
import { useAsk } from "@/api/queries";
import { useUnit } from "@/parts/units";

/** A thing that was traced and kept by name, whose outline is taken. taken: points that are taken already, 0: none. */
const props = defineProps<{ build: number; taken: number; word: string; hint: string }>();
const emit = defineEmits<{ take: [outline: number[][]] }>();
const { show } = useUnit();
const chosen = ref("");
const objects = useAsk({
  queryKey: ["objects", computed(() => props.build)],
  queryFn: (how) => take(api.GET("/api/builds/{build}/objects", { ...how, params: { path: { build: props.build } } })),
});
const things = computed(() => objects.data.value ?? []);
const key = (o: { trace: number; number: number }) => `${o.trace}-${o.number}`;
function choose() {
  const thing = things.value.find((o) => key(o) === chosen.value);
  if (thing) emit("take", thing.outline as number[][]);
}
</script>

<template>
  <div class="outline">
    <label v-if="things.length" :title="hint">
      <span>{{ word }}</span>
      <select v-model="chosen" class="press" name="outline" @change="choose">
        <option value="">{{ taken ? "as taken" : "none" }}</option>
        <option v-for="o in things" :key="key(o)" :value="key(o)">
          {{ o.name }}, {{ show(o.long) }} × {{ show(o.wide) }}
        </option>
      </select>
    </label>
    <p v-else class="soft small">
      To fit a thing's own outline: photograph it on Trace, and keep it as an object to fit.
    </p>
    <p v-if="taken" class="good small">
      Made to an outline that you traced.
      <button class="press small" @click="emit('take', [])">Take measures instead</button>
    </p>
  </div>
</template>

<style scoped>
.outline {
  display: grid;
  gap: 5px;
}

label {
  display: grid;
  gap: 3px;
}

select {
  max-width: 100%;
}
</style>
