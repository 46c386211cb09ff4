<script setup lang="ts">
import { computed, ref } from "vue";
import { api, take } from "@/api/client";
import { useAsk, useChange, useHere } from "@/api/queries";
import ScreenFrame from "@/frame/ScreenFrame.vue";
import { moment } from "@/parts/moments";

/** One line a day on the whole build. */
const { build, buildId, pieceId } = useHere();
const entries = useAsk({
  queryKey: ["log", buildId],
  queryFn: (how) =>
    take(api.GET("/api/builds/{build}/log-entries", { ...how, params: { path: { build: buildId.value } } })),
  enabled: computed(() => buildId.value > 0),
});
const text = ref("");
const write = useChange(async () => {
  await take(
    api.POST("/api/builds/{build}/log-entries", {
      params: { path: { build: buildId.value } },
      body: { text: text.value.trim(), piece_id: pieceId.value || null },
    }),
  );
  text.value = "";
});
const remove = useChange((id: number) =>
  take(api.DELETE("/api/log-entries/{entry}", { params: { path: { entry: id } } })),
);
const pieceName = (id: number | null) => build.value?.pieces.find((p) => p.id === id)?.name;
</script>

<template>
  <ScreenFrame title="Logbook" about="Notes on the whole build">
    <template #tools><a class="press" :href="`/api/builds/${buildId}/log.csv`" download="logbook.csv">CSV</a></template>

    <section class="sheet block">
      <h3>Notes</h3>
      <form class="write" @submit.prevent="write.mutate(undefined)">
        <textarea
          v-model="text"
          rows="2"
          maxlength="10000"
          placeholder="What you did, what you would do otherwise"
          aria-label="New note" />
        <button class="press main" type="submit" :disabled="!text.trim()">Write it down</button>
      </form>
      <article v-for="e in entries.data.value ?? []" :key="e.id" class="entry">
        <span class="soft small"
          >{{ moment(e.written_at)
          }}<template v-if="pieceName(e.piece_id)"><br />{{ pieceName(e.piece_id) }}</template></span
        >
        <p>{{ e.text }}</p>
        <button class="press plain small" title="Undo brings it back" @click="remove.mutate(e.id)">Remove</button>
      </article>
      <p v-if="!entries.data.value?.length" class="soft">
        Empty. One line a day is enough: which glue, which gun setting, what went wrong.
      </p>
    </section>
  </ScreenFrame>
</template>

<style scoped>
.block {
  display: grid;
  gap: 12px;
  padding: 18px 22px;
}

.write {
  display: grid;
  gap: 12px;
  justify-items: start;
}

.entry {
  display: grid;
  grid-template-columns: 130px 1fr auto;
  gap: 14px;
  padding-top: 12px;
  border-top: 1px solid var(--sheet-line);
  overflow-wrap: anywhere;
}

@media (max-width: 760px) {
  .entry {
    grid-template-columns: 1fr;
  }
}
</style>
