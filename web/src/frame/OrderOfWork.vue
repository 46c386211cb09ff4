<script setup lang="ts">
import { computed, nextTick, ref, watch } from "vue";
import { useRoute } from "vue-router";
import { useHere, usePattern } from "@/api/queries";
import { ASIDE, STAGES } from "@/router";
import { useStages } from "./stages";

/** The order of work as torn tape labels: done, next, or something to look at. */
const route = useRoute();
const { buildId, piece, pieceId } = useHere();
const pattern = usePattern(pieceId);
const { marks, next } = useStages(piece, pattern.data);
const nav = ref<HTMLElement>();
/** On a phone the labels run in one row: the one you are at is brought into it. */
watch(
  () => [route.name, nav.value, pattern.data.value],
  () => nextTick(() => nav.value?.querySelector(".here")?.scrollIntoView({ block: "nearest", inline: "center" })),
  { immediate: true },
);
const query = computed(() => (pieceId.value ? { piece: pieceId.value } : {}));
</script>

<template>
  <nav ref="nav" aria-label="Order of work">
    <RouterLink
      v-for="(stage, i) in STAGES"
      :key="stage.name"
      class="tape"
      :class="{
        here: route.name === stage.name,
        next: next === stage.name,
        later: !marks[stage.name] && next !== stage.name,
      }"
      :style="{ '--tear': `${(i * 37) % 5}px` }"
      :title="stage.hint"
      :to="{ name: stage.name, params: { build: buildId }, query }">
      <span>{{ stage.word }}</span>
      <span v-if="marks[stage.name] === 'look'" class="mark look" title="Something to look at">!</span>
      <span v-else-if="marks[stage.name] === 'done'" class="mark done" title="Done">✓</span>
      <span v-else-if="next === stage.name" class="mark go" title="Next">→</span>
    </RouterLink>
    <hr />
    <RouterLink
      v-for="stage in ASIDE"
      :key="stage.name"
      class="aside"
      :class="{ here: route.name === stage.name }"
      :title="stage.hint"
      :to="{ name: stage.name, params: { build: buildId }, query }">
      {{ stage.word }}
    </RouterLink>
    <RouterLink class="aside" to="/">All builds</RouterLink>
  </nav>
</template>

<style scoped>
nav {
  display: flex;
  flex-direction: column;
  gap: 9px;
  padding: 18px 0;
  background: var(--vellum-deep);
  overflow: auto;
}

.tape {
  display: flex;
  align-items: center;
  justify-content: space-between;
  width: calc(140px + var(--tear));
  min-height: 44px;
  padding: 0 20px 0 16px;
  background: var(--tape) url("/fibre.svg");
  color: #2e2c2a;
  font: 700 18px var(--slab);
  text-decoration: none;
  clip-path: polygon(0 2%, 97% 0, 100% 12%, 96.5% 24%, 99% 38%, 96% 52%, 99.5% 66%, 97% 80%, 99% 97%, 0 100%);
}

.tape.later {
  background-color: color-mix(in srgb, var(--tape) 45%, var(--vellum-deep));
}

.night .tape.later {
  color: var(--graphite);
}

.tape.here {
  width: 160px;
  background-color: var(--verdigris);
  color: var(--sheet);
}

.mark {
  display: grid;
  place-items: center;
  width: 24px;
  height: 24px;
  font: 700 16px var(--sans);
}

.look {
  border-radius: 50%;
  background: var(--ochre-fill);
  color: #2e2c2a;
}

hr {
  width: 120px;
  margin: 8px 0 2px 16px;
  border: 0;
  border-top: 1px solid var(--tape-deep);
}

.aside {
  padding: 8px 16px;
  color: inherit;
  text-decoration: none;
}

.aside:hover,
.aside.here {
  text-decoration: underline;
  text-decoration-thickness: 2px;
  text-underline-offset: 5px;
  text-decoration-color: var(--verdigris);
}

.aside.here {
  font-weight: 700;
}

@media (max-width: 760px) {
  nav {
    flex-direction: row;
    align-items: center;
    gap: 6px;
    padding: 8px;
    overflow-x: auto;
    scrollbar-width: none;
  }

  .tape,
  .tape.here {
    width: auto;
    gap: 6px;
    padding: 0 18px 0 12px;
    font-size: 16px;
  }

  hr {
    display: none;
  }

  .aside {
    white-space: nowrap;
  }
}
</style>
