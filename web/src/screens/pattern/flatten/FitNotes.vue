<script setup lang="ts">
import { computed, reactive, ref, watch } from "vue";
import { api, take, type Piece, type Schemas } from "@/api/client";
import { freshBuilds, useChange, useSettings } from "@/api/queries";
import { useUnit } from "@/parts/units";

/**
 * Panels held against the wearer: what they go round together, what is wanted there, and one press to make them fit.
 */
const props = defineProps<{ piece: Piece; panels: Schemas["FlatPanelOut"][] }>();
const { unit, show, bare, say } = useUnit();
const left = reactive(new Set<number>());
const share = ref(1);
const settings = useSettings();
const step = ref(5);
const paperPanel = ref(props.panels[0]?.number ?? 1);
const threeSizes = computed(() => {
  const paper = settings.data.value?.paper === "Letter" ? "Letter" : "A4";
  const panel = props.panels.some((p) => p.number === paperPanel.value) ? paperPanel.value : props.panels[0]?.number;
  const asked = `panel=${panel}&step=${step.value / 100}&paper=${paper}&unit=${unit.value}`;
  return `/api/pieces/${props.piece.id}/three-sizes.pdf?${asked}`;
});
const low = ref<number | null>(null);
const high = ref<number | null>(null);
const along = ref(false);
const fit = ref<Schemas["FlatFitOut"] | null>(null);
const wrong = ref("");
watch(
  () => props.piece.id,
  () => ((fit.value = null), left.clear(), (low.value = high.value = null), (wrong.value = "")),
);
const hold = useChange(
  async (keep: boolean) => {
    wrong.value = "";
    fit.value = await take(
      api.POST("/api/pieces/{piece}/fit", {
        params: { path: { piece: props.piece.id } },
        body: {
          panels: props.panels.map((p) => p.number).filter((n) => !left.has(n)),
          share: share.value,
          low: low.value,
          high: high.value,
          along: along.value,
          take: keep,
        },
      }),
    );
    if (keep) {
      await freshBuilds();
      hold.mutate(false);
    }
  },
  (refusal) => ((wrong.value = refusal.message), (fit.value = null)),
);
const off = (r: Schemas["FlatFitRowOut"]) => r.wants - r.was;
/** The least that is told, mm: under it the pattern is as it is wanted. */
const least = computed(() => (unit.value === "in" ? 25.4 / 32 : 0.1));
const worst = () => Math.max(...(fit.value?.rows ?? []).map((r) => Math.abs(off(r))), 0);
</script>

<template>
  <section>
    <h3>Does it go round this wearer?</h3>
    <div v-if="panels.length > 1" class="row">
      <button
        v-for="p in panels"
        :key="p.number"
        class="press small figures"
        :aria-pressed="!left.has(p.number)"
        @click="left.has(p.number) ? left.delete(p.number) : left.add(p.number)">
        {{ p.number }}
      </button>
    </div>
    <div class="row">
      <select v-model="share" class="press small" name="fit-share" aria-label="How much of the round they are">
        <option :value="1">all round</option>
        <option :value="0.5">half the round</option>
        <option :value="0.25">a quarter</option>
      </select>
      <button class="press small main" @click="hold.mutate(false)">Hold it against the body</button>
    </div>
    <details>
      <summary>Not measured? Hold paper against the body</summary>
      <p class="soft small">
        One panel smaller, as it is, and larger: cut them out, hold them on, and see which lies right.
      </p>
      <div class="row">
        <select v-if="panels.length > 1" v-model="paperPanel" class="press small" aria-label="Panel on paper">
          <option v-for="p in panels" :key="p.number" :value="p.number">panel {{ p.number }}</option>
        </select>
        <select v-model="step" class="press small" aria-label="How far apart the sizes are">
          <option v-for="s in [3, 5, 10]" :key="s" :value="s">{{ 100 - s }}, 100, {{ 100 + s }} %</option>
        </select>
        <a class="press small" :href="threeSizes" download>Print three sizes</a>
      </div>
    </details>
    <p v-if="wrong" class="words stop" role="alert">{{ say(wrong) }}</p>
    <template v-if="fit">
      <table class="ruled figures">
        <thead>
          <tr>
            <th>at, {{ unit }}</th>
            <th>pattern</th>
            <th>wanted</th>
            <th></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="r in fit.rows" :key="r.up" :class="{ off: Math.abs(off(r)) > 3 }">
            <td>{{ r.word === "between" ? bare(r.up) : r.word }}</td>
            <td>{{ bare(r.was) }}</td>
            <td>{{ bare(r.wants) }}</td>
            <td>{{ Math.abs(off(r)) < least ? "" : (off(r) > 0 ? "+" : "−") + bare(Math.abs(off(r))) }}</td>
          </tr>
        </tbody>
      </table>
      <p class="soft small">Wanted: the body, and 2π × (base layer + ease + half the foam), less the gap.</p>
      <p v-for="q in fit.questions" :key="q" class="words">
        <span>{{ say(q) }}</span>
      </p>
      <details>
        <summary>Where it begins and ends</summary>
        <div class="row">
          <select v-model="low" class="press small" aria-label="Lower end">
            <option :value="null">first</option>
            <option v-for="(s, k) in fit.stations" :key="s" :value="k">{{ s }}</option>
          </select>
          <select v-model="high" class="press small" aria-label="Upper end">
            <option :value="null">last</option>
            <option v-for="(s, k) in fit.stations" :key="s" :value="k">{{ s }}</option>
          </select>
        </div>
        <label class="tick"
          ><input v-model="along" type="checkbox" name="fit-along" /> fit its length, too ({{ show(fit.height) }}, the
          body {{ show(fit.length) }})</label
        >
      </details>
      <button v-if="worst() > 0.5" class="press main" @click="hold.mutate(true)">Fit it to this wearer</button>
      <p v-else class="good words">
        <span>It fits, within {{ show(Math.max(worst(), least)) }}.</span>
      </p>
    </template>
  </section>
</template>

<style scoped>
section {
  display: grid;
  gap: 10px;
}

.row {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}

tr.off td {
  background: var(--ochre-pale);
}

td:last-child {
  white-space: nowrap;
}
</style>
