<script setup lang="ts">
import { computed } from "vue";
import type { Piece } from "@/api/client";

/** What a screen says of a piece whose panels came flat, traced or from a file; unlaid: while they lie nowhere. */
const props = defineProps<{ piece?: Piece; unlaid?: boolean }>();
const said = computed(() => props.piece?.design.flat && !(props.unlaid && props.piece.design.flat.lies?.length));
</script>

<template>
  <p v-if="said" class="words">
    <span><b>Its panels came flat.</b> <slot /></span>
  </p>
</template>
