import { computed, ref, shallowRef, watch, type Ref } from "vue";
import { api, Refusal, take, type MeasurementsIn, type Schemas } from "@/api/client";
import { saveSet, say, useAsk, useChange } from "@/api/queries";
import type { Ends, Spot } from "@/scene/scanStage";

export type Segment = Schemas["EndsIn"]["segment"];

/** One part of a scanned body: its proposed ends, moved by hand, and the tube that is fitted between them. */
export function useFit(
  scan: Ref<Schemas["ScanOut"] | undefined>,
  wearerId: Ref<number>,
  segment: Ref<Segment>,
  side: Ref<"left" | "right">,
) {
  const scanId = computed(() => scan.value?.id ?? 0);
  const path = () => ({ params: { path: { wearer: wearerId.value } } });
  const sets = useAsk({
    queryKey: ["sets", wearerId],
    queryFn: (how) => take(api.GET("/api/wearers/{wearer}/measurement-sets", { ...how, ...path() })),
    enabled: computed(() => wearerId.value > 0),
  });
  const ends = shallowRef<Ends | null>(null);
  const how = ref("");
  const fit = shallowRef<Schemas["TubeFitOut"] | null>(null);
  const trouble = ref("");
  const fitting = ref(false);
  let turn = 0;

  const reading = (): Schemas["ScanReading-Input"] => ({
    segment: segment.value,
    side: segment.value === "torso" ? "both" : side.value,
    scan: scan.value!.file,
    unit: scan.value!.unit,
    up: scan.value!.up,
    front: scan.value!.front,
    turned: scan.value!.turned,
    low: ends.value!.low,
    high: ends.value!.high,
    ahead: ends.value!.ahead,
  });

  async function propose() {
    if (!scan.value) return;
    const mine = ++turn;
    trouble.value = "";
    fit.value = null;
    ends.value = null;
    try {
      const got = await take(
        api.POST("/api/scans/{scan}/ends", {
          params: { path: { scan: scanId.value } },
          body: { segment: segment.value, side: side.value },
        }),
      );
      if (mine !== turn) return;
      how.value = got.how;
      ends.value = { low: got.low as Spot, high: got.high as Spot, ahead: got.front as Spot };
      await fitNow();
    } catch (error) {
      if (mine === turn) trouble.value = (error as Error).message;
    }
  }

  async function fitNow() {
    const mine = ++turn;
    fitting.value = true;
    trouble.value = "";
    try {
      const got = await take(api.POST("/api/scans/fit", { body: reading() }));
      if (mine === turn) fit.value = got;
    } catch (error) {
      if (mine !== turn) return;
      fit.value = null;
      trouble.value = error instanceof Refusal ? error.message : "It cannot be fitted";
    } finally {
      if (mine === turn) fitting.value = false;
    }
  }
  watch(
    [
      scanId,
      () => scan.value?.unit,
      () => scan.value?.up,
      () => scan.value?.front,
      () => scan.value?.turned,
      segment,
      side,
    ],
    propose,
    {
      immediate: true,
    },
  );

  const along = (e: Ends): Spot => e.high.map((v, i) => v - e.low[i]) as Spot;
  async function moved(index: number, at: Spot) {
    const got = await take(
      api.POST("/api/scans/{scan}/middle", {
        params: { path: { scan: scanId.value } },
        body: { at, way: segment.value === "torso" ? [0, 0, 1] : along(ends.value!) },
      }),
    );
    ends.value = { ...ends.value!, [index ? "high" : "low"]: got.at as Spot };
    how.value = "moved by hand";
    await fitNow();
  }

  function nudge(index: number, mm: number) {
    const e = ends.value!;
    const way = along(e);
    const size = Math.hypot(...way);
    const key = index ? "high" : "low";
    ends.value = { ...e, [key]: e[key].map((v, i) => v + (way[i] / size) * mm) as Spot };
    how.value = "moved by hand";
    void fitNow();
  }

  function turnFront(degrees: number) {
    const a = (degrees * Math.PI) / 180;
    const [x, y, z] = ends.value!.ahead;
    ends.value = { ...ends.value!, ahead: [x * Math.cos(a) - y * Math.sin(a), x * Math.sin(a) + y * Math.cos(a), z] };
    void fitNow();
  }

  const newest = computed(() => sets.data.value?.[0]);
  const inUse = computed(() =>
    newest.value?.readings.scans.find(
      (s) => s.segment === segment.value && (s.side === side.value || s.side === "both"),
    ),
  );
  const now = () => new Date(Date.now() - new Date().getTimezoneOffset() * 60_000).toISOString().slice(0, 10);

  /** Put the reading into the newest set, or begin one with it. */
  const use = useChange(async () => {
    const body = JSON.parse(JSON.stringify(newest.value?.readings ?? { taken_on: now(), limbs: [] })) as MeasurementsIn;
    const mine = reading();
    body.scans = [
      ...(body.scans ?? []).filter(
        (s) => s.segment !== mine.segment || (s.side !== mine.side && s.side !== "both" && mine.side !== "both"),
      ),
      mine,
    ];
    body.confirmed = [...new Set([...(body.confirmed ?? []), ...(fit.value?.questions ?? []).map((q) => q.key)])];
    if (newest.value) await saveSet(newest.value, body);
    else await take(api.POST("/api/wearers/{wearer}/measurement-sets", { ...path(), body }));
    say(`The ${mine.segment} now comes from the scan`);
  });
  const leave = useChange(async () => {
    const body = JSON.parse(JSON.stringify(newest.value!.readings)) as MeasurementsIn;
    body.scans = (body.scans ?? []).filter(
      (s) => s !== undefined && !(s.segment === segment.value && (s.side === side.value || s.side === "both")),
    );
    await saveSet(newest.value!, body);
  });
  return { ends, how, fit, trouble, fitting, inUse, propose, moved, nudge, turnFront, use, leave };
}
