<script setup lang="ts">
import { computed, reactive } from "vue";
import { api, take, type Schemas } from "@/api/client";
import { say as tell, useAsk, useChange, useHere } from "@/api/queries";

/** The day in the costume: what happened goes to the logbook; how it is mended, what to carry, how it travels. */
const { buildId, pieceId } = useHere();
const wear = useAsk({
  queryKey: ["wear", buildId],
  queryFn: (how) => take(api.GET("/api/builds/{build}/wear", { ...how, params: { path: { build: buildId.value } } })),
  enabled: computed(() => buildId.value > 0),
});
type Worn = Schemas["Wearing-Input"];
const day = reactive({ hours: "4", weather: "mild", hurt: "", came_off: "", broke: "", happened: [] as string[] });
const hours = computed(() => Number(day.hours.replace(",", ".")));
const keep = useChange(async () => {
  const worn = { ...day, hours: hours.value } as Worn;
  const said = [
    day.hurt && `It hurt: ${day.hurt}`,
    day.came_off && `Came off: ${day.came_off}`,
    day.broke && `Broke: ${day.broke}`,
  ];
  const text = [`Worn for ${hours.value} h, ${day.weather}`, ...day.happened, ...said].filter(Boolean).join(". ");
  await take(
    api.POST("/api/builds/{build}/log-entries", { params: { path: { build: buildId.value } }, body: { text, worn } }),
  );
  Object.assign(day, { hurt: "", came_off: "", broke: "", happened: [] });
  tell("Written in the logbook.");
});
const mend = computed(() => (wear.data.value?.repairs ?? []).filter((r) => day.happened.includes(r.mishap)));
const flip = (m: string) =>
  (day.happened = day.happened.includes(m) ? day.happened.filter((x) => x !== m) : [...day.happened, m]);
</script>

<template>
  <div v-if="wear.data.value" class="rows">
    <form class="sheet card" @submit.prevent="keep.mutate(undefined)">
      <h3>A day in it</h3>
      <div class="line">
        <label class="field"
          ><span class="word">Hours worn</span><input v-model="day.hours" class="press" name="hours"
        /></label>
        <label class="field"
          ><span class="word">Weather</span>
          <select v-model="day.weather" class="press" name="weather">
            <option v-for="w in ['cool', 'mild', 'hot', 'wet']" :key="w">{{ w }}</option>
          </select>
        </label>
        <label class="field grow"
          ><span class="word">What hurt</span><input v-model="day.hurt" class="press" name="hurt" maxlength="300"
        /></label>
        <label class="field grow"
          ><span class="word">What came off</span
          ><input v-model="day.came_off" class="press" name="came-off" maxlength="300"
        /></label>
        <label class="field grow"
          ><span class="word">What broke</span><input v-model="day.broke" class="press" name="broke" maxlength="300"
        /></label>
      </div>
      <div class="line" role="group" aria-label="What happened">
        <button
          v-for="r in wear.data.value.repairs"
          :key="r.mishap"
          type="button"
          class="press small"
          :aria-pressed="day.happened.includes(r.mishap)"
          @click="flip(r.mishap)">
          {{ r.mishap }}
        </button>
      </div>
      <section v-for="r in mend" :key="r.mishap" class="words" :data-repair="r.mishap">
        <div>
          <h3>{{ r.mishap }}</h3>
          <ol>
            <li v-for="s in r.steps" :key="s">{{ s }}</li>
          </ol>
          <RouterLink v-if="r.mishap === 'too tight'" class="press" :to="{ name: 'logbook', query: { piece: pieceId } }"
            >Write down the fitting</RouterLink
          >
        </div>
      </section>
      <p><button class="press main" :disabled="!(hours > 0 && hours <= 72)">Write it in the logbook</button></p>
    </form>
    <section class="sheet card">
      <header>
        <h3>Repair pouch</h3>
        <a class="press" :href="`/api/builds/${buildId}/packing.csv`" download="packing.csv">CSV</a>
      </header>
      <ul class="pouch">
        <li v-for="c in wear.data.value.pouch" :key="c.thing">
          <b>{{ c.thing }}</b> <span class="soft">{{ c.why.join(", ") }}</span>
        </li>
      </ul>
    </section>
    <section class="sheet card">
      <h3>Packing</h3>
      <p class="soft">Large and stiff at the bottom.</p>
      <ul class="plain-list">
        <li v-for="p in wear.data.value.packing" :key="p.piece">
          <b>{{ p.name }}</b>
          <span v-if="!p.apart.length && !p.care.length" class="soft"> as it is</span>
          <p v-for="x in [...p.apart, ...p.care]" :key="x" class="soft">{{ x }}</p>
        </li>
      </ul>
    </section>
  </div>
</template>

<style scoped src="./rows.css"></style>

<style scoped>
.card > * {
  min-width: 0;
}

header,
.line {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: end;
  justify-content: space-between;
}

.line {
  justify-content: start;
}

.grow {
  flex: 1 1 200px;
}

.pouch {
  margin: 0;
  padding-left: 20px;
  columns: 2 280px;
  column-gap: 34px;
}

.plain-list li {
  padding: 7px 0;
  border-bottom: 1px solid var(--sheet-line);
}
</style>
