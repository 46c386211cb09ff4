<script setup lang="ts">
import { computed } from "vue";
import { useDesignChange, useHere } from "@/api/queries";
import { useUnit } from "@/parts/units";
import type { Rig } from "./useRig";

/** Whether the piece can be put on, and the next step where it cannot. */
defineProps<{ donning: Rig["donning"] }>();
const { piece, pieceId } = useHere();
const { say } = useUnit();
const change = useDesignChange(piece);
const open = () => change((now) => ({ ...now, back: "open", closure: "lacing", gap: null }));
const flat = computed(() => Boolean(piece.value?.design.flat));
const closed = computed(() => !flat.value && piece.value?.design.back === "closed");
const plain = computed(() => closed.value && !["torso", "neck"].includes(piece.value?.segment ?? ""));
</script>

<template>
  <section
    v-for="d in donning"
    :key="d.side"
    class="words donning"
    :class="{ stop: d.passes === false, good: d.passes }">
    <div>
      <h3>
        {{ d.passes === null ? "Can it be put on?" : d.passes ? "It goes on" : "It cannot be put on"
        }}<template v-if="donning.length > 1">, {{ d.side }}</template>
      </h3>
      <p>{{ say(d.sentence) }}</p>
      <p v-if="d.passes === false && !flat" class="do">
        <button v-if="plain" class="press main" @click="open()">Open the back, with lacing</button>
        <RouterLink v-else class="press main" :to="{ name: 'ink', query: { piece: pieceId } }"
          >Ink where it opens</RouterLink
        >
      </p>
      <p v-if="d.passes === null && d.sentence.startsWith('Measure')" class="do">
        <RouterLink class="press main" :to="{ name: 'wearer', query: { piece: pieceId } }">Measure it</RouterLink>
      </p>
    </div>
  </section>
</template>

<style scoped>
.donning {
  padding: 14px 18px;
  font-size: 18px;
}

.good {
  border-color: var(--verdigris);
  background: var(--verdigris-pale);
}

.do {
  margin-top: 10px;
}
</style>
