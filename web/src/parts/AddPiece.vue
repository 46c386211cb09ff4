<script setup lang="ts">
import { computed } from "vue";
import { useRouter } from "vue-router";
import { api, sendFile, take, type DesignIn, type Schemas } from "@/api/client";
import BorrowPanels from "./BorrowPanels.vue";
import { freshBuilds, say, useAsk, useCatalogue, useChange } from "@/api/queries";

/** The pieces that can be made, a press each, from the trunk out; or a whole costume at once. */
const props = defineProps<{ build: number }>();
const emit = defineEmits<{ added: [] }>();
const router = useRouter();
const catalogue = useCatalogue();
const GROUPS: [string, string[]][] = [
  ["Trunk", ["breastplate", "backplate", "shoulder extension", "faulds", "belt", "bandolier"]],
  ["Neck and arms", ["gorget", "pauldron", "rerebrace", "segmented rerebrace", "bracer", "segmented bracer"]],
  ["Legs", ["tasset", "cuisse", "poleyn", "greave", "ridged greave", "sabaton cap"]],
];
const groups = computed(() =>
  GROUPS.map(([word, names]) => ({
    word,
    templates: names.flatMap((n) => (catalogue.data.value?.templates ?? []).filter((t) => t.name === n)),
  })),
);
const add = useChange(async (template: DesignIn["template"]) => {
  const found = catalogue.data.value!.templates.find((t) => t.name === template)!;
  const piece = await take(
    api.POST("/api/builds/{build}/pieces", {
      params: { path: { build: props.build } },
      body: { name: "", design: found.design as DesignIn },
    }),
  );
  await freshBuilds();
  emit("added");
  await router.push({
    name: found.drawn ? "ink" : "flatten",
    params: { build: props.build },
    query: { piece: piece.id },
  });
});
const solids = useAsk({
  queryKey: ["solids"],
  queryFn: (how) => take(api.GET("/api/solids", how)),
  staleTime: Infinity,
});
/** A part that no cast gives starts from usual measures. */
const shape = useChange(async (kind: string) => {
  const found = solids.data.value!.find((k) => k.kind === kind)!;
  const piece = await take(
    api.POST("/api/builds/{build}/pieces", {
      params: { path: { build: props.build } },
      body: { name: found.word, design: { template: "belt", solid: found.solid } as DesignIn },
    }),
  );
  await freshBuilds();
  emit("added");
  await router.push({ name: "flatten", params: { build: props.build }, query: { piece: piece.id } });
});
/** A mesh file is brought in as a model, to be unfolded. */
const unfold = useChange(async (file: File) => {
  const path = `/api/builds/${props.build}/models?name=${encodeURIComponent(file.name)}`;
  const piece = await sendFile<Schemas["ModelBroughtIn"]>(path, file);
  for (const words of piece.said) say(words);
  await freshBuilds();
  emit("added");
  await router.push({ name: "flatten", params: { build: props.build }, query: { piece: piece.id } });
});
function chosen(event: Event) {
  const input = event.target as HTMLInputElement;
  const file = input.files?.[0];
  input.value = "";
  if (file) unfold.mutate(file);
}
const costume = useChange(async () => {
  await take(api.POST("/api/builds/{build}/costume", { params: { path: { build: props.build } }, body: {} }));
  await freshBuilds();
  emit("added");
});
</script>

<template>
  <div class="add">
    <div v-for="g in groups" :key="g.word" class="group">
      <span class="soft">{{ g.word }}</span>
      <div class="pieces">
        <button
          v-for="t in g.templates"
          :key="t.name"
          class="press"
          :data-template="t.name"
          :disabled="add.isPending.value"
          @click="add.mutate(t.name as DesignIn['template'])">
          + {{ t.word }}
        </button>
      </div>
    </div>
    <div class="group">
      <span class="soft">Without a cast</span>
      <div class="pieces">
        <button
          v-for="k in solids.data.value"
          :key="k.kind"
          class="press"
          :data-solid="k.kind"
          :title="k.about"
          :disabled="shape.isPending.value"
          @click="shape.mutate(k.kind)">
          + {{ k.word }}
        </button>
        <label class="press"
          ><input class="file" type="file" name="model" accept=".obj,.stl,.ply,.glb" @change="chosen" />{{
            unfold.isPending.value ? "Reading it…" : "Unfold a mesh file…"
          }}</label
        >
      </div>
    </div>
    <div class="group">
      <span class="soft">Used again</span>
      <BorrowPanels :build="build" @added="emit('added')" />
    </div>
    <button
      class="press main whole"
      :disabled="costume.isPending.value"
      title="One undo takes them away again"
      @click="costume.mutate(undefined)">
      Lay a whole costume on the figure
    </button>
  </div>
</template>

<style scoped>
.add {
  display: grid;
  gap: 8px;
}

.group {
  display: grid;
  grid-template-columns: minmax(0, 110px) minmax(0, 1fr);
  gap: 7px;
  align-items: center;
}

.pieces {
  display: flex;
  flex-wrap: wrap;
  gap: 7px;
}

@media (max-width: 560px) {
  .group {
    grid-template-columns: minmax(0, 1fr);
  }
}

.whole {
  justify-self: start;
}
</style>
