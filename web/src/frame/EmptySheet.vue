<script setup lang="ts">
/** What stands where nothing is yet: says what comes next and offers it. */
defineProps<{ title: string }>();
</script>

<template>
  <div class="empty sheet">
    <h3>{{ title }}</h3>
    <div class="why"><slot /></div>
    <div class="do"><slot name="do" /></div>
  </div>
</template>

<style scoped>
.empty {
  display: grid;
  gap: 14px;
  max-width: 560px;
  margin: 24px 0;
  padding: 28px 32px;
  transform: rotate(-0.4deg);
}

.do {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
}
</style>
