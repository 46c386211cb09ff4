<script setup lang="ts">
import { computed, ref, watch } from "vue";
import { useRouter } from "vue-router";
import { api, take } from "@/api/client";
import { freshBuilds, useAsk, useBuilds, useChange, useHere } from "@/api/queries";

/** Panels of a piece of another build, drawn anew on this wearer: a piece of their own, or beside panels. */
const props = defineProps<{ build: number }>();
const emit = defineEmits<{ added: [] }>();
const router = useRouter();
const builds = useBuilds();
const { piece } = useHere();
const source = ref(0);
const beside = ref(false);
const left = ref<number[]>([]);
watch(source, () => (left.value = []));
const others = computed(() => (builds.data.value ?? []).filter((b) => b.id !== props.build && b.pieces.length));
const pattern = useAsk({
  queryKey: ["pattern of another", source],
  queryFn: (how) => take(api.GET("/api/pieces/{piece}/pattern", { ...how, params: { path: { piece: source.value } } })),
  enabled: computed(() => source.value > 0),
});
const panels = computed(() => (source.value && !pattern.isError.value ? (pattern.data.value?.panels ?? []) : []));
const chosen = computed(() => panels.value.map((p) => p.number).filter((n) => !left.value.includes(n)));
const borrow = useChange(async () => {
  const made = await take(
    api.POST("/api/builds/{build}/borrowed", {
      params: { path: { build: props.build } },
      body: { piece: source.value, panels: chosen.value, into: beside.value ? (piece.value?.id ?? null) : null },
    }),
  );
  await freshBuilds();
  emit("added");
  await router.push({ name: "flatten", params: { build: props.build }, query: { piece: made.id } });
});
</script>

<template>
  <div v-if="others.length" class="borrow">
    <select v-model="source" class="press" name="borrow-from" aria-label="A piece of another build">
      <option :value="0">a piece of another build…</option>
      <optgroup v-for="b in others" :key="b.id" :label="b.name">
        <option v-for="p in b.pieces.filter((x) => !x.design.solid)" :key="p.id" :value="p.id">{{ p.name }}</option>
      </optgroup>
    </select>
    <template v-if="panels.length">
      <label v-for="p in panels" :key="p.label.code" class="tick"
        ><input
          type="checkbox"
          :name="`borrow-${p.number}`"
          :checked="!left.includes(p.number)"
          @change="left = left.includes(p.number) ? left.filter((n) => n !== p.number) : [...left, p.number]" />
        {{ p.label.code }}</label
      >
      <label v-if="piece?.design.flat" class="tick"
        ><input v-model="beside" type="checkbox" name="borrow-beside" /> beside the panels of {{ piece.name }}</label
      >
      <button
        class="press"
        name="borrow"
        :disabled="!chosen.length || borrow.isPending.value"
        @click="borrow.mutate(undefined)">
        Draw them on this wearer
      </button>
    </template>
    <p v-else-if="source && pattern.isError.value" class="words">{{ pattern.error.value?.message }}</p>
  </div>
  <p v-else class="soft small">Panels of another costume can be used again here, once there is one.</p>
</template>

<style scoped>
.borrow {
  display: flex;
  flex-wrap: wrap;
  gap: 7px 14px;
  align-items: center;
}

select {
  max-width: 260px;
}

.tick {
  display: flex;
  gap: 6px;
  align-items: center;
}
</style>
