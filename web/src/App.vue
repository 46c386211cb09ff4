<script setup lang="ts">
import { useMagicKeys, whenever } from "@vueuse/core";
import { computed, ref, watchEffect } from "vue";
import { useRouter } from "vue-router";
import { api, take, type Schemas } from "@/api/client";
import { freshBuilds, say, useChange, useHere, useSettings, useSettingsChange } from "@/api/queries";
import CommandSheet from "@/frame/CommandSheet.vue";
import FootBar from "@/frame/FootBar.vue";
import HeadBar from "@/frame/HeadBar.vue";
import OrderOfWork from "@/frame/OrderOfWork.vue";

const router = useRouter();
const { build, buildId, ready } = useHere();
const settings = useSettings();
const setSettings = useSettingsChange();
const asking = ref(false);

type Next = Schemas["NextChangeOut"];
const of = (next: Next) => ({ params: { query: { change: next.id } } });
/** In turn with changes of a design: the next one is made on what this has left, not on what the page last heard. */
const turned = (act: (next: Next) => Promise<unknown>) =>
  useChange(
    async (next: Next) => {
      await act(next);
      await freshBuilds();
    },
    undefined,
    "design",
  );
const back = turned((next) => take(api.POST("/api/undo", of(next))));
const again = turned((next) => take(api.POST("/api/redo", of(next))));
/** The change of another window that the maker has been told of: pressed again, it is meant. */
let told = 0;

/** Asked for at the press: what the page last heard may be older than the maker's own last change. */
async function step(way: "undo" | "redo", act: typeof back, done: string) {
  const next = await take(api.GET("/api/undo")).then(
    (both) => both[way],
    (refusal: Error) => say(refusal.message, "error"),
  );
  if (!next?.words) return;
  if (next.elsewhere && told !== next.id) {
    told = next.id;
    return say(`"${next.words}" was done in another window or on another day. Press again if you mean it.`, "warning");
  }
  await act.mutateAsync(next);
  say(`${done}: ${next.words}`);
}
const undo = () => step("undo", back, "Undone");
const redo = () => step("redo", again, "Done again");

watchEffect(() => document.documentElement.classList.toggle("night", settings.data.value?.night ?? false));
watchEffect(() => {
  if (ready.value && buildId.value && !build.value) void router.replace("/");
});

const typing = computed(() => ["INPUT", "TEXTAREA"].includes(document.activeElement?.tagName ?? ""));
const keys = useMagicKeys({
  passive: false,
  onEventFired(event) {
    const inField = ["INPUT", "TEXTAREA"].includes((event.target as HTMLElement)?.tagName ?? "");
    if (event.type !== "keydown" || inField) return;
    if (event.key === "/") {
      event.preventDefault();
      asking.value = true;
    }
  },
});
whenever(
  () => keys["ctrl+z"]?.value && !typing.value,
  () => void undo(),
);
whenever(
  () => keys["ctrl+y"]?.value && !typing.value,
  () => void redo(),
);

function command(name: string) {
  if (name === "undo") void undo();
  else if (name === "redo") void redo();
  else if (name === "night") setSettings.mutate({ night: !settings.data.value?.night });
  else if (name === "unit") setSettings.mutate({ unit: settings.data.value?.unit === "in" ? "mm" : "in" });
}
</script>

<template>
  <div class="shop" :class="{ open: build }">
    <HeadBar @ask="asking = true" @command="command" />
    <OrderOfWork v-if="build" />
    <main><RouterView /></main>
    <FootBar />
    <CommandSheet v-model="asking" @command="command" />
  </div>
</template>

<style scoped>
.shop {
  display: grid;
  grid-template: var(--head) minmax(0, 1fr) var(--foot) / minmax(0, 1fr);
  height: 100%;
}

.shop.open {
  grid-template-columns: 164px minmax(0, 1fr);
}

.shop > :first-child,
.shop > :deep(footer) {
  grid-column: 1 / -1;
}

main {
  min-width: 0;
  min-height: 0;
  background: var(--vellum-deep);
}

@media (max-width: 760px) {
  .shop,
  .shop.open {
    display: flex;
    flex-direction: column;
    height: auto;
    min-height: 100%;
  }

  main {
    flex: 1;
  }
}
</style>
