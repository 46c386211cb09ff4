<script setup lang="ts">
/** Every costume with its figure, and the way to begin one. */
import { defineAsyncComponent, ref } from "vue";
import { useRouter } from "vue-router";
import { api, seen, take, type Build, type Piece } from "@/api/client";
import { freshBuilds, useBuilds, useChange } from "@/api/queries";
import BundleButton from "@/parts/BundleButton.vue";
import AddPiece from "@/parts/AddPiece.vue";
import CostumeFigure from "@/frame/CostumeFigure.vue";
import EmptySheet from "@/frame/EmptySheet.vue";
import type { BuildWords } from "./BuildFields.vue";
import PieceRows from "./PieceRows.vue";
import { useBringIn } from "./useBringIn";

/** Its calendar is as large as all the rest of the first page, which is there without it. */
const BuildFields = defineAsyncComponent(() => import("./BuildFields.vue"));
const router = useRouter();
const builds = useBuilds();
const starting = ref(false);
const editing = ref(0);
const file = ref<HTMLInputElement>();
const bringIn = useBringIn();

const fields = (words: BuildWords, wearer: number) => ({
  name: words.name.trim(),
  wearer_id: wearer,
  event_name: words.eventName.trim(),
  event_on: words.eventOn || null,
});
const start = useChange(async (words: BuildWords) => {
  const wearer =
    words.wearer === "new"
      ? (await take(api.POST("/api/wearers", { body: { name: words.wearerName.trim(), note: "" } }))).id
      : words.wearer;
  const build = await take(api.POST("/api/builds", { body: fields(words, wearer) }));
  await freshBuilds();
  await router.push({ name: "wearer", params: { build: build.id } });
});
const edit = useChange(async ({ build, words }: { build: Build; words: BuildWords }) => {
  const body = { ...fields(words, words.wearer as number), dart_edges: build.dart_edges };
  const params = { path: { build: build.id } };
  await take(api.PUT("/api/builds/{build}", { params, body, headers: seen(build) }));
  editing.value = 0;
});
const removeBuild = useChange((b: Build) =>
  take(api.DELETE("/api/builds/{build}", { params: { path: { build: b.id } } })),
);

function open(p: Piece) {
  void router.push({ name: "flatten", params: { build: p.build_id }, query: { piece: p.id } });
}
</script>

<template>
  <div class="builds column">
    <div class="bar">
      <h2>Builds on the table</h2>
      <span>
        <RouterLink class="press" :to="{ name: 'keeping' }">Safe-keeping</RouterLink>
        <button class="press" @click="file?.click()">Bring in a build file</button>
        <button class="press main" @click="((starting = !starting), (editing = 0))">Start a build</button>
      </span>
      <input
        ref="file"
        type="file"
        accept=".json,.zip,application/json,application/zip"
        hidden
        aria-label="Build file"
        @change="bringIn" />
    </div>

    <section v-if="starting || (builds.isSuccess.value && !builds.data.value?.length)" class="start sheet">
      <h3>{{ builds.data.value?.length ? "A new build" : "Your first build" }}</h3>
      <p class="soft">
        A build is one costume for one person. Next you measure them, then add a piece and see it flat.
      </p>
      <BuildFields :busy="start.isPending.value" @done="start.mutate($event)" />
    </section>

    <article v-for="b in builds.data.value ?? []" :key="b.id" class="build sheet">
      <CostumeFigure :pieces="b.pieces" :current="0" class="fig" @pick="open" />
      <div class="what">
        <header>
          <div>
            <h2>
              <RouterLink :to="{ name: b.pieces.length ? 'flatten' : 'wearer', params: { build: b.id } }">{{
                b.name
              }}</RouterLink>
            </h2>
            <p class="soft">
              For {{ b.wearer
              }}<template v-if="b.event_on">
                · {{ b.event_name || "event" }} on
                {{
                  new Date(b.event_on).toLocaleDateString(undefined, {
                    timeZone: "UTC",
                    day: "numeric",
                    month: "long",
                    year: "numeric",
                  })
                }}</template
              >
            </p>
          </div>
          <span>
            <button
              class="press small"
              :aria-expanded="editing === b.id"
              @click="((editing = editing === b.id ? 0 : b.id), (starting = false))">
              Change
            </button>
            <a class="press small" :href="`/api/builds/${b.id}/build.json`" download="build.json">Build file</a>
            <BundleButton :build="b.id" />
            <a class="press small" :href="`/api/builds/${b.id}/pieces.csv`" download="pieces.csv">CSV</a>
            <button class="press small" :title="`Remove ${b.name}; undo brings it back`" @click="removeBuild.mutate(b)">
              Remove
            </button>
          </span>
        </header>
        <BuildFields v-if="editing === b.id" :build="b" @done="edit.mutate({ build: b, words: $event })" />
        <PieceRows v-if="b.pieces.length" :pieces="b.pieces" @open="open" />
        <p v-else class="soft">
          No piece yet. A bracer is a good first: small, quick, and it shows whether your ease is right.
        </p>
        <details v-if="b.pieces.length" class="more">
          <summary class="press small">Add a piece</summary>
          <AddPiece :build="b.id" />
        </details>
        <AddPiece v-else :build="b.id" />
      </div>
    </article>
    <EmptySheet v-if="builds.isError.value" title="The builds cannot be read">{{
      builds.error.value?.message
    }}</EmptySheet>
  </div>
</template>

<style scoped>
.more {
  display: grid;
  gap: 8px;
}

.more summary {
  width: fit-content;
  margin-bottom: 8px;
  list-style: none;
}

.bar span,
header span {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}

.start {
  display: grid;
  gap: 14px;
  padding: 20px 24px;
}

.build {
  display: flex;
  gap: 26px;
  padding: 20px 24px;
}

.fig :deep(svg) {
  height: 190px;
}

.what {
  display: grid;
  flex: 1;
  gap: 12px;
  align-content: start;
  min-width: 0;
}

header {
  display: flex;
  justify-content: space-between;
  gap: 12px;
  align-items: start;
}

@media (max-width: 760px) {
  .fig {
    display: none;
  }

  header {
    flex-direction: column;
  }
}

h2 a {
  color: inherit;
  text-decoration: none;
}

h2 a:hover {
  text-decoration: underline;
  text-decoration-color: var(--verdigris);
}

header .press {
  white-space: nowrap;
}
</style>
