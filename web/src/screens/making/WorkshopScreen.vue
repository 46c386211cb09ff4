<script setup lang="ts">
/** What the maker has and how fast they work, for every build. */
import ScreenFrame from "@/frame/ScreenFrame.vue";
import WorkshopSheet from "./bench/WorkshopSheet.vue";
</script>

<template>
  <ScreenFrame title="Workshop" about="What you have, and how fast you work: every build reads it">
    <WorkshopSheet />
  </ScreenFrame>
</template>
