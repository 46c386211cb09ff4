<script setup lang="ts">
import ScreenFrame from "@/frame/ScreenFrame.vue";
import WorkshopSheet from "./bench/WorkshopSheet.vue";
</script>

<template>
  <ScreenFrame title="Workshop" about="What you have, and how fast you work: every build reads it">
    <WorkshopSheet />
  </ScreenFrame>
</template>
