<script setup lang="ts">
import { computed, ref } from "vue";
import { useHere } from "@/api/queries";
import EmptySheet from "@/frame/EmptySheet.vue";
import ScreenFrame from "@/frame/ScreenFrame.vue";
import TabRow from "@/frame/TabRow.vue";
import { useUnit } from "@/parts/units";
import ShopLists from "./ShopLists.vue";
import SupplyNotes from "./SupplyNotes.vue";
import { amount, byGroup, changed, numberIn, unitOf, wayTaken, type Supply } from "./supplies";
import { useSupplies } from "./useSupplies";

/** What the costume still takes: summed from its steps and sheets, held against what is there, bought by the pack. */
const { buildId } = useHere();
const { say } = useUnit();
const { made, save, ask, accept, home, homeFile } = useSupplies(buildId);
const groups = computed(() => byGroup(made.value?.lines ?? []));
const TABS = { list: "All that is needed", shops: "By shop" };
const tab = ref<keyof typeof TABS>("list");
const seconds = () => Date.now() / 1000;
type Field = "counted" | "pack" | "price";
function write(line: Supply, field: Field, event: Event) {
  const input = event.target as HTMLInputElement;
  const n = numberIn(input.value);
  if (n === undefined || (n === null && field === "counted") || (n === 0 && field === "pack"))
    input.value = shown(line, field);
  else save.mutate((book) => changed(book, line, { [field]: n }, seconds()));
}
const shown = (line: Supply, field: Field) =>
  field === "counted"
    ? amount(line.have)
    : field === "pack"
      ? String(line.pack)
      : line.price === null
        ? ""
        : String(line.price);
const buy = (l: Supply) => home.mutate([{ name: l.name, unit: l.unit, amount: l.packs * l.pack, paid: l.cost }]);
function budget(event: Event) {
  const n = numberIn((event.target as HTMLInputElement).value);
  if (n === undefined) return;
  save.mutate((book) => {
    const budgets = Object.fromEntries(Object.entries(book.budgets).filter(([k]) => k !== String(buildId.value)));
    return { ...book, budgets: n === null ? budgets : { ...budgets, [buildId.value]: n } };
  });
}

const currency = (word: string) => save.mutate((book) => ({ ...book, money: word.trim() }));
const shop = (line: Supply, name: string) => save.mutate((book) => changed(book, line, { shop: name }, seconds()));
const way = (line: Supply, taken: boolean) => save.mutate((book) => wayTaken(book, line, buildId.value, taken));
const offers = computed(() => made.value?.lines.some((l) => l.answers.length));
const busy = computed(() => ask.isPending.value || accept.isPending.value || home.isPending.value);

const picked = ref("");
const line = computed(() => made.value?.lines.find((l) => l.name + l.unit === picked.value));
const about = computed(() => {
  if (!made.value) return "Reading every step…";
  const short = made.value.lines.filter((l) => l.packs).length;
  return short ? `${short} ${short === 1 ? "thing" : "things"} to buy` : "Everything is there";
});
const money = (n: number) => `${n.toFixed(2)}${made.value?.book.money ? ` ${made.value.book.money}` : ""}`;
</script>

<template>
  <ScreenFrame title="Supplies" :about="about">
    <template #tools>
      <template v-if="made?.lines.length">
        <a class="press" :href="`/api/builds/${buildId}/supplies.csv`">To buy, CSV</a>
        <a class="press" :href="`/api/builds/${buildId}/supplies.pdf`">PDF</a>
        <button class="press main ask-shops" :disabled="busy" @click="ask.mutate()">
          {{ ask.isPending.value ? "Asking…" : "Ask the shops" }}
        </button>
      </template>
    </template>
    <EmptySheet v-if="made && !made.lines.length" title="Nothing is needed yet">
      Add a piece and measure its wearer: what its steps take comes here by itself.
    </EmptySheet>
    <TabRow v-if="made?.lines.length" :tabs="TABS" :on="tab" label="Lists" @pick="tab = $event as keyof typeof TABS">
      <button v-if="offers" class="press best" :disabled="busy" @click="accept.mutate(null)">
        Take the best of each
      </button>
    </TabRow>
    <ShopLists
      v-if="made && tab === 'shops'"
      :lines="made.lines"
      :money="money"
      :busy="busy"
      @home="home.mutate($event)"
      @file="homeFile.mutate($event)" />
    <section v-for="g in tab === 'list' ? groups : []" :key="g.group">
      <h3>{{ g.group }}</h3>
      <p v-if="g.group === 'foam'" class="soft">Bought on Nest; prices are on the shelf of Foam.</p>
      <table>
        <thead>
          <tr>
            <th class="thing">Thing</th>
            <th class="far">Need</th>
            <th v-if="g.group !== 'foam'">There</th>
            <th v-if="g.group !== 'foam'" class="pack">A pack holds</th>
            <th v-if="g.group !== 'foam'" class="price">Its price</th>
            <th class="far buys">Buy</th>
            <th v-if="g.group !== 'foam'" class="done" />
          </tr>
        </thead>
        <tbody>
          <tr v-for="l in g.lines" :key="l.name + l.unit" :class="{ on: picked === l.name + l.unit, short: l.packs }">
            <td>
              <button class="name" @click="picked = l.name + l.unit">{{ say(l.name) }}</button>
            </td>
            <td class="figures far">{{ amount(l.need + l.spare) }} {{ unitOf(l.unit, l.need + l.spare) }}</td>
            <template v-if="l.group !== 'foam'">
              <td v-for="f in ['counted', 'pack', 'price'] as const" :key="f" :class="f">
                <input
                  class="press figures"
                  inputmode="decimal"
                  :name="`${f} ${l.name}`"
                  :aria-label="`${l.name}: ${f}`"
                  :class="{ ours: f === 'pack' && l.pack_is_ours }"
                  :value="shown(l, f)"
                  @change="write(l, f, $event)" />
              </td>
            </template>
            <td class="figures far buy">
              <template v-if="l.packs"
                >{{ l.packs }}<span v-if="l.cost !== null" class="soft"> · {{ money(l.cost) }}</span></template
              >
              <span v-else class="soft">{{ l.taken ? "cheaper way" : "there" }}</span>
            </td>
            <td v-if="l.group !== 'foam'" class="far">
              <button v-if="l.packs" class="press" @click="buy(l)">Bought</button>
            </td>
          </tr>
        </tbody>
      </table>
    </section>
    <template v-if="made" #notes>
      <SupplyNotes
        v-if="line"
        :line="line"
        :asked="made.asked_at > 0"
        :money="money"
        :busy="busy || save.isPending.value"
        @shop="shop(line, $event)"
        @pick="accept.mutate([{ name: line.name, unit: line.unit, shop: $event }])"
        @way="way(line, $event)" />
      <section>
        <h3>Money</h3>
        <p class="sum figures">
          <span>Spent {{ money(made.money.spent) }}</span>
          <span>To spend {{ money(made.money.to_spend) }}</span>
          <b>In the end {{ money(made.money.forecast) }}</b>
          <span v-if="made.money.unpriced" class="soft"
            >without {{ made.money.unpriced }}
            {{ made.money.unpriced === 1 ? "thing that has" : "things that have" }} no price yet</span
          >
        </p>
        <label class="budget"
          >It may cost
          <input
            class="press figures"
            name="budget"
            inputmode="decimal"
            :value="made.money.budget ?? ''"
            @change="budget" />
        </label>
        <label class="budget"
          >Money is
          <input
            class="press"
            name="money"
            maxlength="8"
            :value="made.book.money"
            @change="currency(($event.target as HTMLInputElement).value)" />
        </label>
        <p v-if="made.money.budget !== null && made.money.forecast > made.money.budget" class="stop">
          {{ money(made.money.forecast - made.money.budget) }} more than it may cost.
        </p>
      </section>
      <section v-if="made.unlaid.length || made.unmade.length || made.silent.length || made.odd.length">
        <h3>Look here</h3>
        <p v-for="foam in made.unlaid" :key="foam" class="look">
          {{ say(foam) }} is on no sheet yet: lay its parts on Nest, and its sheets come here.
        </p>
        <p v-for="name in made.silent" :key="name" class="look">{{ name }} did not answer: ask again later.</p>
        <p v-for="words in made.odd" :key="words" class="look">{{ words }}.</p>
        <p v-for="u in made.unmade" :key="u.piece" class="look">{{ u.piece }}: {{ say(u.why) }}</p>
      </section>
    </template>
  </ScreenFrame>
</template>

<style scoped>
section {
  display: grid;
  flex: none;
  grid-template-columns: minmax(0, 1fr);
  gap: 8px;
}

h3::first-letter {
  text-transform: uppercase;
}

table {
  width: 100%;
  min-width: 660px;
  table-layout: fixed;
  border-collapse: collapse;
  background: var(--sheet);
  box-shadow: var(--shadow);
}

th {
  padding: 8px 10px;
  color: var(--graphite-soft);
  font: 400 15px var(--sans);
  text-align: left;
}

td {
  padding: 5px 10px;
  border-top: 1px solid var(--sheet-line);
}

.thing {
  width: 30%;
}

.buys {
  width: 15%;
}

.done {
  width: 13%;
}

.far {
  text-align: right;
  white-space: nowrap;
}

.name {
  padding: 8px 0;
  border: 0;
  background: none;
  color: inherit;
  font: inherit;
  text-align: left;
  cursor: pointer;
}

.short .name {
  font-weight: 600;
}

.on td {
  background: var(--vellum);
}

input {
  width: 100%;
  max-width: 84px;
  padding: 6px 8px;
}

.ours {
  color: var(--graphite-soft);
}

.best {
  flex: none;
  white-space: nowrap;
}

.sum {
  display: grid;
  gap: 2px;
}

.budget {
  display: flex;
  gap: 8px;
  align-items: center;
}

.stop {
  color: var(--oxide);
}

.look {
  padding-left: 10px;
  border-left: 4px solid var(--ochre-fill);
}

/* Narrow, what is seldom changed gives way to what is looked up in the shop. */
@media (max-width: 1100px) {
  table {
    min-width: 0;
    table-layout: auto;
  }

  input {
    width: 62px;
  }

  td,
  th {
    padding: 5px 6px;
  }

  .pack {
    display: none;
  }
}

@media (max-width: 760px) {
  .price {
    display: none;
  }

  .done {
    width: 26%;
  }
}
</style>
