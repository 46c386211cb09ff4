<script setup lang="ts">
import { computed } from "vue";
import { Refusal } from "@/api/client";
import { useHere } from "@/api/queries";
import AddPiece from "@/parts/AddPiece.vue";
import { useUnit } from "@/parts/units";
import EmptySheet from "./EmptySheet.vue";

/** Why there is no pattern to show, and the way to one. */
const props = defineProps<{ error?: Error | null }>();
const { build, piece } = useHere();
const { say } = useUnit();
const field = computed(() => (props.error instanceof Refusal ? (props.error.fields[0]?.field ?? "") : ""));
const measuring = computed(
  () => field.value === "measurements" || field.value.startsWith("limbs") || field.value.endsWith("girth"),
);
</script>

<template>
  <EmptySheet v-if="build && !piece" title="Which piece comes first?">
    <p>Each piece starts from a template on its own limb. Its pattern is drawn the moment the limb is measured.</p>
    <template #do><AddPiece :build="build.id" /></template>
  </EmptySheet>
  <EmptySheet v-else-if="error" title="No pattern yet">
    <p>{{ say(error.message) }}.</p>
    <template #do>
      <RouterLink
        v-if="measuring"
        class="press main"
        :to="{ name: 'wearer', params: { build: build?.id }, query: { piece: piece?.id } }"
        >Measure the {{ piece?.segment }}</RouterLink
      >
    </template>
  </EmptySheet>
  <p v-else class="soft">Laying it out…</p>
</template>
