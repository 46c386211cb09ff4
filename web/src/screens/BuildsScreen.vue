<script setup lang="ts">
import { ElDatePicker } from "element-plus/es/components/date-picker/index";
import { ElInput } from "element-plus/es/components/input/index";
import { ElOption, ElSelect } from "element-plus/es/components/select/index";
import { computed, ref } from "vue";
import { useRouter } from "vue-router";
import { api, HEADERS, Refusal, seen, take, type Build, type Piece } from "@/api/client";
import { freshBuilds, say, useBuilds, useChange, useWearers } from "@/api/queries";
import BundleButton from "@/parts/BundleButton.vue";
import AddPiece from "@/parts/AddPiece.vue";
import CostumeFigure from "@/parts/CostumeFigure.vue";
import EmptySheet from "@/parts/EmptySheet.vue";

const router = useRouter();
const builds = useBuilds();
const wearers = useWearers();
const starting = ref(false);
const name = ref("");
const wearer = ref<number | "new">("new");
const wearerName = ref("");
const eventName = ref("");
const eventOn = ref<string | null>(null);
const file = ref<HTMLInputElement>();
const editing = ref(0);
const renaming = ref(0);
const newName = ref("");

const ready = computed(() => name.value.trim() !== "" && (wearer.value !== "new" || wearerName.value.trim() !== ""));
const start = useChange(async () => {
  const id =
    wearer.value === "new"
      ? (await take(api.POST("/api/wearers", { body: { name: wearerName.value.trim(), note: "" } }))).id
      : wearer.value;
  const body = {
    name: name.value.trim(),
    wearer_id: id,
    event_name: eventName.value.trim(),
    event_on: eventOn.value || null,
  };
  const build = await take(api.POST("/api/builds", { body }));
  await freshBuilds();
  await router.push({ name: "wearer", params: { build: build.id } });
});
const edit = useChange(async (b: Build) => {
  const body = {
    name: name.value.trim(),
    wearer_id: wearer.value as number,
    event_name: eventName.value.trim(),
    event_on: eventOn.value || null,
    dart_edges: b.dart_edges,
  };
  await take(api.PUT("/api/builds/{build}", { params: { path: { build: b.id } }, body, headers: seen(b) }));
  editing.value = 0;
});

function change(b: Build) {
  editing.value = editing.value === b.id ? 0 : b.id;
  starting.value = false;
  name.value = b.name;
  wearer.value = b.wearer_id;
  eventName.value = b.event_name;
  eventOn.value = b.event_on;
}

function begin() {
  starting.value = !starting.value;
  editing.value = 0;
  name.value = eventName.value = wearerName.value = "";
  wearer.value = "new";
  eventOn.value = null;
}
const bring = useChange(async (chosen: File) => {
  if (/\.zip$/i.test(chosen.name)) {
    const answer = await fetch("/api/builds/from-bundle", {
      method: "POST",
      body: chosen,
      headers: { ...HEADERS, "content-type": "application/octet-stream" },
    });
    const got = (await answer.json()) as Build & { detail?: string };
    if (!got.id) throw new Refusal(400, got.detail ?? `${chosen.name} cannot be read`, [], []);
    return say(`${got.name} is here, with ${got.pieces.length} pieces`);
  }
  let body: unknown;
  try {
    body = JSON.parse(await chosen.text());
  } catch {
    throw new Refusal(400, `${chosen.name} is not a build file: it is not valid JSON`, [], []);
  }
  const build = await take(api.POST("/api/builds/from-file", { body: body as never }));
  say(`${build.name} is here, with ${build.pieces.length} pieces`);
});
const removeBuild = useChange((b: Build) =>
  take(api.DELETE("/api/builds/{build}", { params: { path: { build: b.id } } })),
);
const removePiece = useChange((p: Piece) =>
  take(api.DELETE("/api/pieces/{piece}", { params: { path: { piece: p.id } } })),
);
const rename = useChange((p: Piece) =>
  take(
    api.PATCH("/api/pieces/{piece}", {
      params: { path: { piece: p.id } },
      body: { name: newName.value.trim() },
      headers: seen(p),
    }),
  ),
);

function open(p: Piece) {
  void router.push({ name: "flatten", params: { build: p.build_id }, query: { piece: p.id } });
}

function chooseFile(event: Event) {
  const input = event.target as HTMLInputElement;
  const chosen = input.files?.[0];
  if (chosen) bring.mutate(chosen);
  input.value = "";
}

function saveName(p: Piece) {
  if (newName.value.trim() && newName.value.trim() !== p.name) rename.mutate(p);
  renaming.value = 0;
}

const share = (p: Piece) => (p.progress === null ? "not measured" : `${Math.round(p.progress * 100)} %`);
</script>

<template>
  <div class="builds">
    <div class="bar">
      <h2>Builds on the table</h2>
      <span>
        <button class="press" @click="file?.click()">Bring in a build file</button>
        <button class="press main" @click="begin">Start a build</button>
      </span>
      <input
        ref="file"
        type="file"
        accept=".json,.zip,application/json,application/zip"
        hidden
        aria-label="Build file"
        @change="chooseFile" />
    </div>

    <form
      v-if="starting || (builds.isSuccess.value && !builds.data.value?.length)"
      class="start sheet"
      @submit.prevent="start.mutate(undefined)">
      <h3>{{ builds.data.value?.length ? "A new build" : "Your first build" }}</h3>
      <p class="soft">
        A build is one costume for one person. Next you measure them, then add a piece and see it flat.
      </p>
      <div class="row">
        <label class="field"
          ><span class="word">What is it called?</span
          ><el-input v-model="name" name="build-name" maxlength="120" placeholder="Moth-knight of the Salt Road"
        /></label>
        <label class="field">
          <span class="word">Who wears it?</span>
          <el-select v-model="wearer" aria-label="Who wears it?">
            <el-option v-for="w in wearers.data.value ?? []" :key="w.id" :value="w.id" :label="w.name" />
            <el-option value="new" label="Somebody new" />
          </el-select>
        </label>
        <label v-if="wearer === 'new'" class="field"
          ><span class="word">Their name</span><el-input v-model="wearerName" name="wearer-name" maxlength="120"
        /></label>
      </div>
      <div class="row">
        <label class="field"
          ><span class="word">Event, if there is one</span><el-input v-model="eventName" maxlength="120"
        /></label>
        <label class="field"
          ><span class="word">On</span
          ><el-date-picker v-model="eventOn" type="date" value-format="YYYY-MM-DD" format="D MMM YYYY"
        /></label>
        <button class="press main" type="submit" :disabled="!ready || start.isPending.value">Start and measure</button>
      </div>
    </form>

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
            <button class="press small" :aria-expanded="editing === b.id" @click="change(b)">Change</button>
            <a class="press small" :href="`/api/builds/${b.id}/build.json`" download="build.json">Build file</a>
            <BundleButton :build="b.id" />
            <a class="press small" :href="`/api/builds/${b.id}/pieces.csv`" download="pieces.csv">CSV</a>
            <button class="press small" :title="`Remove ${b.name}; undo brings it back`" @click="removeBuild.mutate(b)">
              Remove
            </button>
          </span>
        </header>
        <form v-if="editing === b.id" class="row" @submit.prevent="edit.mutate(b)">
          <label class="field"><span class="word">Name</span><el-input v-model="name" maxlength="120" /></label>
          <label class="field"
            ><span class="word">Worn by</span>
            <el-select v-model="wearer" aria-label="Worn by"
              ><el-option v-for="w in wearers.data.value ?? []" :key="w.id" :value="w.id" :label="w.name"
            /></el-select>
          </label>
          <label class="field"><span class="word">Event</span><el-input v-model="eventName" maxlength="120" /></label>
          <label class="field"
            ><span class="word">On</span
            ><el-date-picker v-model="eventOn" type="date" value-format="YYYY-MM-DD" format="D MMM YYYY"
          /></label>
          <button class="press main" type="submit" :disabled="!name.trim()">Keep</button>
        </form>
        <table v-if="b.pieces.length" class="ruled">
          <tbody>
            <tr v-for="p in b.pieces" :key="p.id">
              <td class="pname">
                <input
                  v-if="renaming === p.id"
                  v-model="newName"
                  class="rename"
                  maxlength="120"
                  aria-label="New name"
                  @keydown.enter="saveName(p)"
                  @blur="saveName(p)" />
                <a v-else href="#" @click.prevent="open(p)">{{ p.name }}</a>
              </td>
              <td class="soft">
                {{ p.design.template
                }}{{
                  ["torso", "neck"].includes(p.segment)
                    ? ""
                    : p.design.side === "both"
                      ? ", pair"
                      : `, ${p.design.side}`
                }}
              </td>
              <td class="meter">
                <span class="track"><span :style="{ width: `${(p.progress ?? 0) * 100}%` }" /></span>
              </td>
              <td class="figures share">{{ share(p) }}</td>
              <td class="acts">
                <button class="press plain small" @click="((renaming = p.id), (newName = p.name))">Rename</button>
                <button
                  class="press plain small"
                  :title="`Remove ${p.name}; undo brings it back`"
                  @click="removePiece.mutate(p)">
                  Remove
                </button>
              </td>
            </tr>
          </tbody>
        </table>
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

.builds {
  display: grid;
  gap: 18px;
  align-content: start;
  max-width: 1120px;
  height: 100%;
  margin: 0 auto;
  padding: 22px;
  overflow: auto;
}

.bar {
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  gap: 12px;
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

.row {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(200px, 1fr));
  gap: 14px;
  align-items: end;
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

h2 a,
.pname a {
  color: inherit;
  text-decoration: none;
}

h2 a:hover,
.pname a:hover {
  text-decoration: underline;
  text-decoration-color: var(--verdigris);
}

.pname {
  font-weight: 700;
  overflow-wrap: anywhere;
}

.meter {
  width: 26%;
  vertical-align: middle !important;
}

.share,
header .press {
  white-space: nowrap;
}

.track {
  display: block;
  height: 9px;
  background: var(--vellum-deep);
}

.track span {
  display: block;
  height: 100%;
  background: var(--verdigris);
}

.acts {
  text-align: right !important;
  white-space: nowrap;
}

.rename {
  width: 100%;
  padding: 4px;
  border: 0;
  border-bottom: 2px solid var(--verdigris);
  background: none;
  color: inherit;
  font: inherit;
}

@media (max-width: 760px) {
  .more {
    display: grid;
    gap: 8px;
  }

  .more summary {
    width: fit-content;
    margin-bottom: 8px;
    list-style: none;
  }

  .builds {
    padding: 12px;
  }

  .fig,
  .meter,
  .acts {
    display: none;
  }

  header {
    flex-direction: column;
  }
}
</style>
