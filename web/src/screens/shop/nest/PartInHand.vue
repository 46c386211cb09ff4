<script setup lang="ts">
/** The part that a hand moves over a sheet, in a picture of its own: what lies under it is not drawn anew. */
defineProps<{ view: string; d: string; wrong: boolean; by: () => readonly [number, number] }>();
</script>

<template>
  <svg class="in-hand" :class="{ wrong }" :viewBox="view" aria-hidden="true">
    <path :d="d" fill-rule="evenodd" :transform="`translate(${by()[0]} ${-by()[1]})`" />
  </svg>
</template>

<style scoped>
.in-hand {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
  pointer-events: none;
  will-change: transform;
}

path {
  fill: #bfe0db;
  stroke: #2f7f79;
  stroke-width: 5;
}

.wrong path {
  fill: #f0c9be;
  stroke: var(--oxide);
}
</style>
