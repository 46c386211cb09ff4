<script setup lang="ts">
import { ElInput } from "element-plus/es/components/input/index";
import { computed, ref, watch } from "vue";
import { typed, useUnit } from "./units";

/** A length in the maker's unit. Takes "245", "24.5 cm", "9 5/8 in"; gives text that the server reads. */
const props = defineProps<{
  word?: string;
  value: number | null;
  hint?: string;
  error?: string;
  name?: string;
  empty?: string;
}>();
const emit = defineEmits<{ change: [text: string] }>();

const { unit, bare } = useUnit();
const shown = computed(() => (props.value === null ? "" : bare(props.value)));
const text = ref(shown.value);
let editing = false;
let before = "";
watch([shown, () => props.error], () => {
  if (!props.error && !editing) text.value = shown.value;
});

/** What is being typed is never overwritten by an answer that arrives meanwhile. */
function enter() {
  editing = true;
  before = text.value;
}

function leave() {
  editing = false;
  if (text.value === before && !props.error) text.value = shown.value;
}

function commit() {
  const now = text.value.trim();
  if (now === shown.value) return;
  emit("change", now === "" ? "" : typed(now, unit.value));
}
</script>

<template>
  <label class="field" :title="hint">
    <span v-if="word" class="word">{{ word }}</span>
    <el-input
      v-model="text"
      class="figures"
      :name="name"
      :placeholder="empty"
      :aria-label="word ?? name"
      :class="{ wrong: error }"
      @focus="enter"
      @blur="leave"
      @change="commit">
      <template #suffix
        ><span class="soft small">{{ unit }}</span></template
      >
    </el-input>
    <span v-if="error" class="error">{{ error }}</span>
  </label>
</template>

<style scoped>
.error {
  font-size: 14px;
  color: var(--oxide);
}

.wrong :deep(.el-input__wrapper) {
  box-shadow: 0 0 0 2px var(--oxide) inset;
}
</style>
