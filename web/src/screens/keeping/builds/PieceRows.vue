<script setup lang="ts">
import { ref } from "vue";
import { api, seen, take, type Piece } from "@/api/client";
import { useChange } from "@/api/queries";

/** The pieces of a build with how far each is, to be opened, renamed and taken out. */
defineProps<{ pieces: Piece[] }>();
const emit = defineEmits<{ open: [piece: Piece] }>();
const renaming = ref(0);
const newName = ref("");
const path = (p: Piece) => ({ params: { path: { piece: p.id } } });
const removePiece = useChange((p: Piece) => take(api.DELETE("/api/pieces/{piece}", path(p))));
const rename = useChange((p: Piece) =>
  take(api.PATCH("/api/pieces/{piece}", { ...path(p), body: { name: newName.value.trim() }, headers: seen(p) })),
);

function saveName(p: Piece) {
  if (newName.value.trim() && newName.value.trim() !== p.name) rename.mutate(p);
  renaming.value = 0;
}

const share = (p: Piece) => (p.progress === null ? "not measured" : `${Math.round(p.progress * 100)} %`);
</script>

<template>
  <table class="ruled">
    <tbody>
      <tr v-for="p in pieces" :key="p.id">
        <td class="pname">
          <input
            v-if="renaming === p.id"
            v-model="newName"
            class="rename"
            maxlength="120"
            aria-label="New name"
            @keydown.enter="saveName(p)"
            @blur="saveName(p)" />
          <a v-else href="#" @click.prevent="emit('open', p)">{{ p.name }}</a>
        </td>
        <td class="soft">
          {{ p.design.solid?.kind ?? p.design.template
          }}{{
            p.design.solid || ["torso", "neck"].includes(p.segment)
              ? ""
              : p.design.side === "both"
                ? ", pair"
                : `, ${p.design.side}`
          }}
        </td>
        <td class="meter">
          <span class="track"><span :style="{ width: `${(p.progress ?? 0) * 100}%` }" /></span>
        </td>
        <td class="figures share">{{ share(p) }}</td>
        <td class="acts">
          <button class="press plain small" @click="((renaming = p.id), (newName = p.name))">Rename</button>
          <button
            class="press plain small"
            :title="`Remove ${p.name}; undo brings it back`"
            @click="removePiece.mutate(p)">
            Remove
          </button>
        </td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.pname a {
  color: inherit;
  text-decoration: none;
}

.pname a:hover {
  text-decoration: underline;
  text-decoration-color: var(--verdigris);
}

.pname {
  font-weight: 700;
  overflow-wrap: anywhere;
}

.meter {
  width: 26%;
}

.ruled td {
  vertical-align: middle;
}

.share {
  white-space: nowrap;
}

.track {
  display: block;
  height: 9px;
  background: var(--vellum-deep);
}

.track span {
  display: block;
  height: 100%;
  background: var(--verdigris);
}

.acts {
  text-align: right !important;
  white-space: nowrap;
}

.rename {
  width: 100%;
  padding: 4px;
  border: 0;
  border-bottom: 2px solid var(--verdigris);
  background: none;
  color: inherit;
  font: inherit;
}

@media (max-width: 760px) {
  .meter,
  .acts {
    display: none;
  }
}
</style>
