<script setup lang="ts">
import { useRouter } from "vue-router";
import { api, take, type DesignIn } from "@/api/client";
import { freshBuilds, useCatalogue, useChange } from "@/api/queries";

/** The pieces that can be made, a press each. */
const props = defineProps<{ build: number }>();
const router = useRouter();
const catalogue = useCatalogue();
const add = useChange(async (template: DesignIn["template"]) => {
  const piece = await take(
    api.POST("/api/builds/{build}/pieces", { params: { path: { build: props.build } }, body: { name: "", design: { template, closure: "lacing" } } }),
  );
  await freshBuilds();
  await router.push({ name: "flatten", params: { build: props.build }, query: { piece: piece.id } });
});
</script>

<template>
  <div class="add">
    <button v-for="t in catalogue.data.value?.templates ?? []" :key="t.name" class="press" :disabled="add.isPending.value" @click="add.mutate(t.name as DesignIn['template'])">
      + {{ t.word }} <span class="soft small">{{ t.segment }}</span>
    </button>
  </div>
</template>

<style scoped>
.add {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
</style>
