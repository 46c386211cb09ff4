<script setup lang="ts">
import { computed } from "vue";
import type { Schemas } from "@/api/client";
import { useUnit } from "@/parts/units";

/** Old and new outline over each other, centre lines together. */
const props = defineProps<{ overlay: Schemas["OverlayOut"]; oldWord: string; newWord: string }>();
const { show } = useUnit();
const path = (points: readonly (readonly number[])[]) => `M${points.map((p) => `${p[0]},${-p[1]}`).join("L")}Z`;
const box = computed(() => {
  const all = [...props.overlay.old, ...props.overlay.new];
  const xs = all.map((p) => p[0]);
  const ys = all.map((p) => -p[1]);
  return `${Math.min(...xs) - 8} ${Math.min(...ys) - 8} ${Math.max(...xs) - Math.min(...xs) + 16} ${Math.max(...ys) - Math.min(...ys) + 16}`;
});
</script>

<template>
  <figure>
    <svg :viewBox="box" role="img" :aria-label="`${oldWord} and ${newWord} over each other`">
      <path class="new" :d="path(overlay.new)" />
      <path class="old" :d="path(overlay.old)" />
    </svg>
    <figcaption class="small">
      <span class="key old-key">{{ oldWord }}</span><span class="key new-key">{{ newWord }}</span>
      <span class="figures">farthest apart <b>{{ show(overlay.apart) }}</b></span>
    </figcaption>
  </figure>
</template>

<style scoped>
figure {
  margin: 0;
}

svg {
  width: 100%;
  max-height: 300px;
}

.new {
  fill: #fbf8f1;
  stroke: var(--verdigris);
  stroke-width: 1.6;
}

.old {
  fill: none;
  stroke: var(--plum);
  stroke-width: 1.4;
  stroke-dasharray: 5 3;
}

figcaption {
  display: flex;
  flex-wrap: wrap;
  gap: 18px;
}

.key::before {
  content: "";
  display: inline-block;
  width: 26px;
  margin-right: 7px;
  border-top: 3px solid var(--verdigris);
  vertical-align: middle;
}

.old-key::before {
  border-top: 3px dashed var(--plum);
}
</style>
