<script setup lang="ts">
import { computed } from "vue";
import { api, take } from "@/api/client";
import { useAsk, useChange } from "@/api/queries";

/** A caution at the step it belongs to, acknowledged once a build. */
const props = defineProps<{ build: number; keys: readonly string[] }>();
const path = () => ({ params: { path: { build: props.build } } });
const cautions = useAsk({
  queryKey: ["cautions", computed(() => props.build)],
  queryFn: (how) => take(api.GET("/api/builds/{build}/cautions", { ...how, ...path() })),
});
const wanted = computed(() => cautions.data.value?.cautions.filter((c) => props.keys.includes(c.key)) ?? []);
const open = computed(() => wanted.value.filter((c) => !c.seen));
const see = useChange((key: string) =>
  take(api.PUT("/api/builds/{build}/cautions/{key}", { params: { path: { build: props.build, key } } })),
);
</script>

<template>
  <div class="gate">
    <section v-for="c in open" :key="c.key" class="words caution" :data-caution="c.key">
      <div>
        <h3>{{ c.title }}</h3>
        <ul>
          <li v-for="r in c.rules" :key="r">{{ r }}</li>
        </ul>
        <p class="soft small">{{ cautions.data.value?.standing }}</p>
        <button class="press" @click="see.mutate(c.key)">I have read this</button>
      </div>
    </section>
    <details v-for="c in wanted.filter((c) => c.seen)" :key="c.key">
      <summary>{{ c.title }}: read ✓</summary>
      <ul>
        <li v-for="r in c.rules" :key="r">{{ r }}</li>
      </ul>
    </details>
    <slot v-if="cautions.isSuccess.value && !open.length" />
  </div>
</template>

<style scoped>
.gate {
  display: grid;
  gap: 10px;
}

ul {
  margin: 6px 0 10px;
  padding-left: 20px;
}

.caution .press {
  min-height: 48px;
  margin-top: 8px;
}

summary {
  cursor: pointer;
}
</style>
