<script setup lang="ts">
import { computed, ref } from "vue";
import { api, take, type DesignIn } from "@/api/client";
import { useAsk, useCatalogue } from "@/api/queries";
import { useUnit } from "@/parts/units";

/** A girth of the wearer that a model is brought to. */
const props = defineProps<{ piece: number; tag: string }>();
const emit = defineEmits<{ take: [girth: number] }>();
const { show } = useUnit();
const catalogue = useCatalogue();
const template = ref("bracer");
const girths = useAsk({
  queryKey: ["girths", computed(() => props.piece), computed(() => props.tag), template],
  queryFn: (how) =>
    take(
      api.GET("/api/pieces/{piece}/girths", {
        ...how,
        params: { path: { piece: props.piece }, query: { template: template.value as DesignIn["template"] } },
      }),
    ),
});
</script>

<template>
  <section>
    <h3>As large as the wearer</h3>
    <label class="worn"
      ><span>Worn where</span>
      <select v-model="template" class="press" name="girth-of">
        <option v-for="t in catalogue.data.value?.templates" :key="t.name" :value="t.name">a {{ t.word }} is</option>
      </select></label
    >
    <p v-if="girths.isError.value" class="words">{{ girths.error.value?.message }}</p>
    <div v-else class="choices">
      <button
        v-for="g in girths.data.value"
        :key="g.name"
        class="press small"
        :data-girth="g.name"
        @click="emit('take', Math.round(g.foam * 10) / 10)">
        {{ g.name }} <span class="figures soft">{{ show(g.body) }} → {{ show(g.foam) }}</span>
      </button>
    </div>
  </section>
</template>

<style scoped>
.worn {
  display: grid;
  grid-template-columns: auto minmax(0, 1fr);
  gap: 8px;
  align-items: center;
}

.choices {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}
</style>
