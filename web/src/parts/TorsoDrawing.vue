<script setup lang="ts">
import { ref } from "vue";

/** Our own drawing of a trunk, front above and back below, with a tape where each measure is taken. */
defineProps<{ at: string; given: readonly string[] }>();
const emit = defineEmits<{ pick: [name: string] }>();

const TRUNK =
  "M66 12c0 10-4 13-14 17-9 4-19 6-24 12 5 8 8 18 9 28 1 11-2 18-1 28 1 9 4 15 3 23-2 14-7 22-8 36h98" +
  "c-1-14-6-22-8-36-1-8 2-14 3-23 1-10-2-17-1-28 1-10 4-20 9-28-5-6-15-8-24-12-10-4-14-7-14-17z";
const FRONT: { name: string; d: string }[] = [
  { name: "neck", d: "M64 20c6 9 26 9 32 0" },
  { name: "bust", d: "M36 72c16 9 72 9 88 0" },
  { name: "underbust", d: "M36 92c16 8 72 8 88 0" },
  { name: "waist", d: "M39 114c16 7 66 7 82 0" },
  { name: "hip", d: "M31 150c18 8 80 8 98 0" },
  { name: "front length", d: "M80 27v88" },
  { name: "bust point drop", d: "M97 22c4 16 6 32 5 50" },
  { name: "bust points apart", d: "M58 70h44" },
  { name: "armhole", d: "M130 43c-10 6-12 24-6 33 8 2 12-14 6-33" },
  { name: "waist to hip", d: "M125 118c2 12 5 22 7 32" },
  { name: "waist to armpit", d: "M36 110c-2-12 0-24-1-34" },
];
const BACK: { name: string; d: string }[] = [
  { name: "back length", d: "M80 14v101" },
  { name: "shoulder width", d: "M29 42h102" },
  { name: "shoulder drop", d: "M98 22v20M98 22h30" },
];
/** Not a constant: a list that never changes is patched without its drawing namespace. */
const views = ref([
  { word: "front", lines: FRONT },
  { word: "back", lines: BACK },
]);
</script>

<template>
  <div class="views">
    <svg
      v-for="v in views"
      :key="v.word"
      viewBox="16 4 128 156"
      role="group"
      :aria-label="`Where to measure, ${v.word}`">
      <path class="trunk" :d="TRUNK" />
      <template v-if="v.word === 'front'">
        <path class="form" d="M46 68c2 12 24 14 30 3M114 68c-2 12-24 14-30 3" />
      </template>
      <path v-else class="form" d="M60 46c-6 8-6 22 2 28M100 46c6 8 6 22-2 28M80 50v90" />
      <g
        v-for="l in v.lines"
        :key="l.name"
        :class="{ at: at === l.name, given: given.includes(l.name) }"
        @click="emit('pick', l.name)">
        <path class="tape" :d="l.d" />
        <path class="reach" :d="l.d" />
        <title>{{ l.name }}</title>
      </g>
      <text x="18" y="16">{{ v.word }}</text>
    </svg>
  </div>
</template>

<style scoped>
.views {
  display: grid;
  gap: 6px;
}

svg {
  width: 100%;
  max-width: 170px;
}

.trunk {
  fill: color-mix(in srgb, var(--tape) 22%, var(--sheet));
  stroke: var(--graphite);
  stroke-width: 1.8;
  stroke-linejoin: round;
}

.form {
  fill: none;
  stroke: var(--tape-deep);
  stroke-width: 1.2;
}

.tape {
  fill: none;
  stroke: var(--ochre-fill);
  stroke-width: 2.2;
  stroke-linecap: round;
}

.given .tape {
  stroke: var(--verdigris);
}

.at .tape {
  stroke: var(--oxide);
  stroke-width: 4.2;
}

.reach {
  fill: none;
  stroke: transparent;
  stroke-width: 10;
  cursor: pointer;
}

text {
  fill: var(--graphite-soft);
  font: 11px var(--sans);
}
</style>
