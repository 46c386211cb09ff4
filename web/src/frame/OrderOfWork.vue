<script setup lang="ts">
import { computed, nextTick, ref, watch } from "vue";
import { useRoute } from "vue-router";
import { useHere, usePattern } from "@/api/queries";
import { COSTUME } from "@/router";
import { stagesOf, useStages } from "./stages";

/** Two groups: the piece, its order of work as torn tape labels, done, next or to be looked at; and the costume. */
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
    <div class="group piece" role="group" aria-label="The piece">
      <h2>The piece</h2>
      <RouterLink
        v-for="(stage, i) in stagesOf(piece)"
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
    </div>
    <div class="group costume" role="group" aria-label="The costume">
      <h2>The costume</h2>
      <RouterLink
        v-for="screen in COSTUME"
        :key="screen.name"
        class="aside"
        :class="{ here: route.name === screen.name }"
        :title="screen.hint"
        :to="{ name: screen.name, params: { build: buildId }, query }">
        {{ screen.word }}
      </RouterLink>
      <RouterLink class="aside" to="/" title="Every costume, and a new one">All builds</RouterLink>
    </div>
  </nav>
</template>

<style scoped>
nav {
  display: flex;
  flex-direction: column;
  gap: 8px;
  min-height: 0;
  padding: 8px 0 8px;
  background: var(--vellum-deep);
  overflow: hidden;
}

.group {
  display: flex;
  flex-direction: column;
}

.piece {
  flex: 1 1 0;
  gap: clamp(2px, 0.6vh, 6px);
  min-height: 0;
}

h2 {
  padding-left: 16px;
  color: var(--graphite-soft);
  font: 400 15px var(--sans);
}

.tape {
  display: flex;
  align-items: center;
  justify-content: space-between;
  width: calc(140px + var(--tear));
  flex: 1 1 0;
  min-height: 0;
  max-height: 44px;
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

.costume {
  padding-top: 6px;
  border-top: 1px solid var(--tape-deep);
}

.aside {
  padding: 0 12px;
  border-left: 4px solid transparent;
  color: inherit;
  font-size: 17px;
  line-height: clamp(25px, 3.4vh, 34px);
  text-decoration: none;
}

.aside:hover {
  text-decoration: underline;
  text-decoration-thickness: 2px;
  text-underline-offset: 5px;
  text-decoration-color: var(--verdigris);
}

.aside.here {
  border-left-color: var(--verdigris);
  background: var(--vellum);
  font-weight: 700;
}

@media (max-width: 760px) {
  nav {
    gap: 0;
    padding: 6px 0;
  }

  .group {
    flex-direction: row;
    align-items: center;
    gap: 6px;
    padding: 4px 8px;
    border: 0;
    overflow-x: auto;
    scrollbar-width: none;
  }

  h2 {
    display: none;
  }

  .piece {
    flex: none;
  }

  .tape,
  .tape.here {
    flex: none;
    width: auto;
    height: 44px;
    gap: 6px;
    padding: 0 18px 0 12px;
    font-size: 16px;
  }

  .aside {
    padding: 8px 10px;
    border-bottom: 4px solid transparent;
    border-left: 0;
    white-space: nowrap;
  }

  .aside.here {
    border-bottom-color: var(--verdigris);
  }
}
</style>
