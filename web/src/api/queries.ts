import { QueryClient, useMutation, useQuery, useQueryClient } from "@tanstack/vue-query";
import { ElMessage } from "element-plus/es/components/message/index";
import { computed, type Ref } from "vue";
import { useRoute } from "vue-router";
import { api, Refusal, take, type Settings } from "./client";

export const queryClient = new QueryClient({
  defaultOptions: { queries: { staleTime: 30_000, retry: false, refetchOnWindowFocus: true } },
});

/**
 * What a query gives to screens: plain data, neither proxied nor compared piece by piece, since a pattern holds
 * thousands of numbers and is drawn anew at every edit.
 */
export interface Asked<T> {
  data: Ref<T | undefined>;
  error: Ref<Error | null>;
  isError: Ref<boolean>;
  isSuccess: Ref<boolean>;
}

export function useAsk<T>(options: { queryKey: unknown[]; queryFn: () => Promise<T>; enabled?: Ref<boolean> } & Record<string, unknown>): Asked<T> {
  return useQuery({ shallow: true, structuralSharing: false, ...options } as Parameters<typeof useQuery>[0]) as unknown as Asked<T>;
}

export function useCatalogue() {
  return useAsk({ queryKey: ["catalogue"], queryFn: () => take(api.GET("/api/catalogue")), staleTime: Infinity });
}

export function useSettings() {
  return useAsk({ queryKey: ["settings"], queryFn: () => take(api.GET("/api/settings")) });
}

export function useWearers() {
  return useAsk({ queryKey: ["wearers"], queryFn: () => take(api.GET("/api/wearers")) });
}

export function useBuilds() {
  return useAsk({ queryKey: ["builds"], queryFn: () => take(api.GET("/api/builds")) });
}

/** The list of builds as it is now; wait for it before going to something just made. */
export const freshBuilds = () => queryClient.invalidateQueries({ queryKey: ["builds"] });

export function useUndoWords() {
  return useAsk({ queryKey: ["undo"], queryFn: () => take(api.GET("/api/undo")) });
}

export function useTimers() {
  return useAsk({
    queryKey: ["timers"],
    queryFn: () => take(api.GET("/api/timers")),
    refetchInterval: (query: { state: { data?: unknown[] } }) => (query.state.data?.length ? 1000 : 15_000),
    refetchIntervalInBackground: true,
  });
}

/** The build and piece that the address names; a build's first piece if it names none. */
export function useHere() {
  const route = useRoute();
  const builds = useBuilds();
  const buildId = computed(() => Number(route.params.build) || 0);
  const build = computed(() => builds.data.value?.find((b) => b.id === buildId.value));
  const wanted = computed(() => Number(route.query.piece) || 0);
  const piece = computed(() => build.value?.pieces.find((p) => p.id === wanted.value) ?? build.value?.pieces[0]);
  const pieceId = computed(() => piece.value?.id ?? 0);
  return { build, buildId, piece, pieceId, ready: computed(() => builds.isSuccess.value) };
}

/** A query about one piece, asked once the piece is known. */
export function usePieceQuery<T>(name: string, piece: Ref<number>, ask: (piece: number) => Promise<T>) {
  return useAsk({
    queryKey: [name, piece],
    queryFn: () => ask(piece.value),
    enabled: computed(() => piece.value > 0),
    placeholderData: (previous: T | undefined) => previous,
  });
}

export const usePattern = (piece: Ref<number>) =>
  usePieceQuery("pattern", piece, (p) => take(api.GET("/api/pieces/{piece}/pattern", { params: { path: { piece: p } } })));

/**
 * Something that changes what is stored. Afterwards the pattern is asked for first, since the maker looks at it,
 * then everything else. A refusal is shown in its own words unless the caller takes it.
 */
export function useChange<In, Out>(act: (input: In) => Promise<Out>, onRefusal?: (refusal: Refusal) => void) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: act,
    onSuccess: () => void refreshAll(client),
    onError: (error) => {
      if (error instanceof Refusal && onRefusal) onRefusal(error);
      else say(error.message, "error");
    },
  });
}

export async function refreshAll(client: QueryClient) {
  await client.invalidateQueries({ queryKey: ["pattern"] });
  await painted();
  await client.invalidateQueries({ predicate: (query) => !["catalogue", "pattern"].includes(String(query.queryKey[0])) });
}

/** When what has just changed is on the screen. */
const painted = () => new Promise<void>((done) => requestAnimationFrame(() => requestAnimationFrame(() => done())));

export function useSettingsChange() {
  const client = useQueryClient();
  return useChange(async (change: Partial<Settings>) => {
    const now = client.getQueryData<Settings>(["settings"]) ?? { unit: "mm", paper: "A4", print_scale: 1, night: false };
    const body = { ...now, ...change };
    client.setQueryData(["settings"], body);
    return take(api.PUT("/api/settings", { body }));
  });
}

export function say(words: string, type: "success" | "warning" | "error" = "success") {
  ElMessage({ message: words, type, duration: type === "error" ? 6000 : 3000, grouping: true, offset: 112 });
}
