<script setup lang="ts">
import { reactive } from "vue";
import { useUnit } from "@/parts/units";
import EdgeSection from "./EdgeSection.vue";
import JointSection from "./JointSection.vue";
import { typedNumber, type Joint } from "./useFoam";

/**
 * Every seam and dart with the section of its edges, which changes along it where the fold does; its angle can be
 * given.
 */
defineProps<{ joints: Joint[]; sides: boolean }>();
const emit = defineEmits<{ angle: [name: string, fold: number | null] }>();
const { show, say } = useUnit();
/** How far along each joint the section is looked at, as a share: the joint may grow while it is looked at. */
const shares = reactive<Record<number, number>>({});
const at = (j: Joint, n: number) => Math.round((shares[n] ?? 0.5) * (j.stations.length - 1));
const here = (j: Joint, n: number) => j.stations[at(j, n)];
const changes = (j: Joint) => new Set(j.stations.map((s) => Math.round(s.bevel[0]))).size > 1;
type Both = [Joint["sides"][number], Joint["sides"][number]];
const cut = (j: Joint, n: number) => j.sides.map((s, k) => ({ ...s, bevel: here(j, n).bevel[k] })) as Both;
const alike = (j: Joint) => j.sides[0].foam === j.sides[1].foam;
/** What an angle looks like, to give one by. */
const likeness = (fold: number) =>
  [0, 1].map(() => ({ foam: 6, bevel: fold / 2, taken_off: "inner" })) as [
    { foam: number; bevel: number; taken_off: string },
    { foam: number; bevel: number; taken_off: string },
  ];
function give(j: Joint, field: HTMLInputElement) {
  const wanted = typedNumber(field.value);
  if (wanted === null) field.value = j.fold.toFixed(0);
  else if (wanted !== j.fold) emit("angle", j.name, wanted);
}
</script>

<template>
  <ul class="cards">
    <li v-for="(j, n) in joints" :key="`${j.side} ${j.name} ${n}`" class="sheet" :data-joint="j.name">
      <h3>
        {{ j.name }}<span v-if="sides" class="soft">, {{ j.side }}</span>
      </h3>
      <div class="pictures">
        <figure>
          <JointSection :fold="here(j, n).fold" :sides="cut(j, n)" />
          <figcaption class="soft small">glued, outside up</figcaption>
        </figure>
        <figure v-for="(s, k) in alike(j) ? cut(j, n).slice(0, 1) : cut(j, n)" :key="k">
          <EdgeSection
            :foam="s.foam"
            shape="angled"
            :angle="s.bevel"
            :face="s.taken_off"
            :label="`Lying flat, ${s.bevel.toFixed(0)} degrees off the ${s.taken_off} face`" />
          <figcaption class="soft small">{{ alike(j) ? "each edge, flat" : `panel ${s.panel}, flat` }}</figcaption>
        </figure>
      </div>
      <p class="figures line">
        <b>{{
          here(j, n).bevel[0]
            ? alike(j)
              ? `${here(j, n).bevel[0].toFixed(0)}° off square`
              : here(j, n)
                  .bevel.map((b) => `${b.toFixed(0)}°`)
                  .join(" and ")
            : "square"
        }}</b>
        <span class="soft"
          >folds {{ Math.abs(here(j, n).fold).toFixed(0) }}°, {{ show(Math.round(here(j, n).at)) }} from its
          {{ j.ends[0] }}</span
        >
      </p>
      <input
        v-if="changes(j)"
        v-says="at(j, n)"
        type="range"
        min="0"
        :max="j.stations.length - 1"
        :aria-label="`Where along the ${j.name}`"
        @input="shares[n] = Number(($event.target as HTMLInputElement).value) / (j.stations.length - 1)" />
      <p>{{ say(j.words) }}</p>
      <p v-if="Math.abs(j.sides[0].move) >= 0.3" class="soft">
        The pages show the face that stays full: {{ show(Math.abs(j.sides[0].move)) }}
        {{ j.sides[0].move > 0 ? "outside" : "inside" }} the middle of the foam.
      </p>
      <details class="own">
        <summary>{{ j.asked ? `Your angle: ${j.fold.toFixed(0)}°` : "Give its angle yourself" }}</summary>
        <div class="likeness">
          <figure v-for="a in [30, 60]" :key="a">
            <JointSection :fold="a" :sides="likeness(a)" />
            <figcaption class="figures">{{ a }}°</figcaption>
          </figure>
        </div>
        <div class="give">
          <label class="field"
            ><span class="word">Folds by, degrees; a valley below 0</span>
            <input
              v-says="j.fold.toFixed(0)"
              class="press figures"
              inputmode="decimal"
              :name="`angle-${j.name}`"
              @change="give(j, $event.target as HTMLInputElement)" />
          </label>
          <button v-if="j.asked" class="press" @click="emit('angle', j.name, null)">As the armour folds</button>
        </div>
      </details>
    </li>
  </ul>
</template>

<style scoped>
.pictures {
  display: grid;
  grid-auto-flow: column;
  grid-auto-columns: minmax(0, 1fr);
  gap: 12px;
  align-items: end;
}

figure {
  margin: 0;
}

figcaption {
  text-align: center;
}

.line {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 10px;
  align-items: baseline;
}

.line b {
  font-size: 22px;
}

input[type="range"] {
  width: 100%;
  accent-color: var(--verdigris);
}

.own summary {
  min-height: 32px;
  color: var(--verdigris-deep);
  font-weight: 600;
  cursor: pointer;
}

.likeness {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 14px;
  padding: 6px 0;
}
</style>
