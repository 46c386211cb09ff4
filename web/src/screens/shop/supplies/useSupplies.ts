/** The list of a build, and every way to change it: typed, taken from a shop, brought home. */
import { computed, type Ref } from "vue";
import { api, take, type Schemas } from "@/api/client";
import { queryClient, say, useAsk, useChange } from "@/api/queries";
import type { Book } from "./supplies";

type Came = Schemas["CameIn"];

export function useSupplies(buildId: Ref<number>) {
  const key = computed(() => ["supplies", buildId.value]);
  const path = computed(() => ({ params: { path: { build: buildId.value } } }));
  const asked = useAsk({
    queryKey: ["supplies", buildId],
    queryFn: (how) => take(api.GET("/api/builds/{build}/supplies", { ...how, ...path.value })),
    enabled: computed(() => buildId.value > 0),
  });
  const made = computed(() => asked.data.value);
  const keep = (kept: Schemas["SuppliesOut"]) => queryClient.setQueryData(key.value, kept);
  const save = useChange(
    async (change: (book: Book) => Book) => {
      const now = queryClient.getQueryData<Schemas["SuppliesOut"]>(key.value) ?? made.value!;
      const body = change(now.book) as Schemas["SupplyBook-Input"];
      keep(await take(api.PUT("/api/builds/{build}/supplies", { ...path.value, body })));
    },
    undefined,
    "supplies",
    ["undo"],
  );
  const ask = useChange(async () => {
    keep(await take(api.POST("/api/builds/{build}/supplies/ask", path.value)));
  });
  /** picks: which offers; null for the best of everything. */
  const accept = useChange(async (picks: Schemas["PickIn"][] | null) => {
    keep(await take(api.POST("/api/builds/{build}/supplies/take", { ...path.value, body: { picks } })));
  });
  const home = useChange(async (rows: Came[]) => {
    keep(await take(api.POST("/api/builds/{build}/supplies/bought", { ...path.value, body: { rows } })));
  });
  const homeFile = useChange(async (file: File) => {
    const kept = await take(
      api.POST("/api/builds/{build}/supplies/bought.csv", {
        ...path.value,
        body: await file.text(),
        bodySerializer: (body) => body,
        headers: { "Content-Type": "text/csv" },
      }),
    );
    keep(kept);
    for (const words of kept.odd.filter((w) => w.endsWith("is not on this list"))) say(words, "error");
  });
  return { made, save, ask, accept, home, homeFile };
}
