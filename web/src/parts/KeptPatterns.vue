<script setup lang="ts">
import { computed, ref, watch } from "vue";
import { api, take } from "@/api/client";
import { say, useAsk, useChange, usePieceQuery } from "@/api/queries";
import OverlaySheet from "@/canvas/OverlaySheet.vue";
import { useUnit } from "./units";

/** Every kept version of a piece: held against another, printed as it was, or put back on the table. */
const props = defineProps<{ piece: number; paper: string }>();
/** What is compared: a version with a later one, or with the piece as it is now. */
const compare = defineModel<{ from: number; to: number | null } | null>({ required: true });
const { show } = useUnit();
const piece = computed(() => props.piece);
const versions = usePieceQuery("versions", piece, (p, how) =>
  take(api.GET("/api/pieces/{piece}/versions", { ...how, params: { path: { piece: p } } })),
);
const newestFirst = computed(() => [...(versions.data.value ?? [])].reverse());
const overlay = useAsk({
  queryKey: ["overlay", piece, compare],
  queryFn: (how) =>
    take(
      api.GET("/api/pieces/{piece}/versions/{number}/overlay", {
        ...how,
        params: {
          path: { piece: piece.value, number: compare.value!.from },
          query: { against: compare.value!.to ?? undefined },
        },
      }),
    ),
  enabled: computed(() => compare.value !== null && piece.value > 0),
});
const putBack = useChange(async (number: number) => {
  await take(
    api.POST("/api/pieces/{piece}/versions/{number}/put-back", { params: { path: { piece: piece.value, number } } }),
  );
  say(`Drawn again as in version ${number}, on the newest measures. Undo takes it back.`);
});
const against = ref("now");
watch(compare, (now) => (against.value = now?.to ? String(now.to) : "now"));
function choose(from: number) {
  compare.value = compare.value?.from === from ? null : { from, to: null };
}
const when = (s: number) =>
  new Date(s * 1000).toLocaleString(undefined, { day: "numeric", month: "short", hour: "2-digit", minute: "2-digit" });
const file = (number: number, kind: string) =>
  `/api/pieces/${piece.value}/${kind}?version=${number}${kind.endsWith(".pdf") ? `&paper=${props.paper}` : ""}`;
</script>

<template>
  <section>
    <h3>Kept patterns</h3>
    <p class="soft small">Kept for ever: undo does not touch them.</p>
    <ul class="plain-list">
      <li v-for="v in newestFirst" :key="v.number">
        <button
          class="version"
          :class="{ on: compare?.from === v.number }"
          :aria-expanded="compare?.from === v.number"
          @click="choose(v.number)">
          <b>{{ v.number }}</b>
          <span
            >{{ v.name }}<br /><span class="soft small">{{ when(v.kept_at) }} · {{ show(v.foam) }} foam</span></span
          >
        </button>
        <div v-if="compare?.from === v.number" class="open">
          <label class="small"
            >Held against
            <select
              class="press"
              name="against"
              :value="against"
              @change="compare = { from: v.number, to: Number(($event.target as HTMLSelectElement).value) || null }">
              <option value="now">the piece as it is now</option>
              <option
                v-for="o in newestFirst.filter((o) => o.number !== v.number)"
                :key="o.number"
                :value="String(o.number)">
                version {{ o.number }}: {{ o.name }}
              </option>
            </select>
          </label>
          <OverlaySheet
            v-if="overlay.data.value"
            :overlay="overlay.data.value"
            :old-word="`version ${compare.from}`"
            :new-word="compare.to ? `version ${compare.to}` : 'now'" />
          <button class="press" :disabled="putBack.isPending.value" @click="putBack.mutate(v.number)">
            Put it back on the table
          </button>
          <p class="small">
            As it was then: <a :href="file(v.number, 'pattern.pdf')" download>pages</a>,
            <a :href="file(v.number, 'pattern.svg')" download>SVG</a>,
            <a :href="file(v.number, 'pattern.dxf')" download>DXF</a>,
            <a :href="file(v.number, 'card.pdf')" download>record card</a>
          </p>
        </div>
      </li>
    </ul>
    <p v-if="!newestFirst.length" class="soft">None yet. Keep one on the Flatten screen before you cut.</p>
  </section>
</template>

<style scoped>
.version {
  display: flex;
  gap: 12px;
  width: 100%;
  padding: 8px;
  border: 0;
  border-bottom: 1px solid var(--sheet-line);
  background: none;
  color: inherit;
  text-align: left;
  cursor: pointer;
}

.version.on {
  background: var(--verdigris-pale);
}

.version > b {
  font: 700 22px var(--slab);
}

.open {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 10px;
  padding: 10px 0 16px;
}

select {
  width: 100%;
}
</style>
