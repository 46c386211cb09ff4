<script setup lang="ts">
import { computed, reactive } from "vue";
import { useHere } from "@/api/queries";
import LengthField from "@/parts/LengthField.vue";
import { useUnit } from "@/parts/units";
import { useRigWork, type Rig } from "./useRig";
import type { Schemas } from "@/api/client";

/** Rows of magnets along edges and inked lines: how many, in which seat, which pole outward. */
const props = defineProps<{ rig: Rig }>();
const { piece } = useHere();
const { show, say } = useUnit();
const work = useRigWork(piece);
type Row = Schemas["MagnetRow-Input"];
const rows = computed(() => (piece.value?.design.rig.magnets ?? []) as Row[]);
const fresh = reactive({ edge: "" });
const add = () => {
  const edge = fresh.edge || props.rig.magnet_lines[0];
  if (edge) work.rows("magnets", (now) => [...now, { edge, size: 10, thick: 3, washers: false }]);
};
const change = (at: number, to: Partial<Row>) =>
  work.rows("magnets", (now) => now.map((r, n) => (n === at ? { ...r, ...to } : r)));
const remove = (at: number) => work.rows("magnets", (now) => now.filter((_, n) => n !== at));
const SEATS: Record<string, string> = {
  "": "as advised",
  slot: "slot in the edge",
  "front pocket": "front pocket",
  "back pocket": "back pocket",
  sandwich: "in cloth or thin squares",
  "underlap strip": "on an underlap strip",
};
</script>

<template>
  <div class="rows">
    <p v-if="!rows.length" class="words">
      Magnets hold light plates that come off again: a belt plate, a pouch flap, a mask's rim. Choose an edge, or ink a
      mark where they shall sit; how many, and where, follows from what hangs on it.
    </p>
    <section v-for="(m, i) in rig.magnets" :key="i" class="sheet card" :data-magnets="m.edge">
      <h3>
        {{ m.problem ? "No magnets" : m.couples === 1 ? "1 couple" : `${m.couples} couples` }} along the {{ m.edge }}
        <span v-if="!m.problem" class="soft"
          ><template v-if="m.alike > 1">there are {{ m.alike }} alike, </template>{{ m.magnets }} magnets<template
            v-if="m.washers"
            >, {{ m.washers }} steel washers</template
          ></span
        >
      </h3>
      <p v-if="m.problem" class="words stop">{{ say(m.problem) }}</p>
      <svg
        v-if="!m.problem"
        :viewBox="`0 0 ${Math.max(...m.at) + 20} 46`"
        class="section"
        role="img"
        aria-label="Magnets along the edge">
        <rect class="foam" x="0" y="8" :width="Math.max(...m.at) + 20" height="30" rx="2" />
        <g v-for="(x, k) in m.at" :key="k">
          <circle :cx="x" cy="23" r="10" :class="m.poles[k]" />
          <text :x="x" y="28">{{ m.poles[k] }}</text>
        </g>
      </svg>
      <p v-if="!m.problem" class="figures">
        {{ m.at.map((x) => show(x)).join(", ") }} from where it begins.
        <template v-if="m.strip">Underlap strip {{ show(m.strip[0]) }} × {{ show(m.strip[1]) }}.</template>
      </p>
      <div class="fields">
        <LengthField
          word="Across"
          :name="`magnet-size-${i}`"
          :value="Number(rows[i]?.size ?? 10)"
          @change="change(i, { size: $event as unknown as number })" />
        <LengthField
          word="Thick"
          :name="`magnet-thick-${i}`"
          :value="Number(rows[i]?.thick ?? 3)"
          @change="change(i, { thick: $event as unknown as number })" />
        <label class="field"
          ><span class="word">Hangs on them, g</span>
          <input
            v-says="rows[i]?.load ?? ''"
            class="press"
            type="number"
            min="1"
            :name="`magnet-load-${i}`"
            placeholder="its own weight"
            @change="change(i, { load: Number(($event.target as HTMLInputElement).value) || null })" />
        </label>
        <label class="field"
          ><span class="word">Seat</span>
          <select
            class="press"
            :name="`magnet-seat-${i}`"
            :value="rows[i]?.seat ?? ''"
            @change="change(i, { seat: (($event.target as HTMLSelectElement).value || null) as Row['seat'] })">
            <option v-for="(word, key) in SEATS" :key="key" :value="key">
              {{ word }}{{ key === "" ? `: ${m.seat}` : "" }}
            </option>
          </select>
        </label>
        <label class="check">
          <input
            type="checkbox"
            :name="`magnet-washers-${i}`"
            :checked="rows[i]?.washers"
            @change="change(i, { washers: ($event.target as HTMLInputElement).checked })" />
          steel washers opposite
        </label>
        <button class="press small" @click="remove(i)">Take away</button>
      </div>
      <p v-for="a in m.advice" :key="a" class="soft">{{ say(a) }}</p>
    </section>
    <section class="sheet card add">
      <label class="field"
        ><span class="word">Along which line?</span>
        <select v-model="fresh.edge" class="press" name="magnet-edge">
          <option v-for="e in rig.magnet_lines" :key="e" :value="e">{{ e }}</option>
        </select>
      </label>
      <button class="press main" @click="add()">Magnets along this line</button>
    </section>
  </div>
</template>

<style scoped src="./rows.css"></style>

<style scoped>
.N {
  fill: #a8432f;
}

.S {
  fill: #2f7f79;
}

.section text {
  fill: #fbf8f1;
  font: 700 13px var(--sans);
  text-anchor: middle;
}

.check {
  display: flex;
  gap: 8px;
  align-items: center;
  min-height: 40px;
}
</style>
