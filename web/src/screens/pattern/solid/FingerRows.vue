<script setup lang="ts">
import LengthField from "@/parts/LengthField.vue";
import type { Finger } from "./solid";

/** The fingers of a hand: girth, bones from the knuckle on, how far each joint bends, a claw. */
const props = defineProps<{ fingers: Finger[] }>();
const emit = defineEmits<{ change: [fingers: Finger[]] }>();
const put = (k: number, what: Partial<Record<keyof Finger, unknown>>) =>
  emit(
    "change",
    props.fingers.map((f, j) => (j === k ? ({ ...f, ...what } as Finger) : f)),
  );
const bone = (k: number, n: number, value: string) =>
  put(k, { bones: props.fingers[k].bones.map((b, j) => (j === n ? value : b)) });
</script>

<template>
  <fieldset v-for="(f, k) in fingers" :key="f.name" class="finger">
    <legend>{{ f.name }}</legend>
    <LengthField word="girth" :name="`girth-${k + 1}`" :value="Number(f.girth)" @change="put(k, { girth: $event })" />
    <LengthField
      v-for="(b, n) in f.bones"
      :key="n"
      :word="`bone ${n + 1}`"
      :name="`bone-${k + 1}-${n + 1}`"
      :value="Number(b)"
      @change="bone(k, n, $event)" />
    <label class="bend"
      ><span>bends by °</span>
      <input
        class="press figures"
        inputmode="decimal"
        :name="`bend-${k + 1}`"
        :value="f.bend"
        @change="put(k, { bend: Number(($event.target as HTMLInputElement).value) || f.bend })"
    /></label>
    <LengthField
      word="claw"
      :name="`claw-${k + 1}`"
      :value="Number(f.claw)"
      @change="put(k, { claw: $event || '0' })" />
    <button
      v-if="fingers.length > 1"
      class="press small plain"
      :aria-label="`Leave the ${f.name} out`"
      @click="
        emit(
          'change',
          fingers.filter((_, j) => j !== k),
        )
      ">
      ✕
    </button>
  </fieldset>
</template>

<style scoped>
.finger {
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: 6px 8px;
  align-items: end;
  padding: 8px;
  border: 1px solid var(--sheet-line);
}

.bend {
  display: grid;
}

.bend input {
  width: 100%;
}

legend {
  font-weight: 600;
}
</style>
