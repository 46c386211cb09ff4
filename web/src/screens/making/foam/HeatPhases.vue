<script setup lang="ts">
import type { Schemas } from "@/api/client";
import { clock } from "@/parts/units";

/** One patch's way through the heat as a strip: gun over the one face, over the other, rests; as long as each takes. */
defineProps<{ plan: Schemas["HeatPlan"]; words: string; seconds: number; scorch: number; forming: number }>();
</script>

<template>
  <div class="strip" role="img" :aria-label="words">
    <div v-for="(p, n) in plan.phases" :key="n" :class="[p.act, p.face]" :style="{ flexGrow: p.seconds }">
      <span v-if="p.seconds / seconds > 0.07" class="figures">{{ clock(p.seconds) }}</span>
    </div>
  </div>
  <p class="legend soft">
    <b><span class="heat outer" />gun over the outer face</b>
    <b><span class="heat inner" />over the inner face</b>
    <b><span class="rest" />gun away</b>
  </p>
  <p class="figures soft">
    The hottest face comes to {{ plan.hottest.toFixed(0) }} °C, the middle to {{ forming.toFixed(0) }}; a face scorches
    at {{ scorch.toFixed(0) }} (est.).
  </p>
</template>

<style scoped>
.strip {
  display: flex;
  height: 46px;
  gap: 2px;
}

.strip div {
  display: grid;
  place-items: center;
  min-width: 2px;
  flex-basis: 0;
  overflow: hidden;
}

.heat.outer {
  background: var(--ochre-fill);
  color: #2e2c2a;
}

.heat.inner {
  background: var(--tape-deep);
  color: #2e2c2a;
}

.rest {
  background: var(--verdigris-pale);
}

.legend {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 20px;
}

.legend b {
  font-weight: 400;
  display: flex;
  gap: 8px;
  align-items: center;
}

.legend span {
  width: 22px;
  height: 14px;
}
</style>
