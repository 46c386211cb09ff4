<script setup lang="ts">
import { computed, ref } from "vue";
import { api, seen, take, type Build, type DesignIn, type Piece, type Schemas } from "@/api/client";
import { useChange } from "@/api/queries";
import { minutes, useUnit } from "@/parts/units";
import DetailList from "./DetailList.vue";
import { made, useCraft, type Bench } from "./useBench";

/** How a piece is made: schools, what goes on it, how its seams end up, and which rules of the order it keeps. */
const props = defineProps<{ bench: Bench; piece: Piece; build: Build }>();
const emit = defineEmits<{ change: [change: (now: DesignIn) => DesignIn] }>();
const craft = useCraft();
const { show, say } = useUnit();
type Name = keyof Schemas["Schools-Input"];
const making = computed(() => props.piece.design.making);
const whole = ref(false);
const own = (key: string) => (making.value.schools as Record<string, string>)[key];
const now = (key: string) => (whole.value ? props.build.schools : props.bench.schools)[key as Name];
const saveBuild = useChange((schools: Schemas["Schools-Input"]) => {
  const { id, name, wearer_id, event_name, event_on, dart_edges } = props.build;
  const body = { name, wearer_id, event_name, event_on, dart_edges, schools };
  return take(api.PUT("/api/builds/{build}", { params: { path: { build: id } }, body, headers: seen(props.build) }));
});
function choose(key: string, way: string) {
  if (whole.value) return saveBuild.mutate({ ...props.build.schools, [key]: way } as Schemas["Schools-Input"]);
  emit(
    "change",
    made((old) => {
      const schools = { ...(old.schools ?? {}) } as Record<string, string>;
      if (way === props.build.schools[key as Name]) delete schools[key];
      else schools[key] = way;
      return { schools } as Partial<Schemas["Making-Input"]>;
    }),
  );
}
const WAYS = {
  ground: "ground flush and filled",
  covered: "covered by a strip",
  design: "a line of the design",
} as const;
type Way = keyof typeof WAYS;
function surface(name: string, change: { way?: Way | null; glue?: Schemas["SeamSurface-Input"]["glue"] }) {
  emit(
    "change",
    made((old) => {
      const rows = old.seams ?? [];
      const row = { ...(rows.find((r) => r.name === name) ?? { name }), ...change };
      return { seams: [...rows.filter((r) => r.name !== name), row] };
    }),
  );
}
const seamRow = (name: string) => making.value.seams.find((s) => s.name === name);
const keep = (rule: string) =>
  emit(
    "change",
    made((old) => ({ set_aside: (old.set_aside ?? []).filter((r) => r !== rule) })),
  );
const aside = (rule: string) =>
  emit(
    "change",
    made((old) => ({ set_aside: [...(old.set_aside ?? []), rule] })),
  );
const first = ref("");
const then = ref("");
function order() {
  if (!first.value || !then.value || first.value === then.value) return;
  const rule = { first: first.value, then: then.value };
  emit(
    "change",
    made((old) => ({ own_order: [...(old.own_order ?? []), rule] })),
  );
  first.value = then.value = "";
}
const title = (key: string) => props.bench.steps.find((s) => s.key === key)?.title ?? key;
const unorder = (n: number) =>
  emit(
    "change",
    made((old) => ({ own_order: (old.own_order ?? []).filter((_, k) => k !== n) })),
  );
</script>

<template>
  <div class="made">
    <section class="sheet" aria-label="Schools">
      <h3>Schools</h3>
      <p class="choice" role="group" aria-label="Whose school">
        <button class="press" :aria-pressed="!whole" @click="whole = false">This piece</button>
        <button class="press" :aria-pressed="whole" @click="whole = true">The whole build</button>
      </p>
      <label v-for="s in craft.data.value?.schools ?? []" :key="s.key" class="school">
        <span
          ><b>{{ s.word }}</b> <i v-if="!whole && own(s.key)" class="soft small">otherwise than the build</i></span
        >
        <select
          class="press"
          :name="`school-${s.key}`"
          :value="now(s.key)"
          @change="choose(s.key, ($event.target as HTMLSelectElement).value)">
          <option v-for="(_, way) in s.options" :key="way" :value="way">{{ way }}</option>
        </select>
        <span class="soft small reason">{{ s.options[String(now(s.key))] }}</span>
      </label>
    </section>
    <div class="side">
      <DetailList
        :piece="piece"
        :bench="bench"
        :kinds="craft.data.value?.details ?? []"
        @change="(c) => emit('change', c)" />
      <section v-if="bench.seams.length" class="sheet" aria-label="Seams">
        <h3>How its seams end up</h3>
        <table class="ruled">
          <thead>
            <tr>
              <th>Seam</th>
              <th>Long</th>
              <th>It is</th>
              <th>Glue</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="s in bench.seams" :key="s.name">
              <td>{{ s.name }}</td>
              <td class="figures">{{ show(s.length) }}</td>
              <td>
                <select
                  class="press"
                  :name="`seam-${s.name}`"
                  :value="s.way"
                  @change="surface(s.name, { way: ($event.target as HTMLSelectElement).value as Way })">
                  <option v-for="(word, way) in WAYS" :key="way" :value="way">
                    {{ word }}: {{ minutes(s.minutes[way] ?? 0) }}
                  </option>
                </select>
              </td>
              <td>
                <select
                  class="press"
                  :name="`glue-${s.name}`"
                  :value="seamRow(s.name)?.glue ?? ''"
                  @change="surface(s.name, { glue: (($event.target as HTMLSelectElement).value || null) as never })">
                  <option value="">as the school has it</option>
                  <option v-for="g in ['contact cement', 'hot glue', 'instant glue']" :key="g" :value="g">
                    {{ g }}
                  </option>
                </select>
              </td>
            </tr>
          </tbody>
        </table>
      </section>
      <section class="sheet" aria-label="Rules of the order">
        <h3>Rules you have set aside</h3>
        <p v-for="r in bench.set_aside" :key="r.key" class="rule">
          <span
            ><b>{{ r.key }}</b
            >: {{ r.reason }}</span
          >
          <button class="press small" @click="keep(r.key)">Keep it again</button>
        </p>
        <p v-if="!bench.set_aside.length" class="soft">None. Soft rules may be set aside; hard ones cannot.</p>
        <p v-for="w in [...bench.trouble, ...bench.gave_way]" :key="w" class="words">{{ w }}</p>
        <details>
          <summary>Soft rules of this piece ({{ bench.soft.length }})</summary>
          <p v-for="r in bench.soft" :key="r.key" class="rule">
            <span
              ><b>{{ r.key }}</b
              >: {{ r.reason }}</span
            >
            <button class="press plain small" @click="aside(r.key)">Set aside</button>
          </p>
        </details>
        <h3>Your own order</h3>
        <p v-for="(r, n) in making.own_order" :key="n" class="rule">
          <span>{{ title(r.first) }} before {{ title(r.then) }}</span>
          <button class="press plain small" @click="unorder(n)">Take it out</button>
        </p>
        <form class="give" @submit.prevent="order">
          <select v-model="first" class="press" name="order-first" aria-label="First">
            <option value="">this step…</option>
            <option v-for="s in bench.steps" :key="s.key" :value="s.key">{{ s.title }}</option>
          </select>
          <span>before</span>
          <select v-model="then" class="press" name="order-then" aria-label="Then">
            <option value="">that one…</option>
            <option v-for="s in bench.steps" :key="s.key" :value="s.key">{{ s.title }}</option>
          </select>
          <button class="press main" type="submit">So it is</button>
        </form>
      </section>
      <section class="sheet" aria-label="To buy">
        <h3>What it uses up</h3>
        <p>{{ say(bench.materials.join(", ")) }}</p>
      </section>
      <p class="out">
        <a :href="`/api/pieces/${bench.piece_id}/steps.csv`" download="steps.csv">All steps as CSV</a> ·
        <a :href="`/api/pieces/${bench.piece_id}/bench-sheet.pdf`" download>Bench sheet to print</a>
      </p>
    </div>
  </div>
</template>

<style scoped>
.made {
  display: grid;
  grid-template-columns: minmax(300px, 400px) minmax(0, 1fr);
  gap: 16px;
  align-items: start;
}

section {
  display: grid;
  gap: 10px;
  padding: 16px 20px;
}

.side {
  display: grid;
  gap: 16px;
}

.school {
  display: grid;
  grid-template-columns: 104px minmax(0, 1fr);
  gap: 2px 10px;
  align-items: center;
}

.reason {
  grid-column: 2;
}

.choice {
  display: flex;
  gap: 6px;
}

.rule {
  display: flex;
  gap: 12px;
  align-items: center;
  justify-content: space-between;
}

.rule .press {
  flex: none;
}

summary {
  min-height: 40px;
  cursor: pointer;
}

select {
  max-width: 100%;
}

.give select {
  max-width: 230px;
}

@media (max-width: 900px) {
  .made {
    grid-template-columns: minmax(0, 1fr);
  }

  section {
    overflow-x: auto;
  }
}
</style>
