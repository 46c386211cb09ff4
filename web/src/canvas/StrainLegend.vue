<script setup lang="ts">
/** What the bands of the strain picture mean for this foam. */
import { computed } from "vue";
import type { Schemas } from "@/api/client";
import { legend, scaleOf } from "./strainBands";

const props = defineProps<{ give: Schemas["AllowanceOut"] }>();
const bands = computed(() => legend(scaleOf(props.give)));
</script>

<template>
  <div class="legend small">
    <span class="way">squeeze</span>
    <span v-for="b in bands" :key="b.words" class="band figures" :title="b.words">
      <i
        :class="{ none: b.color === 'none', hatched: b.hatched }"
        :style="{ background: b.color === 'none' ? 'var(--sheet)' : b.color }" />
      {{ b.from ? b.from.toFixed(1) : "0" }}
    </span>
    <span class="way end">stretch, %</span>
  </div>
</template>

<style scoped>
.legend {
  display: flex;
  align-items: end;
  gap: 4px;
  white-space: nowrap;
}

.band {
  display: grid;
  flex: 0 1 38px;
  justify-items: center;
  min-width: 0;
}

i {
  display: block;
  width: 100%;
  max-width: 36px;
  height: 13px;
}

.none {
  outline: 1px solid var(--sheet-line);
}

.hatched {
  background-image: repeating-linear-gradient(45deg, #fbf8f1 0 1.5px, transparent 1.5px 5px) !important;
}

@media (max-width: 1100px) {
  .legend {
    flex-wrap: wrap;
    gap: 2px;
  }

  .way {
    flex: 1 0 45%;
    order: -1;
  }

  .end {
    text-align: right;
  }

  .band {
    flex: 1 0 9%;
  }
}
</style>
