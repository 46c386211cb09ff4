<script setup lang="ts">
import { computed } from "vue";
import type { Schemas } from "@/api/client";
import { path } from "@/canvas/flatPaths";

/** What of one part shows on one panel: one drawn path, made anew only where the part changed. */
const props = defineProps<{ shown: readonly Schemas["ShownOut"][]; code: string }>();
const drawn = computed(() =>
  props.shown
    .filter((s) => s.code === props.code)
    .flatMap((s) => s.rings.map((ring) => path(ring, true)))
    .join(" "),
);
</script>

<template>
  <path v-if="drawn" :d="drawn" />
</template>
