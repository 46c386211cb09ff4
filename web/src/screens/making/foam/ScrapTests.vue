<script setup lang="ts">
import { computed, reactive } from "vue";
import type { Schemas } from "@/api/client";
import { say } from "@/api/queries";
import { typed, useUnit } from "@/parts/units";
import { typedNumber } from "./useFoam";

/** Scraps held under the gun: what they took, and what that says of this gun. */
const props = defineProps<{ gun: Schemas["HeatGun-Output"]; factor: number }>();
type Gun = Schemas["HeatGun-Output"];
const emit = defineEmits<{ keep: [change: (now: Gun) => Partial<Schemas["HeatGun-Input"]>] }>();
const { show, unit } = useUnit();
const EVENTS = { gloss: "its face turned glossy", limp: "it hung limp" } as const;
const fresh = reactive({ thickness: "", event: "gloss" as keyof typeof EVENTS, seconds: "" });
const tests = computed(() => props.gun.tests);
function add() {
  const seconds = typedNumber(fresh.seconds);
  if (seconds === null || seconds <= 0 || !fresh.thickness.trim())
    return say("Write the scrap's thickness and the seconds it took.", "error");
  const row = {
    thickness: typed(fresh.thickness, unit.value),
    setting: props.gun.setting,
    distance: props.gun.distance,
    event: fresh.event,
    seconds,
  };
  emit("keep", (now) => ({ tests: [...(now.tests as Schemas["ScrapTest-Input"][]), row] }));
  fresh.seconds = "";
}
const drop = (n: number) =>
  emit("keep", (now) => ({ tests: now.tests.filter((_, k) => k !== n) as Schemas["ScrapTest-Input"][] }));
</script>

<template>
  <section class="sheet scraps" aria-label="Scrap tests">
    <h3>Try it on a scrap, and the times become yours</h3>
    <p>
      Hold a scrap as you warm a piece, from one face, and count. Three scraps are enough.
      <b v-if="tests.length" class="figures" data-factor
        >Your gun gives {{ factor.toFixed(2) }} times what was estimated.</b
      >
    </p>
    <table v-if="tests.length" class="ruled figures">
      <tbody>
        <tr v-for="(t, n) in tests" :key="n">
          <td>{{ show(t.thickness) }} {{ t.kind }}</td>
          <td>{{ t.setting }}, {{ show(t.distance) }} away</td>
          <td>{{ EVENTS[t.event] }} after {{ t.seconds }} s</td>
          <td><button class="press plain small" @click="drop(n)">take it out</button></td>
        </tr>
      </tbody>
    </table>
    <form class="new" @submit.prevent="add">
      <label class="field"
        ><span class="word">Scrap, {{ unit }} thick</span
        ><input v-model="fresh.thickness" class="press figures" name="scrap-thickness"
      /></label>
      <label class="field"
        ><span class="word">When</span>
        <select v-model="fresh.event" class="press" name="scrap-event">
          <option v-for="(word, key) in EVENTS" :key="key" :value="key">{{ word }}</option>
        </select>
      </label>
      <label class="field"
        ><span class="word">After, seconds</span
        ><input v-model="fresh.seconds" class="press figures" inputmode="decimal" name="scrap-seconds"
      /></label>
      <button class="press">Keep it, at {{ gun.setting }}, {{ show(gun.distance) }} away</button>
    </form>
  </section>
</template>

<style scoped>
.scraps {
  display: grid;
  gap: 12px;
  padding: 18px 24px;
}

.new {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: end;
}

.new input {
  width: 120px;
  cursor: text;
}
</style>
