<script setup lang="ts">
/** The head of every page: the figure that picks a piece, whose costume it is, undo, the unit, day and night. */
import { computed, ref } from "vue";
import { useRoute, useRouter } from "vue-router";
import type { Piece } from "@/api/client";
import { useHere, useSettings, useUndoWords } from "@/api/queries";
import AddPiece from "@/parts/AddPiece.vue";
import CostumeFigure from "./CostumeFigure.vue";
import { useUnit } from "@/parts/units";

const emit = defineEmits<{ ask: []; command: [name: string] }>();
const route = useRoute();
const router = useRouter();
const { build, piece, pieceId } = useHere();
const settings = useSettings();
const words = useUndoWords();
const { show } = useUnit();
const adding = ref<HTMLDialogElement>();

const untilEvent = computed(() => {
  if (!build.value?.event_on) return "";
  const days = Math.round((new Date(build.value.event_on).getTime() - Date.now()) / 86_400_000);
  const name = build.value.event_name || "the event";
  if (days < 0) return `${name} was ${-days} days ago`;
  return days < 21 ? `${days} days to ${name}` : `${Math.round(days / 7)} weeks to ${name}`;
});
const about = computed(() => {
  if (!piece.value) return "";
  const single = ["torso", "neck"].includes(piece.value.segment);
  const side = piece.value.design.solid
    ? "made from its measures"
    : single
      ? piece.value.segment
      : { both: "left and right", left: "left only", right: "right only" }[piece.value.design.side];
  const { foam, foam_kind, layers } = piece.value.design;
  const sheets = layers.length
    ? layers.map((l) => `${show(l.thickness)} ${l.kind}`).join(" + ")
    : `${show(foam)} ${foam_kind}`;
  return `${side} · ${sheets} foam`;
});

function pick(chosen: Piece) {
  const stay = ["wearer", "builds"].includes(String(route.name)) ? "flatten" : String(route.name);
  void router.push({ name: stay, params: { build: chosen.build_id }, query: { piece: chosen.id } });
}
</script>

<template>
  <header class="head">
    <template v-if="build">
      <CostumeFigure class="picker" :pieces="build.pieces" :current="pieceId" @pick="pick" />
      <div class="title">
        <RouterLink to="/" class="name" title="All builds"
          ><h1>{{ build.name }}</h1></RouterLink
        >
        <p v-if="piece" class="piece-line">
          <label class="sr" for="piece-picker">Piece</label>
          <select
            id="piece-picker"
            :value="piece.id"
            @change="pick(build.pieces.find((p) => p.id === Number(($event.target as HTMLSelectElement).value))!)">
            <option v-for="p in build.pieces" :key="p.id" :value="p.id">{{ p.name }}</option>
          </select>
          <button class="press small" title="Add another piece to this build" @click="adding!.showModal()">
            + Piece
          </button>
          <span class="soft wide">{{ about }}</span>
        </p>
        <p class="soft small">
          For {{ build.wearer }}<template v-if="untilEvent"> · {{ untilEvent }}</template>
        </p>
      </div>
    </template>
    <dialog v-if="build" ref="adding" class="sheet" aria-label="Add a piece" @click.self="adding!.close()">
      <h2>Add a piece to {{ build.name }}</h2>
      <AddPiece :build="build.id" @added="adding!.close()" />
      <button class="press" @click="adding!.close()">Not now</button>
    </dialog>
    <div v-if="!build" class="title brand">
      <h1>Vellumcut</h1>
      <p class="soft">From the body to armour that fits</p>
    </div>
    <div class="tools">
      <button
        class="press plain"
        :disabled="!words.data.value?.undo.words"
        :title="words.data.value?.undo.words ? `Undo: ${words.data.value.undo.words}` : 'Nothing to undo'"
        @click="emit('command', 'undo')">
        <span aria-hidden="true">↶</span> <span class="wide">Undo</span>
      </button>
      <button
        class="press plain"
        :disabled="!words.data.value?.redo.words"
        :title="words.data.value?.redo.words ? `Do again: ${words.data.value.redo.words}` : 'Nothing to do again'"
        @click="emit('command', 'redo')">
        <span aria-hidden="true">↷</span> <span class="wide">Redo</span>
      </button>
      <button class="press small" title="Millimetres or inches" @click="emit('command', 'unit')">
        {{ settings.data.value?.unit ?? "mm" }}
      </button>
      <button
        class="press small"
        :title="settings.data.value?.night ? 'Day bench' : 'Night bench'"
        @click="emit('command', 'night')">
        {{ settings.data.value?.night ? "Day" : "Night" }}
      </button>
      <button class="press ask wide" @click="emit('ask')">Find or do <kbd>/</kbd></button>
    </div>
  </header>
</template>

<style scoped>
.head {
  display: flex;
  align-items: center;
  gap: 18px;
  padding: 6px 18px 6px 14px;
  background: var(--vellum);
  border-bottom: 1px solid var(--sheet-line);
}

.title {
  display: grid;
  gap: 2px;
  min-width: 0;
  flex: 1;
  overflow: hidden;
}

h1 {
  font-size: 25px;
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}

.brand h1 {
  font-size: 34px;
}

.name {
  display: block;
  min-width: 0;
  overflow: hidden;
  color: inherit;
  text-decoration: none;
}

.piece-line {
  display: flex;
  align-items: center;
  gap: 10px;
  min-width: 0;
}

.piece-line span {
  white-space: nowrap;
}

select {
  max-width: 300px;
  padding: 2px 6px;
  border: 0;
  border-bottom: 2px solid var(--verdigris);
  background: transparent;
  color: inherit;
  font: 700 17px var(--sans);
  text-overflow: ellipsis;
  cursor: pointer;
}

option {
  background: var(--sheet);
  font-weight: 400;
}

dialog {
  width: min(860px, 94vw);
  margin: auto;
  padding: 20px 24px;
  border: 0;
  color: inherit;
}

dialog[open] {
  display: grid;
  gap: 14px;
}

dialog > .press {
  justify-self: end;
}

dialog::backdrop {
  background: rgb(40 32 20 / 40%);
}

.tools {
  display: flex;
  align-items: center;
  gap: 6px;
}

.ask {
  gap: 14px;
}

kbd {
  padding: 0 7px;
  border: 1px solid var(--graphite-soft);
  border-radius: 3px;
  font: 700 15px var(--sans);
}

.sr {
  position: absolute;
  clip-path: inset(50%);
}

@media (max-width: 1080px) {
  .piece-line .wide {
    display: none;
  }
}

@media (max-width: 760px) {
  .head {
    flex-wrap: wrap;
    gap: 8px 12px;
  }

  .picker,
  .wide {
    display: none;
  }

  .title {
    flex-basis: 100%;
  }

  h1 {
    font-size: 20px;
  }

  select {
    max-width: 240px;
  }
}
</style>
