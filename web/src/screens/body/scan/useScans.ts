import { computed, ref, type Ref } from "vue";
import { api, sendFile, take, type Schemas } from "@/api/client";
import { say, useAsk, useChange } from "@/api/queries";

/** The scans of a wearer: the one that is looked at, a file brought in, and the simulated scanner. */
export function useScans(wearerId: Ref<number>) {
  const path = () => ({ params: { path: { wearer: wearerId.value } } });
  const scans = useAsk({
    queryKey: ["scans", wearerId],
    queryFn: (how) => take(api.GET("/api/wearers/{wearer}/scans", { ...how, ...path() })),
    enabled: computed(() => wearerId.value > 0),
  });
  const bodies = useAsk({
    queryKey: ["scanner-bodies"],
    queryFn: (how) => take(api.GET("/api/scanner/bodies", how)),
    staleTime: Infinity,
  });

  const chosen = ref(0);
  const scan = computed(() => scans.data.value?.find((s) => s.id === chosen.value) ?? scans.data.value?.[0]);
  const scanId = computed(() => scan.value?.id ?? 0);
  const mesh = useAsk({
    queryKey: [
      "scan-mesh",
      scanId,
      computed(() => JSON.stringify([scan.value?.unit, scan.value?.up, scan.value?.front, scan.value?.turned])),
    ],
    queryFn: (how) => take(api.GET("/api/scans/{scan}/mesh", { ...how, params: { path: { scan: scanId.value } } })),
    enabled: computed(() => scanId.value > 0),
  });

  const setStance = useChange((change: object) => {
    const s = scan.value!;
    return take(
      api.PUT("/api/scans/{scan}/stance", {
        params: { path: { scan: s.id } },
        body: { unit: s.unit, up: s.up, front: s.front, turned: s.turned, ...change },
      }),
    );
  });
  const remove = useChange(() => take(api.DELETE("/api/scans/{scan}", { params: { path: { scan: scanId.value } } })));

  const sending = ref(false);
  /** Why the last file was not taken: it stays to be read until another one is tried. */
  const refused = ref("");
  const bring = useChange(
    async (file: File) => {
      sending.value = true;
      refused.value = "";
      try {
        const path = `/api/wearers/${wearerId.value}/scans?name=${encodeURIComponent(file.name)}`;
        chosen.value = (await sendFile<Schemas["ScanOut"]>(path, file)).id;
      } finally {
        sending.value = false;
      }
    },
    (refusal) => (refused.value = refusal.message),
  );

  function pick(event: Event) {
    const input = event.target as HTMLInputElement;
    if (input.files?.[0]) bring.mutate(input.files[0]);
    input.value = "";
  }

  const shape = ref("middling");
  const job = ref<Schemas["JobOut"] | null>(null);
  const runScanner = useChange(async () => {
    job.value = await take(
      api.POST("/api/wearers/{wearer}/scanner", {
        ...path(),
        body: { shape: shape.value, seed: Math.floor(Math.random() * 999) },
      }),
    );
    while (job.value.state === "running") {
      await new Promise((done) => setTimeout(done, 250));
      job.value = await take(api.GET("/api/jobs/{job}", { params: { path: { job: job.value.id } } }));
    }
    if (job.value.state === "failed") say(job.value.words, "error");
    if (job.value.result) chosen.value = job.value.result;
    job.value = null;
  });
  const stop = () => job.value && void take(api.DELETE("/api/jobs/{job}", { params: { path: { job: job.value.id } } }));

  return {
    scans,
    bodies,
    chosen,
    scan,
    scanId,
    mesh,
    setStance,
    remove,
    sending,
    refused,
    pick,
    shape,
    job,
    runScanner,
    stop,
  };
}
