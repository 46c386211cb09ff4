<script setup lang="ts">
import { computed, ref } from "vue";
import { api, sendFile, take } from "@/api/client";
import { useAsk, useChange } from "@/api/queries";

/** Safe-keeping: a backup to take away, one to bring back, and the copies that are taken by themselves. */
const copies = useAsk({ queryKey: ["copies"], queryFn: (how) => take(api.GET("/api/copies", how)) });
const file = ref<HTMLInputElement>();
const chosen = ref<File | null>(null);
const asked = ref("");
const anew = () => window.location.assign("/");
const restore = useChange(async () => {
  await sendFile("/api/backup/restore", chosen.value!);
  anew();
});
const goBack = useChange(async (name: string) => {
  await take(api.POST("/api/copies/{name}/restore", { params: { path: { name } } }));
  anew();
});
const WORDS: Record<string, string> = {
  daily: "of the day, before its first change",
  "before an update": "before the program was updated",
  "before a restore": "before something was brought back",
};
const rows = computed(() =>
  (copies.data.value?.copies ?? []).map((c) => ({
    ...c,
    when: new Date(c.taken_at * 1000).toLocaleString(undefined, {
      weekday: "short",
      day: "numeric",
      month: "short",
      year: "numeric",
      hour: "2-digit",
      minute: "2-digit",
    }),
    large: c.size > 1e6 ? `${(c.size / 1e6).toFixed(1)} MB` : `${Math.ceil(c.size / 1000)} kB`,
  })),
);
function choose(event: Event) {
  chosen.value = (event.target as HTMLInputElement).files?.[0] ?? null;
  (event.target as HTMLInputElement).value = "";
}
</script>

<template>
  <div class="column">
    <div class="bar">
      <h2>Safe-keeping</h2>
      <RouterLink class="press" to="/">Back to the builds</RouterLink>
    </div>
    <div class="two">
      <section class="sheet">
        <h3>Take everything with you</h3>
        <p>
          One file with every build, wearer, scan, picture, version and logbook. Put it where the computer is not: on a
          stick, or another machine.
        </p>
        <a class="press main big" href="/api/backup" download>Save a backup</a>
      </section>
      <section class="sheet">
        <h3>Bring a backup back</h3>
        <p>It takes the place of all that is here. What is here now is copied first and listed below.</p>
        <button v-if="!chosen" class="press big" @click="file?.click()">Choose a backup</button>
        <template v-else>
          <p class="words look" role="alert">
            <span
              >Everything here will be as it was in <b>{{ chosen.name }}</b>.</span
            >
          </p>
          <p class="row">
            <button class="press main" :disabled="restore.isPending.value" @click="restore.mutate(undefined)">
              {{ restore.isPending.value ? "Checking and bringing back …" : "Yes, bring it back" }}
            </button>
            <button class="press" @click="chosen = null">Leave it</button>
          </p>
        </template>
        <input ref="file" type="file" name="backup" accept=".zip,application/zip" hidden @change="choose" />
      </section>
    </div>
    <section class="sheet">
      <h3>Copies that keep themselves</h3>
      <p class="soft">
        Each day before its first change, before an update and before anything is brought back; seven of each kind stay.
        They lie in <span class="path">{{ copies.data.value?.folder }}/copies</span>, on this computer: they help when
        something went wrong, not when the computer is lost.
      </p>
      <table v-if="rows.length" class="ruled">
        <tbody>
          <tr v-for="c in rows" :key="c.name">
            <td class="when">{{ c.when }}</td>
            <td class="soft">{{ WORDS[c.why] ?? c.why }}</td>
            <td class="figures">{{ c.large }}</td>
            <td class="acts">
              <template v-if="asked === c.name">
                <button class="press main small" @click="goBack.mutate(c.name)">Yes, as it was then</button>
                <button class="press small" @click="asked = ''">Leave it</button>
              </template>
              <button v-else class="press small" @click="asked = c.name">Go back to it</button>
            </td>
          </tr>
        </tbody>
      </table>
      <p v-else-if="copies.isSuccess.value" class="soft">None yet: the first is taken with the next change.</p>
    </section>
  </div>
</template>

<style scoped>
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 12px;
}

.two {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(300px, 1fr));
  gap: 18px;
}

section {
  display: grid;
  gap: 12px;
  align-content: start;
  justify-items: start;
  padding: 20px 24px;
}

.big {
  min-height: 50px;
}

.path {
  overflow-wrap: anywhere;
  font-family: monospace;
}

.ruled {
  width: 100%;
}

.when {
  font-weight: 700;
}

.acts {
  text-align: right !important;
}

.ruled td {
  vertical-align: middle;
}
</style>
