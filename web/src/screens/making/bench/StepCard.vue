<script setup lang="ts">
import { computed, ref, watch } from "vue";
import { useHere } from "@/api/queries";
import CautionGate from "@/parts/CautionGate.vue";
import { figure, minutes, useUnit } from "@/parts/units";
import CementClock from "./CementClock.vue";
import StepExtras from "./StepExtras.vue";
import { span, STATE_WORDS, type Bench, type Mark, type Step } from "./useBench";

/** One step, to be read at arm's length and worked with a knuckle. */
const props = defineProps<{ step: Step; bench: Bench; left: number; held?: string[]; missing?: string[] }>();
const emit = defineEmits<{ mark: [mark: Mark]; pick: [key: string]; aside: [rule: string] }>();
const { build, pieceId } = useHere();
const { unit, say } = useUnit();
const why = ref(false);
const asking = ref(false);
/** Only another step, or another state of this one, closes a question: not every answer that comes in. */
watch([() => props.step.key, () => props.step.state], () => ((why.value = false), (asking.value = false)));
/** When the last coat is on, its question is asked. */
watch(
  () => props.step.coats > 1 && props.step.coats_done === props.step.coats && props.step.state !== "done",
  (all) => all && props.step.inspection && (asking.value = true),
);
const open = computed(() =>
  props.step.before.filter((b) => props.bench.steps.find((s) => s.key === b.key)?.state !== "done"),
);
const place = computed(() => props.bench.steps.findIndex((s) => s.key === props.step.key) + 1);
const made = computed(() =>
  props.step.formula
    .replace(/\{(\d+)\}/g, (_, i) => figure(props.step.values[Number(i)], unit.value))
    .replace(/ x /g, " × "),
);
const factor = computed(() => props.step.minutes / Math.max(1e-6, props.step.estimate));
const PLACES = { indoors: "", ventilated: "with the window open or a fan", outdoors: "outdoors or in a booth" };
function done() {
  if (props.step.inspection) return void (asking.value = true);
  emit("mark", { key: props.step.key, done: true });
}
const tick = (part: string, on: boolean) => emit("mark", { key: props.step.key, part, part_done: on });
const coatsOn = computed(() => props.step.coats_done);
</script>

<template>
  <article class="sheet now" :class="step.state">
    <header>
      <p class="soft line">
        <span>Step {{ place }} of {{ bench.steps.length }}</span>
        <b class="state">{{ STATE_WORDS[step.state] }}</b>
        <span v-if="PLACES[step.place]">{{ PLACES[step.place] }}</span>
      </p>
      <h2>{{ step.title }}</h2>
    </header>

    <section v-if="step.state === 'mend'" class="words stop">
      <div>
        <h3>Mend it first</h3>
        <p class="how">{{ step.inspection?.mend }}</p>
        <button class="press main big" @click="emit('mark', { key: step.key, answer: 'mended' })">
          Mended: look again
        </button>
      </div>
    </section>
    <section v-if="open.length && step.state !== 'done'" class="first" aria-label="What comes first">
      <h3>First</h3>
      <p v-for="b in open" :key="b.key">
        <button class="press" @click="emit('pick', b.key)">{{ b.title }}</button>
        <span>{{ b.reason }}</span>
        <button
          v-if="bench.soft.some((r) => r.key === b.rule)"
          class="press plain small"
          @click="emit('aside', b.rule)">
          Not for this piece
        </button>
      </p>
    </section>
    <p v-for="h in held ?? []" :key="h" class="words">{{ h }}</p>
    <p v-if="step.lacks.length && step.state !== 'done'" class="words stop">
      <span>You have no {{ step.lacks.join(", no ") }}. See the workshop, or take another way.</span>
    </p>
    <p v-if="missing?.length && step.state !== 'done'" class="words stop">
      <span>Too little is there of {{ say(missing.join(", ")) }}.</span>
      <RouterLink class="press" :to="{ name: 'supplies', params: { build: build?.id } }">Supplies</RouterLink>
    </p>
    <section v-if="step.state === 'waiting'" class="clock">
      <b class="figures">{{ span(left) }}</b>
      <span>{{
        step.coats_done && step.coats_done < step.coats ? `till coat ${step.coats_done + 1}` : "till it can go on"
      }}</span>
    </section>

    <p class="how">{{ say(step.how) }}</p>
    <CautionGate v-if="build && step.cautions.length" :build="build.id" :keys="step.cautions" />
    <div class="facts">
      <p>
        <span class="soft">Hands on{{ step.setup >= 1 ? `, ${minutes(step.setup)} of it setting up` : "" }}</span
        ><b class="figures">{{ minutes(step.minutes) }}</b>
      </p>
      <p v-if="step.coats > 1">
        <span class="soft">Between coats</span><b class="figures">{{ minutes(step.between) }}</b>
      </p>
      <p v-if="step.wait >= 1">
        <span class="soft">Then wait</span><b class="figures">{{ minutes(step.wait) }}</b>
      </p>
      <p v-if="step.materials.length" class="materials">
        <span class="soft">Lay ready</span><b>{{ say(step.materials.join(", ")) }}</b>
      </p>
      <p v-if="step.protection.length || step.tools.length" class="materials">
        <span class="soft">Put on, take out</span><b>{{ [...step.protection, ...step.tools].join(", ") }}</b>
      </p>
    </div>

    <CementClock v-if="step.timer === 'cement' && step.state !== 'done'" :piece="pieceId" :step="step.key" />
    <RouterLink v-if="step.timer === 'heat'" class="press big" :to="{ name: 'heat', query: { piece: pieceId } }"
      >Open the heat coach</RouterLink
    >
    <section v-if="step.checks.length" class="checks" aria-label="Like the reference">
      <h3>Hold the reference beside it</h3>
      <label v-for="(c, k) in step.checks" :key="k">
        <input
          type="checkbox"
          :name="`check-${k + 1}`"
          :checked="step.checks_done.includes(k + 1)"
          @change="tick(`c${k + 1}`, ($event.target as HTMLInputElement).checked)" />
        <span>{{ c }}</span>
      </label>
    </section>
    <div v-if="why" class="why">
      <p>{{ say(step.reason) }}</p>
      <p v-if="made !== minutes(step.estimate)" class="figures">
        {{ minutes(step.estimate) }} = {{ made
        }}<template v-if="Math.abs(factor - 1) > 0.02"> · as you work, {{ Math.round(factor * 100) }} % of it</template>
      </p>
      <p v-if="step.before.length" class="soft">After {{ step.before.map((b) => b.title).join("; ") }}.</p>
    </div>
    <StepExtras :step="step" :bench="bench" @mark="(m) => emit('mark', m)" />

    <div v-if="asking && step.inspection" class="acts last ask">
      <p class="question">{{ step.inspection.question }}</p>
      <button class="press main big" @click="emit('mark', { key: step.key, done: true, answer: 'yes' })">Yes</button>
      <button class="press big no" @click="emit('mark', { key: step.key, answer: 'no' })">No</button>
      <button class="press plain big" @click="asking = false">Not yet</button>
    </div>
    <div v-else class="acts last">
      <button v-if="step.state === 'done'" class="press big" @click="emit('mark', { key: step.key, done: false })">
        Not done after all
      </button>
      <template v-else>
        <button
          v-for="n in step.coats > 1 ? step.coats : 0"
          :key="n"
          class="press big figures coat"
          :class="{ main: n === coatsOn + 1 }"
          :aria-pressed="n <= coatsOn"
          :disabled="n > coatsOn + 1 || n < coatsOn"
          :data-coat="n"
          @click="tick(String(n), n > coatsOn)">
          Coat {{ n }}{{ n <= coatsOn ? " ✓" : "" }}
        </button>
        <button class="press big" :class="{ main: step.coats === 1 }" :disabled="step.state === 'mend'" @click="done">
          {{ step.coats > 1 ? "All coats are on" : "Done, next step" }}
        </button>
      </template>
      <button class="press big" :aria-expanded="why" @click="why = !why">{{ why ? "Close" : "Why?" }}</button>
    </div>
  </article>
</template>

<style scoped>
.now {
  display: grid;
  gap: 16px;
  align-content: start;
  min-height: 0;
  padding: 22px 30px;
  overflow: auto;
  font-size: 20px;
}

h2 {
  font-size: 36px;
}

h3 {
  font-size: 20px;
}

.line {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 14px;
  font-size: 17px;
}

.state {
  color: var(--verdigris);
}

.blocked .state,
.waiting .state,
.mend .state {
  color: var(--ochre);
}

.how {
  max-width: 44em;
  font-size: 22px;
}

.first {
  display: grid;
  gap: 8px;
  padding: 12px 16px;
  background: var(--ochre-pale);
}

.first p {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 14px;
  align-items: center;
}

.facts {
  display: flex;
  flex-wrap: wrap;
  gap: 10px 40px;
}

.facts p {
  display: grid;
}

.facts .soft {
  font-size: 16px;
}

.facts b {
  font-size: 24px;
}

.materials b {
  font-size: 20px;
}

.big {
  min-height: 56px;
  padding-inline: 24px;
  font-size: 20px;
}

.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 12px;
  align-items: center;
}

.last {
  position: sticky;
  bottom: -22px;
  margin: 0 -30px -22px;
  padding: 14px 30px 20px;
  background: var(--sheet);
  border-top: 1px solid var(--sheet-line);
}

.ask {
  background: var(--verdigris-pale);
}

.question {
  flex-basis: 100%;
  font: 700 24px var(--slab);
}

.no {
  border-color: var(--oxide);
  color: var(--oxide);
}

.why {
  display: grid;
  gap: 8px;
  padding: 14px 18px;
  background: var(--vellum);
}

.clock {
  display: grid;
  gap: 4px;
  padding: 14px 20px;
  background: var(--ochre-pale);
}

.clock b {
  font: 700 64px/1 var(--slab);
}

.checks {
  display: grid;
  gap: 4px;
}

.checks label {
  display: flex;
  gap: 14px;
  align-items: center;
  min-height: 48px;
  cursor: pointer;
}

.checks input {
  width: 28px;
  height: 28px;
  accent-color: var(--verdigris);
}

@media (max-width: 760px) {
  .now {
    padding: 18px;
    overflow: visible;
  }

  h2 {
    font-size: 30px;
  }

  .last {
    position: static;
    margin: 0;
    padding: 10px 0 0;
  }

  .acts .press {
    width: 100%;
  }

  .acts .coat {
    flex: 1 1 90px;
    width: auto;
  }
}
</style>
