<script setup lang="ts">
import { ref } from "vue";
import { api, take, type Schemas } from "@/api/client";
import { say, useChange } from "@/api/queries";

/** Packs a whole build to take away; it takes a while, so it shows how far it is and can be stopped. */
const props = defineProps<{ build: number }>();
const job = ref<Schemas["JobOut"] | null>(null);
const pack = useChange(async () => {
  job.value = await take(api.POST("/api/builds/{build}/bundle", { params: { path: { build: props.build } } }));
  while (job.value.state === "running") {
    await new Promise((done) => setTimeout(done, 300));
    job.value = await take(api.GET("/api/jobs/{job}", { params: { path: { job: job.value.id } } }));
  }
  const { state, id, words } = job.value;
  job.value = null;
  if (state === "done") window.location.assign(`/api/jobs/${id}/file`);
  else if (state === "failed") say(words, "error");
});
const stop = () => job.value && void take(api.DELETE("/api/jobs/{job}", { params: { path: { job: job.value.id } } }));
</script>

<template>
  <button
    v-if="!job"
    class="press small"
    title="The build, its scans, and every pattern, sheet and mesh in one file"
    @click="pack.mutate(undefined)">
    Bundle
  </button>
  <span v-else class="packing" role="status"
    ><progress :value="job.share" max="1" /> {{ Math.round(job.share * 100) }} % {{ job.words }}
    <button class="press small" @click="stop">Stop</button></span
  >
</template>

<style scoped>
.packing {
  display: inline-flex;
  gap: 8px;
  align-items: center;
}
</style>
