<script setup lang="ts">
import { computed } from "vue";
import type { Schemas } from "@/api/client";
import { useUnit } from "@/parts/units";
import { path } from "./flatPaths";

/** Old and new outlines over each other, panel by panel, as they lie on the table. */
const props = defineProps<{ overlay: Schemas["OverlayOut"]; oldWord: string; newWord: string }>();
const { show } = useUnit();
const box = computed(() => {
  const all = props.overlay.panels.flatMap((p) => [...p.old, ...p.new]);
  const xs = all.map((p) => p[0]);
  const ys = all.map((p) => -p[1]);
  const [left, top] = [Math.min(...xs) - 8, Math.min(...ys) - 8];
  return [left, top, Math.max(...xs) + 8 - left, Math.max(...ys) + 8 - top].join(" ");
});
</script>

<template>
  <figure>
    <svg :viewBox="box" role="img" :aria-label="`${oldWord} and ${newWord} over each other`">
      <g v-for="p in overlay.panels" :key="p.code">
        <path class="new" :d="path(p.new, true)" />
        <path v-if="p.before" class="old" :d="path(p.old, true)" />
      </g>
    </svg>
    <figcaption class="small">
      <span class="key old-key">{{ oldWord }}</span><span class="key new-key">{{ newWord }}</span>
    </figcaption>
    <ul class="plain-list">
      <li v-for="p in overlay.panels" :key="p.code">
        <span
          >{{ p.code }}<template v-if="p.before && p.before !== p.code">, was {{ p.before }}</template></span
        ><span v-if="p.before" class="figures"
          >farthest apart <b>{{ show(p.apart) }}</b></span
        ><span v-else>new</span>
      </li>
      <li v-if="overlay.gone.length">
        <span>{{ overlay.gone.join(", ") }}</span><span>no longer there</span>
      </li>
    </ul>
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

li {
  display: flex;
  justify-content: space-between;
  gap: 12px;
  padding: 3px 0;
}

path {
  vector-effect: non-scaling-stroke;
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
