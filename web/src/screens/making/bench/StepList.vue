<script setup lang="ts">
import { nextTick, watch } from "vue";
import { span, type Step } from "./useBench";

/** All steps in the order of work; what can be done now stands out. */
const props = defineProps<{ steps: readonly Step[]; current?: string; left: (step: Step) => number }>();
const emit = defineEmits<{ pick: [key: string] }>();
watch(
  () => props.current,
  async (key) => {
    await nextTick();
    document
      .querySelector(`[data-step='${CSS.escape(key ?? "")}']`)
      ?.scrollIntoView({ block: "nearest", inline: "center" });
  },
);
</script>

<template>
  <ol class="plain-list steps" aria-label="Steps">
    <li v-for="(s, i) in steps" :key="s.key">
      <button
        :class="[s.state, { on: s.key === current }]"
        :data-step="s.key"
        :aria-current="s.key === current"
        @click="emit('pick', s.key)">
        <span class="no figures">{{ s.state === "done" ? "✓" : s.state === "mend" ? "!" : i + 1 }}</span>
        <span class="title">
          {{ s.title }}
          <small v-if="s.state === 'waiting'" class="figures">{{ span(left(s)) }}</small>
          <small v-else-if="s.coats > 1 && s.state !== 'done'" class="figures">{{ s.coats_done }}/{{ s.coats }}</small>
        </span>
      </button>
    </li>
  </ol>
</template>

<style scoped>
.steps {
  overflow: auto;
  min-height: 0;
}

button {
  display: flex;
  align-items: center;
  gap: 12px;
  width: 100%;
  min-height: 56px;
  padding: 2px 10px;
  line-height: 1.15;
  border: 0;
  background: none;
  font-size: 19px;
  text-align: left;
  cursor: pointer;
}

.on {
  background: var(--sheet);
  box-shadow: inset 5px 0 0 var(--verdigris);
}

.no {
  display: grid;
  place-items: center;
  flex: none;
  width: 34px;
  height: 34px;
  border: 2px solid transparent;
  border-radius: 50%;
  color: var(--graphite-soft);
  font-weight: 700;
}

.ready .no {
  border-color: var(--verdigris);
  color: var(--verdigris);
}

.ready .title {
  font-weight: 700;
}

.done .no {
  color: var(--verdigris);
}

.done .title,
.blocked .title {
  color: var(--graphite-soft);
}

.mend .no {
  background: var(--ochre-fill);
  color: #2e2c2a;
}

.waiting small {
  padding: 0 6px;
  background: var(--ochre-pale);
}

.title {
  display: grid;
  gap: 2px;
}

small {
  justify-self: start;
  font-size: 15px;
}

@media (max-width: 760px) {
  .steps {
    display: flex;
    gap: 4px;
    overflow-x: auto;
    scrollbar-width: none;
    flex: none;
  }

  button {
    min-width: 56px;
    justify-content: center;
  }

  .title {
    display: none;
  }
}
</style>
