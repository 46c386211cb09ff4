<script setup lang="ts">
import { computed, ref } from "vue";
import { api, take, type DesignIn } from "@/api/client";
import { say, useChange, useDesignChange, useHere, usePattern, usePieceQuery } from "@/api/queries";
import PanelTable from "@/canvas/PanelTable.vue";
import StrainLegend from "@/canvas/StrainLegend.vue";
import MarginNotes from "@/parts/MarginNotes.vue";
import NoPattern from "@/parts/NoPattern.vue";
import ScreenFrame from "@/parts/ScreenFrame.vue";
import { useUnit } from "@/parts/units";
import CastView from "@/scene/CastView.vue";
import DesignSheet from "./DesignSheet.vue";

const { piece, pieceId } = useHere();
const { show, say: words } = useUnit();
const pattern = usePattern(pieceId);
const cast = usePieceQuery("cast", pieceId, (p) => take(api.GET("/api/pieces/{piece}/cast", { params: { path: { piece: p } } })));
const strain = ref(true);
const refusal = ref<{ field: string; message: string } | null>(null);

const save = useDesignChange(piece, (r) => (refusal.value = { field: r.fields[0]?.field ?? "", message: r.message }));

function change(how: (now: DesignIn) => DesignIn) {
  refusal.value = null;
  save(how);
}
const keep = useChange(async () => {
  const kept = await take(api.POST("/api/pieces/{piece}/versions", { params: { path: { piece: pieceId.value } }, body: { name: "Kept by hand" } }));
  say(`Kept as version ${kept[kept.length - 1].number}. The Logbook has them all.`);
});
const panel = computed(() => pattern.data.value?.panels[0]);
const seams = computed(() => pattern.data.value?.panels.flatMap((p) => p.seams) ?? []);
const STATE = { flat: "good", warm: "warm", hard: "hard", split: "stop" } as Record<string, string>;
</script>

<template>
  <ScreenFrame title="On the table" :about="pattern.data.value && !pattern.isError.value ? pattern.data.value.panels.length === 1 ? 'One panel' : `${pattern.data.value.panels.length} panels` : ''">
    <template #tools>
      <template v-if="pattern.data.value && !pattern.isError.value">
        <button class="press" :class="{ main: strain }" @click="strain = !strain">{{ strain ? "Strain shown" : "Show strain" }}</button>
        <button class="press" @click="keep.mutate(undefined)">Keep this version</button>
        <RouterLink class="press main" :to="{ name: 'cut', query: { piece: pieceId } }">On to cutting →</RouterLink>
      </template>
    </template>
    <div class="split">
      <div v-if="piece" class="left">
        <CastView v-if="cast.data.value?.length && !cast.isError.value" :cast="cast.data.value[0]" foam small />
        <DesignSheet :key="piece.id" :piece="piece" :refusal="refusal" @change="change" />
      </div>
      <div class="middle">
        <NoPattern v-if="!pattern.data.value || pattern.isError.value || !piece" :error="pattern.error.value" />
        <template v-else>
          <PanelTable :pattern="pattern.data.value" :strain="strain" />
          <StrainLegend v-if="strain" :give="pattern.data.value.allowance" />
        </template>
      </div>
    </div>

    <template v-if="pattern.data.value && !pattern.isError.value && panel" #notes>
      <section v-for="p in pattern.data.value.panels" :key="p.label.code" class="verdict" :class="STATE[p.verdict.state]">
        <h3>{{ pattern.data.value.panels.length > 1 ? `${p.label.code}: ` : "" }}{{ p.verdict.sentence }}</h3>
        <p class="row"><span>95 % of it gives at most</span><b class="figures p95">{{ p.p95.toFixed(1) }} %</b></p>
        <p class="row"><span>Comfortable, warm</span><span class="figures">{{ pattern.data.value.allowance.stretch.toFixed(1) }} %</span></p>
        <p class="soft">{{ p.verdict.advice }}</p>
      </section>
      <p v-if="pattern.data.value.changed_since" class="words">Changed since version {{ pattern.data.value.changed_since }} was kept. Keep this one before you cut it.</p>
      <section v-for="f in pattern.data.value.findings.filter((f) => f.place !== 'flatten')" :key="f.message" class="words" :class="f.level">
        <div><b>{{ words(f.message) }}</b> <span v-if="f.advice">{{ words(f.advice) }}</span></div>
      </section>
      <section>
        <h3>How it is made</h3>
        <MarginNotes :notes="pattern.data.value.notes" />
      </section>
      <section v-for="seam in seams" :key="seam.name">
        <h3>{{ seam.name === "closing" ? "Closing edges A and B" : `Seam: ${seam.name}` }}</h3>
        <p class="row"><span>On the body</span><span class="figures">{{ show(seam.on_body) }}</span></p>
        <p class="row"><span>A · B, flat</span><span class="figures">{{ show(seam.side_a) }} · {{ show(seam.side_b) }}</span></p>
        <p class="soft">{{ seam.mismatch < 1.5 ? "Alike: they meet tick by tick without a pucker." : "Not alike: they would pucker." }}</p>
      </section>
    </template>
  </ScreenFrame>
</template>

<style scoped>
.split {
  display: grid;
  grid-template-columns: 262px minmax(0, 1fr);
  gap: 18px;
  flex: 1;
  min-height: 0;
}

.left {
  min-width: 0;
  overflow: auto;
}

.middle {
  display: flex;
  flex-direction: column;
  gap: 10px;
  min-width: 0;
}

section {
  display: grid;
  gap: 7px;
}

.row {
  display: flex;
  justify-content: space-between;
  gap: 10px;
}

.verdict {
  padding-left: 12px;
  border-left: 5px solid var(--verdigris);
}

.verdict.warm {
  border-color: var(--ochre-fill);
}

.verdict.hard {
  border-color: var(--plum);
}

.verdict.stop {
  border-color: var(--oxide);
}

.row b,
.row span:last-child {
  white-space: nowrap;
}

.p95 {
  font-size: 20px;
}

@media (max-width: 760px) {
  .split {
    grid-template-columns: 1fr;
  }

  .middle {
    min-height: 420px;
  }
}
</style>
