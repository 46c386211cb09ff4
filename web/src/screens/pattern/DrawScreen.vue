<script setup lang="ts">
import { useHere } from "@/api/queries";
import InkScreen from "./ink/InkScreen.vue";
import SolidSheet from "./solid/SolidSheet.vue";

/** Where a piece gets its shape: from measures of its own, or from the ink on the body. */
const { piece } = useHere();
</script>

<template>
  <SolidSheet v-if="piece?.design.solid" :piece="piece" />
  <InkScreen v-else />
</template>
