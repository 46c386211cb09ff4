<script setup lang="ts">
import { computed, reactive, ref, watch } from "vue";
import { api, take, type Schemas } from "@/api/client";
import { say, useChange, useHere, usePieceQuery, useSettings } from "@/api/queries";
import MarginNotes from "@/frame/MarginNotes.vue";
import ScreenFrame from "@/frame/ScreenFrame.vue";
import KeptPatterns from "@/parts/KeptPatterns.vue";
import LengthField from "@/parts/LengthField.vue";
import { moment } from "@/parts/moments";
import { useUnit } from "@/parts/units";

/** The piece tried on: what was found at each station changes its ease; every pattern of it that was kept. */
const { piece, pieceId } = useHere();
const { show } = useUnit();
const fits = usePieceQuery("fits", pieceId, (p, how) =>
  take(api.GET("/api/pieces/{piece}/fit-sessions", { ...how, params: { path: { piece: p } } })),
);
const settings = useSettings();
const note = ref("");
const findings = reactive<Record<string, { feel: "tight" | "loose" | "good" | ""; by: number | null; typed: string }>>(
  {},
);
const fitting = ref(false);
const compare = ref<{ from: number; to: number | null } | null>(null);
watch(
  () => piece.value?.id,
  () => {
    for (const key of Object.keys(findings)) delete findings[key];
    for (const s of piece.value?.stations ?? []) findings[s] = { feel: "", by: null, typed: "" };
    compare.value = null;
  },
  { immediate: true },
);
const told = computed(() => Object.entries(findings).filter(([, f]) => f.feel));
const keepFit = useChange(async () => {
  const body = {
    findings: told.value.map(([station, f]) => ({
      station,
      feel: f.feel as "tight",
      by: f.feel === "good" ? 0 : f.typed || 0,
    })),
    note: note.value,
  };
  await take(api.POST("/api/pieces/{piece}/fit-sessions", { params: { path: { piece: pieceId.value } }, body }));
  note.value = "";
  for (const f of Object.values(findings)) Object.assign(f, { feel: "", by: null, typed: "" });
  fitting.value = false;
});
const accept = useChange(async (fit: Schemas["FitOut"]) => {
  const done = await take(api.POST("/api/fit-sessions/{fit}/accept", { params: { path: { fit: fit.id } } }));
  compare.value = { from: done.accepted_version! - 1, to: done.accepted_version! };
  say(`The ease is changed; the new pattern is version ${done.accepted_version}`);
});
const sentence = (f: Schemas["FitFinding-Output"]) =>
  f.feel === "good" ? `${f.station} good` : `${f.station} ${f.feel} by ${show(Number(f.by))}`;
</script>

<template>
  <ScreenFrame title="Tried on" :about="piece ? `What fits of ${piece.name}, and its kept patterns` : ''">
    <section v-if="piece" class="sheet block">
      <header>
        <h3>Fittings of {{ piece.name }}</h3>
        <button class="press main" @click="fitting = !fitting">
          {{ fitting ? "Not now" : "Write down a fitting" }}
        </button>
      </header>
      <form v-if="fitting" class="fit" @submit.prevent="keepFit.mutate(undefined)">
        <p class="soft">
          Worn over the base layer, taped shut. How much is missing, or can be pinched, all round the limb?
        </p>
        <div v-for="s in piece.stations" :key="s" class="station">
          <b>{{ s }}</b>
          <span role="radiogroup" :aria-label="`${s} feels`">
            <button
              v-for="feel in ['tight', 'good', 'loose'] as const"
              :key="feel"
              type="button"
              class="press"
              :class="{ main: findings[s]?.feel === feel }"
              role="radio"
              :aria-checked="findings[s]?.feel === feel"
              :data-fit="`${s}-${feel}`"
              @click="findings[s].feel = feel">
              {{ feel }}
            </button>
          </span>
          <LengthField
            v-if="findings[s] && ['tight', 'loose'].includes(findings[s].feel)"
            :name="`fit-${s}`"
            :value="findings[s].by"
            empty="by how much"
            @change="((findings[s].typed = $event), (findings[s].by = null))" />
        </div>
        <textarea
          v-model="note"
          rows="2"
          maxlength="2000"
          placeholder="Anything else: standing, sitting, elbow bent?"
          aria-label="Note on the fitting" />
        <button class="press main" type="submit" :disabled="!told.length">Keep this fitting</button>
      </form>
      <article v-for="f in fits.data.value ?? []" :key="f.id" class="session">
        <p>
          <b>{{ moment(f.fitted_at) }}:</b> {{ f.findings.map(sentence).join(", ") }}.
          <span v-if="f.note" class="soft">{{ f.note }}</span>
        </p>
        <p v-if="f.accepted_version" class="soft">In version {{ f.accepted_version }} of the pattern.</p>
        <template v-else>
          <MarginNotes :notes="f.notes" />
          <button v-if="f.notes.length" class="press main" @click="accept.mutate(f)">Change the pattern by this</button>
        </template>
      </article>
      <p v-if="!fits.data.value?.length && !fitting" class="soft">
        No fitting yet. Tape a paper pattern shut on the wearer; what you find here changes the ease and makes the next
        pattern.
      </p>
    </section>

    <template v-if="piece" #notes>
      <KeptPatterns v-model="compare" :piece="piece.id" :paper="settings.data.value?.paper ?? 'A4'" />
    </template>
  </ScreenFrame>
</template>

<style scoped>
.block {
  display: grid;
  gap: 12px;
  padding: 18px 22px;
}

header {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 12px;
}

.fit {
  display: grid;
  gap: 12px;
  justify-items: start;
}

.station {
  display: grid;
  grid-template-columns: 120px auto 160px;
  gap: 14px;
  align-items: center;
}

.station span {
  display: flex;
  gap: 6px;
}

.session {
  display: grid;
  gap: 8px;
  justify-items: start;
  padding-top: 12px;
  border-top: 1px solid var(--sheet-line);
}

.session > ul {
  width: 100%;
}

@media (max-width: 760px) {
  .station {
    grid-template-columns: 1fr;
  }
}
</style>
