<script setup lang="ts">
import { computed } from "vue";
import type { Schemas } from "@/api/client";
import { useHere } from "@/api/queries";
import { minutes, useUnit } from "@/parts/units";

/** In which order the costume is put on, and who fastens what. */
const props = defineProps<{ steps: readonly Schemas["DressingStep"][] }>();
const { pieceId, buildId } = useHere();
const { say } = useUnit();
const all = computed(() => props.steps.reduce((sum, s) => sum + s.minutes, 0));
const helped = computed(() => props.steps.filter((s) => s.who === "helper").length);
</script>

<template>
  <div class="side">
    <section class="sheet list">
      <header>
        <div>
          <h3>Dressing order</h3>
          <p class="soft">
            About {{ minutes(all) }}; {{ helped ? `a helper for ${helped} of ${steps.length}` : "all of it alone" }}.
            Off again from the last to the first.
          </p>
        </div>
        <div class="tools">
          <a class="press" :href="`/api/builds/${buildId}/dressing.pdf`" download>Card for the helper</a>
          <a class="press" :href="`/api/builds/${buildId}/dressing.csv`" download="dressing.csv">CSV</a>
        </div>
      </header>
      <ol class="plain-list">
        <li v-for="(s, i) in steps" :key="s.piece" :class="{ here: s.piece === pieceId }">
          <b class="figures number">{{ i + 1 }}</b>
          <div>
            <p class="what">
              <RouterLink :to="{ query: { piece: s.piece } }">{{ s.name }}</RouterLink>
              <span v-if="s.copies > 1" class="soft"> {{ s.copies }} ×</span>
            </p>
            <p class="soft small">{{ say(s.how) }}</p>
            <p class="small">
              <b :class="s.who">{{ s.who === "helper" ? "Helper" : "Alone" }}</b>: {{ s.why
              }}{{ s.out ? "" : "; does not get out of it alone" }}. {{ minutes(s.minutes) }}
            </p>
          </div>
        </li>
      </ol>
    </section>
  </div>
</template>

<style scoped>
.side {
  display: grid;
  flex: 1 1 360px;
  gap: 12px;
  align-content: start;
  min-width: 300px;
}

.list {
  padding: 14px 18px;
}

header,
.tools {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  justify-content: space-between;
}

li {
  display: flex;
  gap: 12px;
  padding: 9px 0;
  border-bottom: 1px solid var(--sheet-line);
}

.here {
  background: var(--verdigris-pale);
}

.number {
  min-width: 30px;
  font: 700 22px var(--slab);
  text-align: right;
}

.what a {
  color: inherit;
  text-underline-offset: 3px;
}

.what span {
  margin-left: 6px;
}

.what {
  font-size: 18px;
  font-weight: 600;
}

.helper {
  color: var(--ochre);
}
</style>
