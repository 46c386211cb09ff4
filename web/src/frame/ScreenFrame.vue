<script setup lang="ts">
import { useLocalStorage } from "@vueuse/core";

/** A screen on the table: its work in the middle, margin notes at the right that can be folded away. */
defineProps<{ title: string; about?: string; margin?: string }>();
const folded = useLocalStorage("margin-folded", false);
</script>

<template>
  <div class="frame" :class="{ folded, bare: !$slots.notes }">
    <section class="work">
      <header class="top">
        <div>
          <h2>{{ title }}</h2>
          <p v-if="about" class="soft">{{ about }}</p>
        </div>
        <div class="tools"><slot name="tools" /></div>
      </header>
      <slot />
    </section>
    <aside v-if="$slots.notes" class="margin sheet" :aria-label="margin ?? 'Margin notes'">
      <button
        class="fold"
        :aria-expanded="!folded"
        :title="folded ? 'Open the margin notes' : 'Fold the margin notes away'"
        @click="folded = !folded">
        <span aria-hidden="true">{{ folded ? "‹" : "›" }}</span><span class="sr">{{
          folded ? "Open margin notes" : "Fold margin notes"
        }}</span>
      </button>
      <div v-show="!folded" class="body"><slot name="notes" /></div>
    </aside>
  </div>
</template>

<style scoped>
.frame {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 308px;
  height: 100%;
  min-height: 0;
}

.frame.folded {
  grid-template-columns: minmax(0, 1fr) 34px;
}

.frame.bare {
  grid-template-columns: minmax(0, 1fr);
}

.work {
  display: flex;
  flex-direction: column;
  gap: 14px;
  min-width: 0;
  padding: 16px 22px;
  overflow: auto;
  /* A sheet of its own: else, where it scrolls, all of it is painted anew with whatever moves on it. */
  will-change: scroll-position;
}

.top {
  display: flex;
  align-items: start;
  justify-content: space-between;
  gap: 16px;
}

.top > :first-child {
  flex: 1 1 150px;
  min-width: 130px;
}

.tools {
  display: flex;
  flex-wrap: wrap;
  flex: 0 1 auto;
  justify-content: flex-end;
  gap: 8px;
  justify-content: end;
}

.margin {
  position: relative;
  margin: 14px 14px 14px 0;
  overflow: auto;
  contain: paint;
  will-change: transform;
  /* Rounded corners would be masked anew in every picture that is painted beside the notes. */
  border-radius: 0;
  border-left: 2px solid color-mix(in srgb, var(--oxide) 45%, transparent);
}

.body {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 16px;
  align-content: start;
  padding: 16px 18px;
}

/* Room for the fold's corner. */
.body > :deep(:first-child > h3:first-child) {
  padding-right: 18px;
}

.fold {
  position: absolute;
  top: 4px;
  right: 4px;
  width: 26px;
  height: 26px;
  border: 0;
  background: none;
  font-size: 20px;
  line-height: 1;
  cursor: pointer;
}

.sr {
  position: absolute;
  width: 1px;
  height: 1px;
  overflow: hidden;
  clip-path: inset(50%);
}

@media (max-width: 760px) {
  .frame,
  .frame.folded {
    display: block;
    height: auto;
  }

  .work {
    padding: 12px;
    overflow: visible;
  }

  .margin {
    margin: 0 12px 16px;
  }

  .top {
    flex-direction: column;
  }

  .top > :first-child {
    flex: none;
  }

  .tools {
    justify-content: start;
  }
}
</style>
