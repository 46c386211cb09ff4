<script setup lang="ts">
import type { Schemas } from "@/api/client";
import { path } from "./flatPaths";

/** The centre line, folds, scores, edges of trims and marks on a panel, each dashed its own way as on paper. */
defineProps<{ panel: Pick<Schemas["PanelOut"], "centre" | "lines"> }>();
</script>

<template>
  <path class="centre" :d="path(panel.centre)" />
  <path
    v-for="(line, i) in panel.lines"
    :key="i"
    :class="['inside', line.kind.replace(' ', '-')]"
    :d="path(line.points)">
    <title>{{ line.name }}</title>
  </path>
</template>

<style scoped>
.centre {
  fill: none;
  stroke: #5f5a52;
  stroke-width: 0.5;
  stroke-dasharray: 6 2.5;
}

.inside {
  fill: none;
  stroke: #5f5a52;
  stroke-width: 0.7;
}

.fold {
  stroke: var(--verdigris);
  stroke-width: 1.1;
  stroke-dasharray: 8 2 1.5 2;
}

.score {
  stroke-dasharray: 3 1.5;
}

.trim-edge {
  stroke-dasharray: 1.5 1.5;
}

.mark {
  stroke-dasharray: 0.5 2;
}

.layer-cut {
  stroke: var(--verdigris);
  stroke-dasharray: 12 1;
}

.kerf {
  stroke: var(--oxide);
  stroke-dasharray: 5 1.5;
}
</style>
