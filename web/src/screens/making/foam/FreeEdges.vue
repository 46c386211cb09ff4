<script setup lang="ts">
import type { Schemas } from "@/api/client";
import { useUnit } from "@/parts/units";
import EdgeSection from "./EdgeSection.vue";
import { typedNumber, type FreeEdge } from "./useFoam";

/** Edges that meet nothing: how each of them ends. */
defineProps<{ edges: FreeEdge[] }>();
const emit = defineEmits<{ edge: [name: string, row: Partial<Schemas["EdgeWork-Input"]>] }>();
const { say, bare } = useUnit();
const SHAPES = ["rounded", "square", "angled", "thinned"] as const;
const set = (e: FreeEdge, change: Partial<Schemas["EdgeWork-Input"]>) => emit("edge", e.name, change);
function angle(e: FreeEdge, field: HTMLInputElement) {
  const wanted = typedNumber(field.value);
  if (wanted === null) field.value = String(e.work.angle);
  else set(e, { angle: wanted });
}
</script>

<template>
  <ul class="cards" style="--card: 290px">
    <li v-for="e in edges" :key="e.name" class="sheet" :data-edge="e.name">
      <h3>{{ e.name }}</h3>
      <EdgeSection
        :foam="e.foam"
        :shape="e.work.shape"
        :angle="e.work.angle"
        :face="e.work.face"
        :width="e.work.width"
        :left="e.work.left" />
      <div class="shapes" role="radiogroup" :aria-label="`How the ${e.name} ends`">
        <button
          v-for="s in SHAPES"
          :key="s"
          class="press small"
          role="radio"
          :aria-checked="e.work.shape === s"
          @click="set(e, { shape: s })">
          {{ s }}
        </button>
      </div>
      <div v-if="e.work.shape === 'angled' || e.work.shape === 'thinned'" class="give">
        <label v-if="e.work.shape === 'angled'" class="field"
          ><span class="word">Degrees off square</span>
          <input
            v-says="e.work.angle.toFixed(0)"
            class="press figures"
            inputmode="decimal"
            @change="angle(e, $event.target as HTMLInputElement)" />
        </label>
        <template v-else>
          <label class="field"
            ><span class="word">Over</span>
            <input
              v-says="bare(e.work.width)"
              class="press figures"
              @change="set(e, { width: ($event.target as HTMLInputElement).value })" />
          </label>
          <label class="field"
            ><span class="word">Down to</span>
            <input
              v-says="bare(e.work.left)"
              class="press figures"
              @change="set(e, { left: ($event.target as HTMLInputElement).value })" />
          </label>
        </template>
        <button class="press" @click="set(e, { face: e.work.face === 'inner' ? 'outer' : 'inner' })">
          off the {{ e.work.face }} face
        </button>
      </div>
      <p class="soft">{{ say(e.why) }}</p>
    </li>
  </ul>
</template>

<style scoped>
.shapes {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}
</style>
