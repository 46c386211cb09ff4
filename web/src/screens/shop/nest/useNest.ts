/** The sheets of a costume: as they were laid, laid anew while one looks on, moved by hand, cut. */
import { computed, ref, watch, type Ref } from "vue";
import { useRoute } from "vue-router";
import { api, take, type Schemas } from "@/api/client";
import { queryClient, say, useAsk, useChange } from "@/api/queries";
import { useUnit } from "@/parts/units";

export type Material = Schemas["MaterialOut"];
export type Sheet = Schemas["NestSheetOut"];
export type Part = Schemas["PlacedOut"];
export type Tool = Schemas["NestIn"]["tool"];
export type Effort = Schemas["NestIn"]["effort"];

const LOOKS_EVERY = 400;

export function useNest(buildId: Ref<number>) {
  const { say: sentence } = useUnit();
  const asked = useAsk({
    queryKey: ["nest", buildId],
    queryFn: (how) => take(api.GET("/api/builds/{build}/nest", { ...how, params: { path: { build: buildId.value } } })),
    enabled: computed(() => buildId.value > 0),
  });
  const soFar = ref<Record<string, Material>>({});
  const materials = computed(() => (asked.data.value?.materials ?? []).map((m) => soFar.value[m.key] ?? m));
  const chosen = ref(String(useRoute().query.material ?? ""));
  const material = computed(() => materials.value.find((m) => m.key === chosen.value) ?? materials.value[0]);

  const tool = ref<Tool>("knife");
  watch(asked.data, (made) => (tool.value = made?.materials.find((m) => m.laid)?.tool ?? tool.value));
  const effort = ref<Effort>("usual");
  const job = ref<Schemas["JobOut"] | null>(null);
  const lay = useChange(async (which: string[]) => {
    const body = { materials: which, tool: tool.value, effort: effort.value, seed: 1 };
    const params = { path: { build: buildId.value } };
    job.value = await take(api.POST("/api/builds/{build}/nest", { params, body }));
    const path = { params: { path: { job: job.value.id } } };
    while (job.value.state === "running") {
      await new Promise((done) => setTimeout(done, LOOKS_EVERY));
      const seen = await take(api.GET("/api/nests/{job}", path)).catch(() => []);
      soFar.value = Object.fromEntries(seen.map((m) => [m.key, m]));
      job.value = await take(api.GET("/api/jobs/{job}", path));
    }
    if (job.value.state === "failed") say(job.value.words, "error");
    job.value = null;
    await queryClient.invalidateQueries({ queryKey: ["nest", buildId.value] });
    soFar.value = {};
  });
  const stop = () => job.value && void take(api.DELETE("/api/jobs/{job}", { params: { path: { job: job.value.id } } }));

  const place = useChange(
    async ({ sheet, part, locked }: { sheet: string; part: Omit<Part, "code">; locked: boolean }) => {
      const body = { key: part.key, sheet, turn: part.turn, x: part.x, y: part.y, locked };
      const path = { build: buildId.value, material: material.value!.key };
      return take(api.PUT("/api/builds/{build}/nest/{material}/part", { params: { path }, body }));
    },
    undefined,
    "nest",
  );
  const cut = useChange(async (sheet: string) => {
    const path = { build: buildId.value, material: material.value!.key };
    return take(api.POST("/api/builds/{build}/nest/{material}/cut", { params: { path, query: { sheet } } }));
  });
  const buy = useChange(async (sheets: number) => {
    const path = { build: buildId.value, material: material.value!.key };
    return take(api.POST("/api/builds/{build}/nest/{material}/bought", { params: { path, query: { sheets } } }));
  });
  const split = useChange(async (part: string) => {
    const path = { build: buildId.value, material: material.value!.key };
    const done = await take(
      api.POST("/api/builds/{build}/nest/{material}/split", { params: { path, query: { part } } }),
    );
    say(sentence(`${done.words}. Lay the parts anew.`));
  });
  const file = (sheet: string, form: "svg" | "dxf") =>
    `/api/builds/${buildId.value}/nest/${encodeURIComponent(material.value!.key)}/sheet` +
    `?sheet=${encodeURIComponent(sheet)}&form=${form}`;

  return { asked, materials, material, chosen, tool, effort, job, lay, stop, place, cut, buy, split, file };
}
