<script setup lang="ts">
import { computed, ref } from "vue";
import { api, sendFile, take, type Schemas } from "@/api/client";
import { say, useAsk, useChange } from "@/api/queries";
import { typed, useUnit } from "@/parts/units";

/** A reference picture under the ink: bring it in, set how strongly it shows, and scale it by two points. */
const props = defineProps<{ piece: number }>();
const { unit } = useUnit();
const asked = useAsk({
  queryKey: ["picture", props.piece],
  queryFn: (how) => take(api.GET("/api/pieces/{piece}/picture", { ...how, params: { path: { piece: props.piece } } })),
});
const picture = computed(() => asked.data.value ?? null);
const placing = ref<Schemas["PicturePlacing"] | null>(null);
const now = computed(() => placing.value ?? picture.value?.placing ?? null);

const laid = computed(() => {
  if (!picture.value || !now.value?.shown) return null;
  const [w, h] = picture.value.size;
  return {
    href: `/api/pictures/${picture.value.id}/file`,
    x: now.value.at[0],
    y: -now.value.at[1],
    width: w * now.value.scale,
    height: h * now.value.scale,
    opacity: now.value.opacity ?? 0.5,
  };
});

const bring = useChange((file: File) =>
  sendFile(`/api/pieces/${props.piece}/picture?name=${encodeURIComponent(file.name)}`, file),
);
const place = useChange((p: Schemas["PicturePlacing"]) =>
  take(api.PUT("/api/pictures/{picture}", { params: { path: { picture: picture.value!.id } }, body: p })),
);
const remove = useChange(() =>
  take(api.DELETE("/api/pictures/{picture}", { params: { path: { picture: picture.value!.id } } })),
);

function set(change: Partial<Schemas["PicturePlacing"]>) {
  placing.value = { ...now.value!, ...change };
  place.mutate(placing.value as Schemas["PicturePlacing"], { onSuccess: () => (placing.value = null) });
}

/** Two points on the picture whose distance on the wearer is known. */
const points = ref<[number, number][]>([]);
const scaling = ref(false);
const apart = ref("");
function begin() {
  points.value = [];
  scaling.value = true;
}

function measured(at: [number, number]) {
  points.value = [...points.value, at].slice(-2);
}

function number(text: string): number {
  const words = typed(text, unit.value);
  const found = /^([\d.,]+)(?:\s+(\d+)\/(\d+))?\s*(mm|cm|in)?$/.exec(words);
  if (!found) return 0;
  const value = Number(found[1].replace(",", ".")) + (found[2] ? Number(found[2]) / Number(found[3]) : 0);
  return value * ({ cm: 10, in: 25.4 }[found[4] ?? ""] ?? 1);
}

function fit() {
  const [a, b] = points.value;
  const wanted = number(apart.value);
  const seen = Math.hypot(b[0] - a[0], b[1] - a[1]);
  if (!wanted || seen < 1)
    return say("Write the distance between the two points on the wearer, like 410 or 16 1/8 in", "warning");
  const by = wanted / seen;
  const [x, y] = now.value!.at;
  set({ scale: now.value!.scale * by, at: [a[0] + (x - a[0]) * by, a[1] + (y - a[1]) * by] });
  scaling.value = false;
  points.value = [];
}

function pick(event: Event) {
  const input = event.target as HTMLInputElement;
  if (input.files?.[0]) bring.mutate(input.files[0]);
  input.value = "";
}
defineExpose({ laid, scaling, measured });
</script>

<template>
  <div class="picture">
    <label class="press small"
      ><input class="file" type="file" name="picture" accept="image/jpeg,image/png,image/webp" @change="pick" />{{
        picture ? "Another picture" : "Reference picture under the ink"
      }}</label
    >
    <template v-if="picture && now">
      <template v-if="scaling">
        <span>{{
          points.length < 2
            ? `Press point ${points.length + 1} of 2 on the picture`
            : "On the wearer these are apart by"
        }}</span>
        <template v-if="points.length === 2"
          ><input v-model="apart" class="apart figures" name="apart" :placeholder="unit" @keydown.enter="fit" /><button
            class="press small main"
            @click="fit">
            Scale
          </button></template
        >
        <button class="press small" @click="scaling = false">Leave it</button>
      </template>
      <template v-else>
        <label class="soft"
          >shows
          <input
            v-says="now.opacity"
            type="range"
            min="0"
            max="1"
            step="0.05"
            aria-label="Strength of the picture"
            @change="set({ opacity: Number(($event.target as HTMLInputElement).value) })"
        /></label>
        <button class="press small" @click="begin">Scale by two points</button>
        <button class="press small" @click="set({ at: [now.at[0], now.at[1] + 20] })">↑</button
        ><button class="press small" @click="set({ at: [now.at[0], now.at[1] - 20] })">↓</button>
        <button class="press small" @click="set({ at: [now.at[0] - 20, now.at[1]] })">←</button
        ><button class="press small" @click="set({ at: [now.at[0] + 20, now.at[1]] })">→</button>
        <button class="press small" @click="remove.mutate(undefined)">Take away</button>
      </template>
    </template>
  </div>
</template>

<style scoped>
.picture {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  align-items: center;
}

.apart {
  width: 90px;
  height: 32px;
}

.soft {
  display: flex;
  gap: 6px;
  align-items: center;
}

input[type="range"] {
  width: 90px;
  accent-color: var(--verdigris);
}
</style>
