<script setup lang="ts">
import type { Piece } from "@/api/client";

/** What a screen says of a piece whose panels came flat, from a photograph or a file. */
defineProps<{ piece?: Piece }>();
</script>

<template>
  <p v-if="piece?.design.flat" class="words">
    <span><b>Its panels came flat.</b> <slot /></span>
  </p>
</template>
