<script setup lang="ts">
import { computed } from "vue";
import type { Schemas } from "@/api/client";
import { legend, scaleOf } from "./strainBands";

const props = defineProps<{ give: Schemas["AllowanceOut"] }>();
const bands = computed(() => legend(scaleOf(props.give)));
</script>

<template>
  <div class="legend small">
    <span>squeeze</span>
    <span v-for="b in bands" :key="b.words" class="band figures" :title="b.words">
      <i :class="{ none: b.color === 'none', hatched: b.hatched }" :style="{ background: b.color === 'none' ? 'var(--sheet)' : b.color }" />
      {{ b.from ? b.from.toFixed(1) : "0" }}
    </span>
    <span>stretch, %</span>
  </div>
</template>

<style scoped>
.legend {
  display: flex;
  align-items: end;
  flex-wrap: wrap;
  gap: 4px;
  white-space: nowrap;
}

.band {
  display: grid;
  justify-items: center;
}

i {
  display: block;
  width: clamp(20px, 2.6vw, 36px);
  height: 13px;
}

.none {
  outline: 1px solid var(--sheet-line);
}

.hatched {
  background-image: repeating-linear-gradient(45deg, #fbf8f1 0 1.5px, transparent 1.5px 5px) !important;
}
</style>
