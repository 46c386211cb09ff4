<script setup lang="ts">
import { watchDebounced } from "@vueuse/core";
import { computed, ref } from "vue";
import { sendFile, type Schemas } from "@/api/client";
import { say as tell } from "@/api/queries";
import { typed, useUnit } from "@/parts/units";

/** A drawing of the maker's own as what is cut from film: its closed lines, how wide, how much it covers. */
const props = defineProps<{ wide: string }>();
const motif = defineModel<Schemas["MotifOut"] | null>({ required: true });
const { show, unit } = useUnit();
const file = ref<File | null>(null);
/** How often it was asked for: an answer that was overtaken is not shown. */
let asked = 0;
const read = async () => {
  if (!file.value) return;
  const mine = ++asked;
  const wide = props.wide.trim() ? `&wide=${encodeURIComponent(String(typed(props.wide, unit.value)))}` : "";
  const path = `/api/motifs?name=${encodeURIComponent(file.value.name)}${wide}`;
  const made = await sendFile<Schemas["MotifOut"]>(path, file.value).catch((error: Error) => error);
  if (mine !== asked) return;
  motif.value = made instanceof Error ? null : made;
  if (made instanceof Error) tell(made.message, "error");
};
const choose = (event: Event) => {
  file.value = (event.target as HTMLInputElement).files?.[0] ?? null;
  void read();
};
watchDebounced(() => props.wide, read, { debounce: 500 });
const path = computed(() =>
  (motif.value?.rings ?? [])
    .map((r) => `M${r.points.map(([x, y]) => `${x},${(motif.value?.high ?? 0) - y}`).join("L")}Z`)
    .join(""),
);
</script>

<template>
  <div class="motif">
    <label class="press"
      ><input class="file" type="file" name="detail-motif" accept=".svg,.dxf,.pdf" @change="choose" />{{
        file ? file.name : "Its drawing: SVG, DXF or PDF"
      }}</label
    >
    <figure v-if="motif">
      <svg :viewBox="`-2 -2 ${motif.wide + 4} ${motif.high + 4}`" role="img" aria-label="What is cut from film">
        <path :d="path" fill-rule="evenodd" />
      </svg>
      <figcaption class="soft">
        {{ show(motif.wide) }} × {{ show(motif.high) }}, covers {{ (motif.area / 100).toFixed(1) }} cm², its cut is
        {{ show(motif.length) }} long
      </figcaption>
    </figure>
  </div>
</template>

<style scoped>
.motif {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 16px;
}

figure {
  display: grid;
  gap: 4px;
  margin: 0;
}

svg {
  width: 120px;
  max-height: 90px;
}

path {
  fill: var(--graphite);
}
</style>
