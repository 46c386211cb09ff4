<script setup lang="ts">
import { computed } from "vue";
import type { Piece } from "@/api/client";
import { BODY, LIMBS, regions } from "./figure";

/** Front and back outline with the build's pieces, shaded by how far each is. A press on a piece picks it. */
const props = defineProps<{ pieces: readonly Piece[]; current: number; tall?: boolean }>();
const emit = defineEmits<{ pick: [piece: Piece] }>();
const views = computed(() =>
  (["front", "back"] as const).map((view) => ({ view, parts: regions(props.pieces, view) })),
);

function shade(piece: Piece): string {
  if (piece.progress === null) return "var(--oxide-pale)";
  return `color-mix(in srgb, var(--verdigris) ${Math.round(18 + 82 * piece.progress)}%, var(--sheet))`;
}

function words(piece: Piece): string {
  return piece.progress === null
    ? `${piece.name}: ${piece.trouble}`
    : `${piece.name}, ${Math.round(piece.progress * 100)} % done`;
}
</script>

<template>
  <div class="figures-row">
    <svg
      v-for="v in views"
      :key="v.view"
      viewBox="-4 0 108 216"
      :class="{ tall }"
      role="group"
      :aria-label="`Costume from the ${v.view}`">
      <g v-for="pass in ['edge', 'skin']" :key="pass" :class="pass">
        <path v-for="d in BODY" :key="d" :d="d" />
        <template v-for="d in LIMBS" :key="d">
          <path :d="d" />
          <path :d="d" transform="translate(100 0) scale(-1 1)" />
        </template>
      </g>
      <path v-if="v.view === 'back'" class="spine" d="M50 40v58M40 46c4 6 4 14 0 20M60 46c-4 6-4 14 0 20" />
      <path
        v-for="(r, i) in v.parts"
        :key="i"
        class="piece"
        :class="{ current: r.piece.id === current }"
        :d="r.path"
        :transform="r.flip ? 'translate(100 0) scale(-1 1)' : undefined"
        :style="{ fill: shade(r.piece) }"
        tabindex="0"
        role="button"
        :aria-label="words(r.piece)"
        :data-piece="r.piece.id"
        @click="emit('pick', r.piece)"
        @keydown.enter="emit('pick', r.piece)">
        <title>{{ words(r.piece) }}</title>
      </path>
    </svg>
  </div>
</template>

<style scoped>
.figures-row {
  display: flex;
  gap: 6px;
}

svg {
  height: 92px;
  overflow: visible;
}

svg.tall {
  height: min(52vh, 420px);
}

.edge path {
  fill: var(--graphite);
  stroke: var(--graphite);
  stroke-width: 3;
  stroke-linejoin: round;
}

.skin path {
  fill: var(--sheet);
  stroke: var(--sheet);
  stroke-width: 0.6;
}

.spine {
  fill: none;
  stroke: var(--sheet-line);
  stroke-width: 1.4;
}

.piece {
  stroke: var(--graphite);
  stroke-width: 1.2;
  cursor: pointer;
}

.piece:hover {
  stroke: var(--ochre-fill);
  stroke-width: 3;
}

.piece.current {
  stroke: var(--ochre);
  stroke-width: 3.2;
}

.piece:focus-visible {
  outline: none;
  stroke: var(--plum);
  stroke-width: 4;
}
</style>
