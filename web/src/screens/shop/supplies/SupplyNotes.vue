<script setup lang="ts">
import { computed } from "vue";
import { useUnit } from "@/parts/units";
import { amount, unitOf, type Supply } from "./supplies";

/** One thing of the list: how its figure came about; three answers: what it costs where, a cheaper way, what waits. */
const props = defineProps<{ line: Supply; asked: boolean; money: (n: number) => string; busy: boolean }>();
const emit = defineEmits<{ shop: [name: string]; pick: [shop: string]; way: [taken: boolean] }>();
const { say } = useUnit();
const bought = computed(() => props.line.group !== "foam");
const wait = (days: number) => (days === 0 ? "there today" : days === 1 ? "in a day" : `in ${days} days`);
</script>

<template>
  <section>
    <h3>{{ say(line.name) }}</h3>
    <p class="figures">{{ line.formula }}</p>
    <p v-if="line.packs && bought" class="soft">
      {{ line.packs }} × {{ amount(line.pack) }} {{ line.unit
      }}<template v-if="line.pack_is_ours">, as it is usually sold</template>; {{ amount(line.rest) }} {{ line.unit }}
      are left in the end.
    </p>
    <div v-if="line.packs && bought && asked" class="answers">
      <button
        v-for="a in line.answers"
        :key="a.shop"
        class="press offer"
        :class="{ main: a.shop === line.shop }"
        :disabled="busy"
        @click="emit('pick', a.shop)">
        <b>{{ a.shop }}</b>
        <span class="figures">{{ a.packs }} × {{ amount(a.pack) }} {{ line.unit }}, {{ money(a.cost) }}</span>
        <span
          >{{ wait(a.days) }}{{ a.late ? ", often later" : ""
          }}{{ a.enough ? "" : a.there ? `, only ${a.there} there` : ", none there" }}</span
        >
      </button>
      <p v-if="!line.answers.length" class="look">No shop that answered has it.</p>
    </div>
    <template v-if="line.cheaper && (line.packs || line.taken)">
      <p>{{ line.cheaper }}</p>
      <button class="press" :aria-pressed="line.taken" :disabled="busy" @click="emit('way', !line.taken)">
        {{ line.taken ? "Buy it after all" : "Go the cheaper way" }}
      </button>
    </template>
    <p v-if="line.packs && line.stops && bought" class="look">Without it waits {{ say(line.stops) }}.</p>
    <label v-if="bought" class="at"
      >Bought at
      <input
        class="press"
        name="shop"
        maxlength="80"
        :value="line.shop"
        @change="emit('shop', ($event.target as HTMLInputElement).value.trim())" />
    </label>
    <ul class="soft">
      <li v-for="(u, k) in line.uses" :key="k">
        {{ amount(u.amount) }} {{ unitOf(line.unit, u.amount) }}, {{ u.piece }}: {{ say(u.step) }}
      </li>
    </ul>
  </section>
</template>

<style scoped>
section,
.answers {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 8px;
}

h3::first-letter {
  text-transform: uppercase;
}

.offer {
  display: grid;
  gap: 2px;
  justify-content: start;
  padding: 8px 12px;
  font-weight: 400;
  text-align: left;
  white-space: normal;
}

.at {
  display: flex;
  gap: 8px;
  align-items: center;
}

.at input {
  min-width: 0;
}

ul {
  display: grid;
  gap: 2px;
  margin: 0;
  padding-left: 18px;
}

.look {
  padding-left: 10px;
  border-left: 4px solid var(--ochre-fill);
}
</style>
