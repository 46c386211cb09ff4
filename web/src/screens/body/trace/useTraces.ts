import { computed, ref, type Ref } from "vue";
import { api, sendFile, take, type Schemas } from "@/api/client";
import { keepAnswer } from "@/api/kept";
import { queryClient, useAsk, useChange } from "@/api/queries";

export type Trace = Schemas["TraceOut"];
export type Shape = Schemas["FlatShape-Output"];
export type ActIn = Schemas["ActIn"];
/**
 * What the maker knows of a pattern file: what its numbers are, or how wide all of it is; where each page was laid;
 * what layers hold.
 */
export type HowToRead = { unit?: string; wide?: string; places?: string; layers?: string };
/** A photograph: the cards' test square, mm; whether it shows the bare floor; which one of the floor it lies over. */
export type Brought = { file: File; square: number; checked: boolean; bare?: boolean; over?: number };
/** A layer of a file that has to be asked after. */
export type AskedLayer = { file: File; layer: string; words: string };
export type Pages = Schemas["PatternPagesOut"]["pages"];
export type Kind = Schemas["FlatStroke-Output"]["kind"];

/** What a line on a traced piece may stand for, in a maker's words, and the colour it is drawn with. */
export const KINDS: Record<Kind, { word: string; colour: string }> = {
  seam: { word: "seam", colour: "--verdigris" },
  fold: { word: "fold", colour: "--plum" },
  score: { word: "score", colour: "--plum" },
  "trim edge": { word: "edge of a trim", colour: "--ochre-fill" },
  "layer cut": { word: "edge of a layer", colour: "--verdigris" },
  "paint line": { word: "paint line", colour: "--ochre-fill" },
  mark: { word: "mark", colour: "--graphite" },
  "centre line": { word: "centre line", colour: "--oxide" },
  segment: { word: "parts segments", colour: "--oxide" },
};

/**
 * The photographs of a build: the one that is looked at, one brought in, the simulated camera, and what is put right.
 */
export function useTraces(buildId: Ref<number>) {
  const path = () => ({ params: { path: { build: buildId.value } } });
  const list = useAsk({
    queryKey: ["traces", buildId],
    queryFn: (how) => take(api.GET("/api/builds/{build}/traces", { ...how, ...path() })),
    enabled: computed(() => buildId.value > 0),
  });
  const chosen = ref(0);
  const traceId = computed(() => {
    const rows = list.data.value ?? [];
    return rows.find((t) => t.id === chosen.value)?.id ?? rows[rows.length - 1]?.id ?? 0;
  });
  const own = () => ({ params: { path: { trace: traceId.value } } });
  const trace = useAsk({
    queryKey: ["trace", traceId],
    queryFn: (how) => take(api.GET("/api/traces/{trace}", { ...how, ...own() })),
    enabled: computed(() => traceId.value > 0),
  });

  const job = ref<Schemas["JobOut"] | null>(null);
  /** Share of a photograph that has gone out, while it goes. */
  const sent = ref<number | null>(null);
  /** Why the last photograph was not taken: it stays to be read until another one is tried. */
  const refused = ref("");
  async function follow(started: Schemas["JobOut"]) {
    job.value = started;
    while (job.value.state === "running") {
      await new Promise((done) => setTimeout(done, 250));
      job.value = await take(api.GET("/api/jobs/{job}", { params: { path: { job: job.value.id } } }));
    }
    if (job.value.state === "failed") refused.value = job.value.words;
    if (job.value.result) chosen.value = job.value.result;
    job.value = null;
  }
  const start = (begin: () => Promise<Schemas["JobOut"]>) => async () => {
    refused.value = "";
    await follow(await begin());
  };
  const said = (refusal: Error) => void (refused.value = refusal.message);
  const bring = useChange(
    ({ file, ...how }: Brought) =>
      start(() => {
        const query = new URLSearchParams({ name: file.name, square: String(how.square) });
        if (how.checked) query.set("checked", "true");
        if (how.bare) query.set("bare", "true");
        if (how.over) query.set("over", String(how.over));
        sent.value = 0;
        const path = `/api/builds/${buildId.value}/traces?${query}`;
        return sendFile<Schemas["JobOut"]>(path, file, (share) => (sent.value = share)).finally(
          () => (sent.value = null),
        );
      })(),
    said,
  );
  const camera = useChange(
    (floor_first: boolean) =>
      start(() => take(api.POST("/api/builds/{build}/camera", { ...path(), body: { seed: 1, floor_first } })))(),
    said,
  );
  const again = useChange(
    (body: Schemas["AgainIn"]) => start(() => take(api.POST("/api/traces/{trace}/again", { ...own(), body })))(),
    said,
  );
  /** Photographs of one ground, put together where they show the same cards. */
  const join = useChange(
    (traces: number[]) => start(() => take(api.POST("/api/traces/joined", { body: { traces } })))(),
    said,
  );
  /**
   * A pattern that somebody else drew: its panels become a piece at once. unit: what its numbers are, if it does not
   * say.
   */
  const asksUnit = ref<File | null>(null);
  const asksLayer = ref<AskedLayer | null>(null);
  const bringPattern = useChange(
    async ({ file, template, how }: { file: File; template: string; how: HowToRead }) => {
      refused.value = "";
      const query = new URLSearchParams({ name: file.name, template, ...how });
      asksLayer.value = null;
      const made = await sendFile<Schemas["PatternBroughtIn"]>(
        `/api/builds/${buildId.value}/pattern-files?${query}`,
        file,
      );
      asksUnit.value = null;
      return made;
    },
    (refusal, { file }) => {
      if (refusal.fields.some((f) => f.field === "unit")) asksUnit.value = file;
      const layer = refusal.fields.find((f) => f.field.startsWith("layers."))?.field.slice("layers.".length);
      if (layer) asksLayer.value = { file, layer, words: refusal.message };
      else refused.value = refusal.message;
    },
  );
  /** Pages of a PDF that have to be laid together by hand; none where the file says how, or has but one. */
  const pagesToLay = async (file: File): Promise<Pages> => {
    if (!file.name.toLowerCase().endsWith(".pdf")) return [];
    const read = await sendFile<Schemas["PatternPagesOut"]>("/api/pattern-pages", file);
    return read.ask ? read.pages : [];
  };
  const stop = () => job.value && void take(api.DELETE("/api/jobs/{job}", { params: { path: { job: job.value.id } } }));

  /** One thing put right; the answer is shown at once, one act after the other. */
  const act = useChange(
    async (body: ActIn) => {
      const now = await take(api.POST("/api/traces/{trace}/acts", { ...own(), body }));
      await keepAnswer(queryClient, ["trace", now.id], now);
    },
    undefined,
    "trace",
    ["undo", "traces"],
  );
  /** A stroke over the picture: the outlines follow. */
  const rub = useChange(
    async (body: Schemas["StrokeIn"]) => {
      const now = await take(api.POST("/api/traces/{trace}/strokes", { ...own(), body }));
      await keepAnswer(queryClient, ["trace", now.id], now);
    },
    undefined,
    "trace",
    ["undo", "traces"],
  );
  const check = useChange(
    async () => {
      const now = await take(api.POST("/api/traces/{trace}/checked", own()));
      await keepAnswer(queryClient, ["trace", now.id], now);
    },
    undefined,
    "trace",
    ["undo"],
  );
  const remove = useChange(() => take(api.DELETE("/api/traces/{trace}", own())));
  return {
    list,
    chosen,
    traceId,
    trace,
    job,
    sent,
    refused,
    bring,
    camera,
    again,
    join,
    stop,
    act,
    rub,
    check,
    remove,
    bringPattern,
    pagesToLay,
    asksUnit,
    asksLayer,
  };
}
