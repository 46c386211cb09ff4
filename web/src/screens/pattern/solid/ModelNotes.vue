<script setup lang="ts">
import { computed, ref, watch } from "vue";
import { api, take, type Piece } from "@/api/client";
import { useChange } from "@/api/queries";
import type { Model } from "./solid";
import WearersGirth from "./WearersGirth.vue";

/** How many panels a model is parted into, against what they ask of its foam; and the seams that the maker drew. */
const props = defineProps<{ piece: Piece; model: Model; drawing: boolean }>();
const emit = defineEmits<{ change: [field: string, value: unknown]; draw: [] }>();
const rows = ref<{ panels: number; strain: number }[]>([]);
watch(
  () => [props.piece.id, props.model.mesh, props.model.seams],
  () => (rows.value = []),
);
const ask = useChange(async () => {
  rows.value = await take(api.GET("/api/pieces/{piece}/strains", { params: { path: { piece: props.piece.id } } }));
});
const most = computed(() => Math.max(1, ...rows.value.map((r) => r.strain)));
const seams = computed(() => props.model.seams ?? []);
</script>

<template>
  <WearersGirth :piece="piece.id" :tag="piece.tag" @take="emit('change', 'girth', $event)" />
  <section>
    <h3>Panels and what they ask</h3>
    <button v-if="!rows.length" class="press small" :disabled="ask.isPending.value" @click="ask.mutate(undefined)">
      {{ ask.isPending.value ? "Trying them…" : "Compare numbers of panels" }}
    </button>
    <ul v-else class="plain-list strains">
      <li v-for="r in rows" :key="r.panels">
        <button
          class="line"
          :data-panels="r.panels"
          :aria-pressed="r.panels === model.panels"
          @click="emit('change', 'panels', r.panels)">
          <b class="figures">{{ r.panels }}</b>
          <span class="bar"><span :style="{ width: `${(100 * r.strain) / most}%` }" /></span>
          <span class="figures">{{ r.strain.toFixed(1) }} %</span>
        </button>
      </li>
    </ul>
    <p class="soft small">In the mean over all of it. What your foam gives, each panel's verdict says.</p>
  </section>
  <section>
    <h3>Seams of your own</h3>
    <button class="press small" :aria-pressed="drawing" @click="emit('draw')">
      {{ drawing ? "Keep this seam" : "Draw a seam on it" }}
    </button>
    <p v-if="drawing" class="soft small">Touch the model where the seam begins, where it turns and where it ends.</p>
    <ul class="plain-list">
      <li v-for="(s, k) in seams" :key="k">
        Seam {{ k + 1 }}, {{ s.length }} places
        <button
          class="press small plain"
          :aria-label="`Take seam ${k + 1} away`"
          @click="
            emit(
              'change',
              'seams',
              seams.filter((_, j) => j !== k),
            )
          ">
          ✕
        </button>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.strains {
  display: grid;
  gap: 2px;
}

.line {
  display: grid;
  grid-template-columns: 26px minmax(0, 1fr) 62px;
  gap: 8px;
  align-items: center;
  width: 100%;
  padding: 6px 8px;
  border: 0;
  border-left: 4px solid var(--sheet-line);
  background: none;
  color: inherit;
  font: inherit;
  text-align: left;
  cursor: pointer;
}

.line[aria-pressed="true"] {
  border-color: var(--verdigris);
  background: var(--vellum);
}

.bar {
  height: 10px;
  background: var(--vellum-deep);
}

.bar span {
  display: block;
  height: 100%;
  background: var(--plum);
}
</style>
