<script setup lang="ts">
/** A scan brought in, its ends set, its tube fitted. */
import { computed, ref, watch } from "vue";
import { useRouter } from "vue-router";
import { api, take, type Schemas } from "@/api/client";
import { useCatalogue, useChange, useHere } from "@/api/queries";
import EmptySheet from "@/frame/EmptySheet.vue";
import ScreenFrame from "@/frame/ScreenFrame.vue";
import { useUnit } from "@/parts/units";
import ScanView from "@/scene/ScanView.vue";
import FitNotes from "./FitNotes.vue";
import StanceFields from "./StanceFields.vue";
import { useFit, type Segment } from "./useFit";
import { useScans } from "./useScans";

const { build, piece } = useHere();
const router = useRouter();
const catalogue = useCatalogue();
const { say: words } = useUnit();
const wearerId = computed(() => build.value?.wearer_id ?? 0);
const {
  scans,
  bodies,
  chosen,
  scan,
  scanId,
  mesh,
  setStance,
  remove,
  sending,
  refused,
  pick,
  shape,
  job,
  runScanner,
  stop,
} = useScans(wearerId);
const SEGMENTS: Segment[] = ["torso", "upper arm", "forearm", "thigh", "lower leg"];
const segment = ref<Segment>("lower leg");
const side = ref<"left" | "right">("left");
watch(
  piece,
  (now) => {
    if (now && (SEGMENTS as string[]).includes(now.segment)) segment.value = now.segment as Segment;
  },
  { immediate: true },
);

const miss = ref(true);
const { ends, how, fit, trouble, fitting, inUse, propose, moved, nudge, turnFront, use, leave } = useFit(
  scan,
  wearerId,
  segment,
  side,
);
const template = computed(
  () =>
    catalogue.data.value?.templates.find((t) => t.segment === segment.value && t.drawn) ??
    catalogue.data.value?.templates.find((t) => t.segment === segment.value),
);
const addPiece = useChange(async () => {
  const t = template.value!;
  const made = await take(
    api.POST("/api/builds/{build}/pieces", {
      params: { path: { build: build.value!.id } },
      body: {
        name: "",
        design: { ...t.design, side: segment.value === "torso" ? "both" : side.value } as Schemas["PieceDesign-Input"],
      },
    }),
  );
  await router.push({ name: "ink", params: { build: build.value!.id }, query: { piece: made.id } });
});
</script>

<template>
  <ScreenFrame
    title="Off a scan"
    :about="
      scan ? `${scan.name}, ${scan.triangles.toLocaleString()} triangles` : 'A body as a mesh: OBJ, STL, PLY or GLB'
    ">
    <template #tools>
      <RouterLink class="press" :to="{ name: 'wearer', query: piece ? { piece: piece.id } : {} }"
        >Back to the tape</RouterLink
      >
    </template>
    <div class="bar">
      <label class="press main"
        ><input class="file" type="file" name="scan-file" accept=".obj,.stl,.ply,.glb" @change="pick" />{{
          sending ? "Reading the file …" : "Bring in a scan"
        }}</label
      >
      <span class="device">
        <select v-model="shape" class="press" aria-label="Body on the simulated scanner">
          <option v-for="s in bodies.data.value" :key="s" :value="s">{{ s }}</option>
        </select>
        <button
          class="press"
          :disabled="Boolean(job)"
          title="A simulated scanner with made-up bodies, noise and holes"
          @click="runScanner.mutate(undefined)">
          Scan with the simulated scanner
        </button>
      </span>
      <select
        v-if="(scans.data.value?.length ?? 0) > 1"
        class="press"
        aria-label="Scan"
        :value="scanId"
        @change="chosen = Number(($event.target as HTMLSelectElement).value)">
        <option v-for="s in scans.data.value" :key="s.id" :value="s.id">{{ s.name }}</option>
      </select>
    </div>
    <p v-if="refused" class="words stop" role="alert">{{ refused }}</p>
    <div v-if="job" class="job words" role="status">
      <progress :value="job.share" max="1" /> <b class="figures">{{ Math.round(job.share * 100) }} %</b>
      <span>{{ job.words }}</span>
      <button class="press small" @click="stop">Stop</button>
    </div>
    <EmptySheet v-if="scans.isSuccess.value && !scan && !job" title="No scan of this wearer yet">
      <p>
        A phone's body scan or a mesh from any scanner will do, arms a little away from the sides, in the clothes worn
        under the armour. Noise is evened out and holes are closed; where that tells on a girth, it is said.
      </p>
    </EmptySheet>
    <template v-if="scan && mesh.data.value">
      <div class="tabs" role="tablist">
        <button
          v-for="s in SEGMENTS"
          :key="s"
          role="tab"
          :aria-selected="s === segment"
          :class="{ on: s === segment }"
          @click="segment = s">
          {{ s }}
        </button>
        <span v-if="segment !== 'torso'" role="group" aria-label="Side">
          <button
            v-for="s in ['left', 'right'] as const"
            :key="s"
            class="press small"
            :class="{ main: s === side }"
            @click="side = s">
            {{ s }}
          </button>
        </span>
      </div>
      <ScanView :mesh="mesh.data.value" :ends="ends" :fit="fit" :miss="miss" @moved="moved" />
    </template>

    <template v-if="scan" #notes>
      <section v-if="scan.warnings.length" class="warn">
        <p v-for="w in scan.warnings" :key="w">{{ words(w) }}</p>
      </section>
      <FitNotes
        v-model:miss="miss"
        :title="segment === 'torso' ? segment : `${segment}, ${side}`"
        :fit="fit"
        :trouble="trouble"
        :fitting="fitting" />
      <section v-if="fit" class="go">
        <p v-for="q in fit.questions" :key="q.key" class="words stop" role="alert">{{ words(q.message) }}</p>
        <button class="press main big" @click="use.mutate(undefined)">
          {{ fit.questions.length ? "I have looked: use it" : inUse ? "Use this fit instead" : "Use it for patterns" }}
        </button>
        <button v-if="inUse" class="press small" @click="leave.mutate(undefined)">Back to the tape's readings</button>
        <button v-if="inUse && template" class="press" @click="addPiece.mutate(undefined)">
          Ink a {{ template.word.toLowerCase() }} on it →
        </button>
      </section>
      <section v-if="ends">
        <h3>Ends and front</h3>
        <p class="soft small">
          {{ how ? `Proposed from ${how}.`.replace("Proposed from moved", "Moved") : "" }} Drag the balls over the skin,
          or step them:
        </p>
        <p v-for="(word, i) in ['Lower end', 'Upper end']" :key="word" class="ends">
          <span><i class="ball" :class="{ up: i }" />{{ word }}</span
          ><span
            ><button class="press small" :title="`${word}: 5 mm down the limb`" @click="nudge(i, -5)">−5</button>
            <button class="press small" :title="`${word}: 5 mm up the limb`" @click="nudge(i, 5)">+5</button></span
          >
        </p>
        <p class="ends">
          <span>Front</span
          ><span
            ><button class="press small" @click="turnFront(-10)">−10°</button>
            <button class="press small" @click="turnFront(10)">+10°</button></span
          >
        </p>
        <button class="press small" @click="propose">Propose again</button>
      </section>
      <StanceFields
        :scan="scan"
        :height="mesh.data.value?.height"
        @change="setStance.mutate($event)"
        @remove="remove.mutate(undefined)" />
    </template>
  </ScreenFrame>
</template>

<style scoped>
section {
  display: grid;
  gap: 8px;
  justify-items: stretch;
}

.bar,
.device {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
}

.file {
  position: absolute;
  width: 1px;
  height: 1px;
  opacity: 0;
}

.job {
  display: flex;
  gap: 12px;
  align-items: center;
}

.tabs {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  align-items: center;
}

.tabs > button {
  min-height: 40px;
  padding: 4px 14px;
  border: 0;
  border-bottom: 3px solid transparent;
  background: none;
  font: 700 17px var(--slab);
  cursor: pointer;
}

.tabs .on {
  border-color: var(--verdigris);
  background: var(--sheet);
}

h3::first-letter {
  text-transform: uppercase;
}

.big {
  min-height: 50px;
}

.ball {
  display: inline-block;
  width: 13px;
  height: 13px;
  margin-right: 8px;
  border-radius: 50%;
  background: #9c3a29;
}

.ball.up {
  background: #c98a1b;
}

.warn {
  padding-left: 10px;
  border-left: 5px solid var(--ochre-fill);
}
</style>
