<script setup lang="ts">
import { computed, ref, watch } from "vue";
import { api, take, type Schemas } from "@/api/client";
import { say as tell, useChange, useHere } from "@/api/queries";
import NoPattern from "@/frame/NoPattern.vue";
import ScreenFrame from "@/frame/ScreenFrame.vue";
import TabRow from "@/frame/TabRow.vue";
import { minutes, useUnit } from "@/parts/units";
import { useCraft } from "@/screens/making/bench/useBench";
import StackEditor from "./StackEditor.vue";
import SwatchStrip from "./SwatchStrip.vue";
import ZonePicture from "./ZonePicture.vue";
import { useFinish, useFinishWork, type Stack } from "./useFinish";

/** The finish: zones bounded by ink, a stack of layers on each, judged while it is built. */
const { piece, pieceId } = useHere();
const { show, say } = useUnit();
const finish = useFinish(pieceId);
const craft = useCraft();
const work = useFinishWork(piece, () => finish.data.value?.zones ?? []);
const at = ref(0);
const step = ref(0);
const chosen = ref<string[]>([]);
watch(pieceId, () => ((at.value = 0), (step.value = 0), (chosen.value = [])));
const painted = computed(
  () => finish.data.value?.finishes[Math.min(at.value, (finish.data.value?.finishes.length ?? 1) - 1)],
);
watch(at, () => (step.value = 0));
const stack = computed(() => painted.value?.stack as Stack);
const apply = (next: (old: Stack) => Stack) => painted.value && work.stack(painted.value.at, next, stack.value);
const recipes = computed(() => craft.data.value?.recipes ?? []);
function recipe(key: string) {
  const found = recipes.value.find((r) => r.key === key);
  if (!found) return;
  const own = (painted.value?.bends ? found.giving : found.rigid) as Stack;
  if (!chosen.value.length) return apply(() => own);
  work.split(chosen.value, own);
  chosen.value = [];
}
/** Give the chosen zones to a finish that is there. */
function over(to: number) {
  work.move(chosen.value, to);
  chosen.value = [];
}
const pick = (zone: string) =>
  (chosen.value = chosen.value.includes(zone) ? chosen.value.filter((z) => z !== zone) : [...chosen.value, zone]);
const each = <T,>(of: (f: Schemas["FinishZoneOut"]) => T) =>
  Object.fromEntries((finish.data.value?.finishes ?? []).map((f, n) => [String(n), of(f)]));
const names = computed(() => each((f) => f.name));
const zoned = computed(() => each((f) => f.zones.join(", ")));
const hard = computed(() => painted.value?.findings.filter((f) => f.hard).length ?? 0);
const keepRecipe = useChange(async () => {
  const book = await take(api.GET("/api/recipes"));
  const stacks = [...book.stacks.filter((s) => s.name !== stack.value.name), stack.value] as Schemas["Stack-Input"][];
  await take(api.PUT("/api/recipes", { body: { stacks } }));
  tell(`“${stack.value.name}” is among your recipes.`);
});
const bring = useChange((file: File) => sendRecipes(file));
async function sendRecipes(file: File) {
  const book = JSON.parse(await file.text().catch(() => "{}")) as Schemas["RecipeBook-Input"];
  await take(api.POST("/api/recipes/bring-in", { body: book }));
}
function brought(event: Event) {
  const field = event.target as HTMLInputElement;
  if (field.files?.[0]) bring.mutate(field.files[0]);
  field.value = "";
}
</script>

<template>
  <ScreenFrame title="Finish" about="Zones, and what lies on each from the foam out.">
    <template #tools>
      <a v-if="pieceId" class="press" :href="`/api/pieces/${pieceId}/finish-card.pdf`" download>Finish card</a>
      <RouterLink v-if="pieceId" class="press main" :to="{ name: 'bench', query: { piece: pieceId } }"
        >To the bench →</RouterLink
      >
    </template>
    <NoPattern
      v-if="!finish.data.value || !craft.data.value || finish.isError.value || !painted"
      :error="finish.error.value" />
    <template v-else>
      <div class="over">
        <section class="sheet picture" aria-label="Zones">
          <ZonePicture :finish="finish.data.value" :chosen="chosen" :at="at" :step="step" @pick="pick" />
          <p class="soft small">
            {{
              chosen.length
                ? `Zones ${chosen.join(", ")} chosen: a recipe gives them a finish of their own.`
                : "Touch zones to give them a finish of their own. More zones: draw a paint line in the ink."
            }}
            <span v-if="painted.bends">Hatched: {{ painted.bends }}.</span>
          </p>
          <p v-if="chosen.length && finish.data.value.finishes.length > 1" class="choice">
            <button v-for="(f, n) in finish.data.value.finishes" :key="n" class="press small" @click="over(f.at)">
              As {{ f.name }}
            </button>
          </p>
        </section>
        <section class="recipes" aria-label="Recipes">
          <h3>Recipes</h3>
          <div class="cards">
            <button
              v-for="r in recipes"
              :key="r.key"
              class="press recipe"
              :title="r.what"
              :data-recipe="r.key"
              @click="recipe(r.key)">
              {{ r.key }}
            </button>
          </div>
        </section>
      </div>
      <TabRow
        v-if="finish.data.value.finishes.length > 1"
        :tabs="names"
        :on="String(at)"
        :counts="zoned"
        label="Finishes"
        @pick="(n) => (at = Number(n))" />
      <section class="sheet stack" aria-label="Stack">
        <header>
          <h3>{{ painted.name }}</h3>
          <span class="soft figures"
            >zones {{ painted.zones.join(", ") }}, {{ (painted.area / 1e6).toFixed(3) }} m²</span
          >
          <b v-if="hard" class="refused">{{
            hard === 1 ? "One layer cannot stay so" : `${hard} things cannot stay so`
          }}</b>
          <b v-else-if="!painted.findings.length" class="good">Nothing speaks against it</b>
        </header>
        <SwatchStrip :painted="painted" :step="step" @step="(n) => (step = n)" />
        <StackEditor :painted="painted" :stack="stack" :craft="craft.data.value" @change="apply" />
        <div v-if="painted.at >= 0" class="give">
          <label class="field"
            ><span class="word">Its name</span
            ><input
              v-says="stack.name"
              class="press wide"
              name="stack-name"
              maxlength="60"
              @change="apply((old) => ({ ...old, name: ($event.target as HTMLInputElement).value || old.name }))"
          /></label>
          <button class="press" @click="keepRecipe.mutate(undefined)">Keep as a recipe of mine</button>
          <button class="press plain" @click="(work.drop(painted.at), (at = 0))">Take this finish off</button>
        </div>
      </section>
    </template>

    <template v-if="finish.data.value && painted" #notes>
      <section v-if="painted.mask > 0">
        <h3>Mask or hand?</h3>
        <p class="row">
          <span>Line to end at</span><b class="figures">{{ show(painted.mask) }}</b>
        </p>
        <p class="row">
          <span>Masked and sprayed</span><b class="figures">{{ minutes(painted.masked) }}</b>
        </p>
        <p class="row">
          <span>By hand, thin coats</span><b class="figures">{{ minutes(painted.by_hand) }}</b>
        </p>
        <p>
          <b>{{ painted.hand ? "By hand is quicker: many thin edges." : "Mask it." }}</b>
        </p>
        <button v-if="painted.at >= 0" class="press small" @click="work.hand(painted.at, !painted.hand)">
          {{ painted.hand ? "Mask it all the same" : "By hand all the same" }}
        </button>
      </section>
      <section>
        <h3>Mask sheets</h3>
        <template v-if="finish.data.value.masks.length">
          <p v-for="w in finish.data.value.masks" :key="w" class="small">{{ say(w) }}</p>
          <p class="outs">
            <a :href="`/api/pieces/${pieceId}/masks.pdf`" download>PDF, full size</a>
            <a :href="`/api/pieces/${pieceId}/masks.svg`" download>SVG</a>
            <a :href="`/api/pieces/${pieceId}/masks.dxf`" download>DXF</a>
          </p>
        </template>
        <p v-else class="soft small">None: no finish ends at a line within the piece, and no rivets have a size.</p>
      </section>
      <section v-for="f in finish.data.value.findings" :key="f.message">
        <p class="words">{{ f.message }} {{ f.advice }}</p>
      </section>
      <section>
        <h3>Scraps to prepare</h3>
        <p v-for="c in finish.data.value.cards" :key="c" class="small">{{ c }}</p>
      </section>
      <section>
        <h3>Your recipes</h3>
        <p class="outs">
          <a href="/api/recipes" download="recipes.json">Give them to a friend</a>
          <label class="bring"
            >Bring in a friend's<input
              class="sr"
              type="file"
              accept=".json,application/json"
              name="recipes"
              @change="brought"
          /></label>
        </p>
      </section>
    </template>
  </ScreenFrame>
</template>

<style scoped>
.over {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 250px;
  gap: 14px;
}

.picture {
  display: grid;
  gap: 6px;
  padding: 12px 16px;
}

.recipes {
  display: grid;
  gap: 8px;
  align-content: start;
}

.cards {
  display: grid;
  gap: 6px;
}

.recipe {
  justify-content: start;
  min-height: 44px;
}

.stack {
  display: grid;
  gap: 12px;
  padding: 14px 18px;
}

.stack header {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 16px;
  align-items: baseline;
}

.refused {
  color: var(--oxide);
}

.good {
  color: var(--verdigris);
}

.choice {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}

.row {
  display: flex;
  justify-content: space-between;
  gap: 10px;
}

.outs {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 14px;
}

.bring {
  text-decoration: underline;
  cursor: pointer;
}

.give input.wide {
  width: 200px;
}

.sr {
  position: absolute;
  clip-path: inset(50%);
  width: 1px;
}

@media (max-width: 1100px) {
  .over {
    grid-template-columns: minmax(0, 1fr);
  }

  .cards {
    grid-template-columns: repeat(auto-fill, minmax(150px, 1fr));
  }
}
</style>
