<script setup lang="ts">
import { useHere } from "@/api/queries";
import AssembleSheet from "./flatten/AssembleSheet.vue";
import FlattenScreen from "./flatten/FlattenScreen.vue";
import SolidSheet from "./solid/SolidSheet.vue";

/** The table, by where a piece's panels come from: its own measures, a photograph or a file, the ink on the body. */
const { piece } = useHere();
</script>

<template>
  <SolidSheet v-if="piece?.design.solid" :piece="piece" />
  <AssembleSheet v-else-if="piece?.design.flat" :piece="piece" />
  <FlattenScreen v-else />
</template>
