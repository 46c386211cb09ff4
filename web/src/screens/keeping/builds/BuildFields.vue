<script setup lang="ts">
import { ElDatePicker } from "element-plus/es/components/date-picker/index";
import { ElInput } from "element-plus/es/components/input/index";
import { ElOption, ElSelect } from "element-plus/es/components/select/index";
import { computed, ref } from "vue";
import type { Build } from "@/api/client";
import { useWearers } from "@/api/queries";

/** What a build is called, who wears it and when: of one that is there, or of a new one. */
export interface BuildWords {
  name: string;
  wearer: number | "new";
  wearerName: string;
  eventName: string;
  eventOn: string | null;
}
const props = defineProps<{ build?: Build; busy?: boolean }>();
const emit = defineEmits<{ done: [words: BuildWords] }>();
const wearers = useWearers();
const words = ref<BuildWords>({
  name: props.build?.name ?? "",
  wearer: props.build?.wearer_id ?? "new",
  wearerName: "",
  eventName: props.build?.event_name ?? "",
  eventOn: props.build?.event_on ?? null,
});
const ready = computed(
  () => words.value.name.trim() !== "" && (words.value.wearer !== "new" || words.value.wearerName.trim() !== ""),
);
</script>

<template>
  <form class="fields" @submit.prevent="emit('done', words)">
    <label class="field"
      ><span class="word">What is it called?</span
      ><el-input v-model="words.name" name="build-name" maxlength="120" placeholder="Moth-knight of the Salt Road"
    /></label>
    <label class="field">
      <span class="word">Who wears it?</span>
      <el-select v-model="words.wearer" aria-label="Who wears it?">
        <el-option v-for="w in wearers.data.value ?? []" :key="w.id" :value="w.id" :label="w.name" />
        <el-option v-if="!build" value="new" label="Somebody new" />
      </el-select>
    </label>
    <label v-if="words.wearer === 'new'" class="field"
      ><span class="word">Their name</span><el-input v-model="words.wearerName" name="wearer-name" maxlength="120"
    /></label>
    <label class="field"
      ><span class="word">Event, if there is one</span><el-input v-model="words.eventName" maxlength="120"
    /></label>
    <label class="field"
      ><span class="word">On</span
      ><el-date-picker v-model="words.eventOn" type="date" value-format="YYYY-MM-DD" format="D MMM YYYY"
    /></label>
    <button class="press main" type="submit" :disabled="!ready || busy">
      {{ build ? "Keep" : "Start and measure" }}
    </button>
  </form>
</template>

<style scoped>
.fields {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(200px, 1fr));
  gap: 14px;
  align-items: end;
}
</style>
