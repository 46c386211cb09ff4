import { QueryClient, useMutation, useQuery, useQueryClient } from "@tanstack/vue-query";
import { ElMessage } from "element-plus/es/components/message/index";
import { computed, type Ref } from "vue";
import { useRoute } from "vue-router";
import {
  api,
  Refusal,
  seen,
  take,
  type Build,
  type DesignIn,
  type MeasurementsIn,
  type Piece,
  type Schemas,
  type Settings,
} from "./client";
import { keepAnswer } from "./kept";
import { AFTER, Due, isAbout, Later, showing, shown, turnsAfterChange, type Asking } from "./turns";

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

export function useAsk<T>(
  options: { queryKey: unknown[]; queryFn: (how: Asking) => Promise<T>; enabled?: Ref<boolean> } & Record<
    string,
    unknown
  >,
): Asked<T> {
  const name = String(options.queryKey[0]);
  const queryFn = ({ signal }: { signal: AbortSignal }) =>
    options.queryFn({ signal, headers: isAbout(shown(), name) ? undefined : AFTER });
  return useQuery({ shallow: true, structuralSharing: false, ...options, queryFn } as Parameters<
    typeof useQuery
  >[0]) as unknown as Asked<T>;
}

export function useCatalogue() {
  return useAsk({
    queryKey: ["catalogue"],
    queryFn: (how) => take(api.GET("/api/catalogue", how)),
    staleTime: Infinity,
  });
}

export function useSettings() {
  return useAsk({ queryKey: ["settings"], queryFn: (how) => take(api.GET("/api/settings", how)) });
}

/** Keep readings in a set as it was seen, and put it in its place at once, so the next change starts from it. */
export async function saveSet(was: Schemas["SetOut"], body: MeasurementsIn) {
  const params = { path: { number: was.id } };
  const kept = await take(api.PUT("/api/measurement-sets/{number}", { params, body, headers: seen(was) }));
  await keepAnswer<Schemas["SetOut"][]>(queryClient, ["sets", kept.wearer_id], (old) =>
    old?.map((s) => (s.id === kept.id ? kept : s)),
  );
  return kept;
}

/** Put a piece just saved in its place at once, so the next change starts from it. */
function keepPiece(kept: Piece) {
  const swap = (b: Build) =>
    b.id === kept.build_id ? { ...b, pieces: b.pieces.map((p) => (p.id === kept.id ? kept : p)) } : b;
  return keepAnswer<Build[]>(queryClient, ["builds"], (old) => old?.map(swap));
}

/**
 * Changes of a piece's design, one after the other. Each is made on what the last one left, here or in another
 * window, so quick hands lose nothing.
 */
export function useDesignChange(piece: Ref<Piece | undefined>, onRefusal?: (refusal: Refusal) => void) {
  const save = useChange(
    async ({ on, change }: { on: Piece; change: (now: DesignIn) => DesignIn }) => {
      const builds = queryClient.getQueryData<Build[]>(["builds"]) ?? [];
      const now = builds.flatMap((b) => b.pieces).find((p) => p.id === on.id) ?? on;
      const body = { design: change(now.design as DesignIn) };
      const params = { path: { piece: on.id } };
      await keepPiece((await take(api.PATCH("/api/pieces/{piece}", { params, body, headers: seen(now) }))) as Piece);
    },
    (refusal) => (onRefusal && refusal.status !== OVERTAKEN ? onRefusal(refusal) : say(refusal.message, "error")),
    "design",
  );
  return (change: (now: DesignIn) => DesignIn) => {
    if (piece.value) save.mutate({ on: piece.value, change });
  };
}

export function useWearers() {
  return useAsk({ queryKey: ["wearers"], queryFn: (how) => take(api.GET("/api/wearers", how)) });
}

export function useBuilds() {
  return useAsk({ queryKey: ["builds"], queryFn: (how) => take(api.GET("/api/builds", how)) });
}

/** The list of builds as it is now; wait for it before going to something just made. */
export const freshBuilds = () => queryClient.invalidateQueries({ queryKey: ["builds"] });

export function useUndoWords() {
  return useAsk({ queryKey: ["undo"], queryFn: (how) => take(api.GET("/api/undo", how)) });
}

export function useTimers() {
  return useAsk({
    queryKey: ["timers"],
    queryFn: (how) => take(api.GET("/api/timers", how)),
    refetchInterval: (query: { state: { data?: unknown[] } }) => (query.state.data?.length ? 1000 : 15_000),
    refetchIntervalInBackground: true,
  });
}

/** The maker heard a bell, or ends a timer. */
export function useTimerActs() {
  const touches = ["timers"];
  const path = (timer: number) => ({ params: { path: { timer } } });
  const hear = useChange(
    (id: number) => take(api.POST("/api/timers/{timer}/heard", path(id))),
    undefined,
    undefined,
    touches,
  );
  const stop = useChange(
    (id: number) => take(api.POST("/api/timers/{timer}/stop", path(id))),
    undefined,
    undefined,
    touches,
  );
  return { hear, stop };
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
export function usePieceQuery<T>(name: string, piece: Ref<number>, ask: (piece: number, how: Asking) => Promise<T>) {
  return useAsk({
    queryKey: [name, piece],
    queryFn: (how) => ask(piece.value, how),
    enabled: computed(() => piece.value > 0),
    placeholderData: (previous: T | undefined) => previous,
  });
}

/** A piece's steps as they stand, and how it is made. */
export const useBench = (piece: Ref<number>) =>
  usePieceQuery("steps", piece, (p, how) =>
    take(api.GET("/api/pieces/{piece}/steps", { ...how, params: { path: { piece: p } } })),
  );

/** Each piece's settled pattern on its way; one that was overtaken is dropped. */
const settling: Record<number, AbortController> = {};

/** A piece's pattern: at once as it lies on coarse meshes, then, where a panel is hard, as it is cut. */
export const usePattern = (piece: Ref<number>) =>
  usePieceQuery("pattern", piece, async (p, how) => {
    settling[p]?.abort();
    const quick = await pattern(p, true, how);
    if (!quick.settled) void settle(p);
    return quick;
  });

const pattern = (piece: number, quick: boolean, how: Asking) =>
  take(api.GET("/api/pieces/{piece}/pattern", { ...how, params: { path: { piece }, query: { quick } } }));

/** The settled pattern takes the quick one's place, unless it was asked for anew meanwhile. */
async function settle(piece: number) {
  const mine = (settling[piece] = new AbortController());
  await painted();
  const whole = await pattern(piece, false, { signal: mine.signal, headers: AFTER }).catch(() => null);
  if (whole && !mine.signal.aborted) queryClient.setQueryData(["pattern", piece], whole);
}

/** Another window was quicker: what stands now is asked for again. */
export const OVERTAKEN = 412;

/**
 * Something that changes what is stored. Afterwards what the screen is about is asked for first, since the maker
 * looks at it, then, when the hands rest, everything else; ``touches``: only what is named, where the change bears on
 * nothing else. A refusal is shown in its own words unless the caller takes it. Changes that share the name
 * ``inTurn`` are sent one after the other.
 */
export function useChange<In, Out>(
  act: (input: In) => Promise<Out>,
  onRefusal?: (refusal: Refusal, input: In) => void,
  inTurn?: string,
  touches?: readonly string[],
) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: act,
    scope: inTurn ? { id: inTurn } : undefined,
    onMutate: () => void (touches ?? dropOthers(client)),
    onSuccess: () => void (touches ? askAgain(client, touches) : refreshAll(client)),
    onError: (error, input) => {
      if (error instanceof Refusal && error.status === OVERTAKEN) void refreshAll(client);
      else if (!touches) whenAtRest(client);
      if (error instanceof Refusal && onRefusal) onRefusal(error, input);
      else say(error.message, "error");
    },
  });
}

/**
 * Something of the workshop that is kept as a whole, such as its shelf or its heat gun. Each change is made on what
 * the last one left, so quick hands lose nothing.
 */
export function useKept<T>(name: string, read: () => Promise<T>, write: (value: T) => Promise<T>) {
  const query = useAsk({ queryKey: [name], queryFn: read });
  const save = useChange(
    async (change: (now: T) => T) => {
      const kept = await write(change(queryClient.getQueryData<T>([name]) ?? (await read())));
      await keepAnswer(queryClient, [name], kept);
    },
    undefined,
    name,
  );
  return { data: query.data, change: (how: (now: T) => T, onError?: () => void) => save.mutate(how, { onError }) };
}

const due = new Due();
const later = new Later();

export async function refreshAll(client: QueryClient) {
  const { first, after } = turnsAfterChange(shown(), namesIn(client));
  due.add(after);
  await askAgain(client, first);
  await painted();
  whenAtRest(client);
}

const nameOf = (query: { queryKey: readonly unknown[] }) => String(query.queryKey[0]);
const namesIn = (client: QueryClient) => [...new Set(client.getQueryCache().getAll().map(nameOf))];

/** What is due is asked when the hands rest. */
const whenAtRest = (client: QueryClient) => later.put(() => void askAgain(client, due.take()));

/** Another screen opens: what it is about is not shown as it was before the last change. */
export function arrive(screen: string) {
  showing(screen);
  void askAgain(queryClient, due.take(screen));
}

/** A change begins: what is being asked beside what the screen is about is stopped, and due again after it. */
function dropOthers(client: QueryClient) {
  later.drop();
  const asked = client.getQueryCache().findAll({ fetchStatus: "fetching" }).map(nameOf);
  const others = turnsAfterChange(shown(), asked).after;
  due.add(others);
  void client.cancelQueries({ predicate: (query) => others.includes(nameOf(query)) });
}

/** An answer that was asked for before the change would be old: a first one is not asked again unless it is stopped. */
async function askAgain(client: QueryClient, names: readonly string[]) {
  const filter = { predicate: (query: { queryKey: readonly unknown[] }) => names.includes(nameOf(query)) };
  await client.cancelQueries(filter);
  await client.invalidateQueries(filter);
}

/** When what has just changed is on the screen. */
const painted = () => new Promise<void>((done) => requestAnimationFrame(() => requestAnimationFrame(() => done())));

export function useSettingsChange() {
  const client = useQueryClient();
  return useChange(async (change: Partial<Settings>) => {
    const now = client.getQueryData<Settings>(["settings"]) ?? {
      unit: "mm",
      paper: "A4",
      print_scale: 1,
      night: false,
    };
    const body = { ...now, ...change };
    client.setQueryData(["settings"], body);
    return take(api.PUT("/api/settings", { body }));
  });
}

export function say(words: string, type: "success" | "warning" | "error" = "success") {
  ElMessage({
    message: words,
    type,
    duration: type === "success" ? 3000 : 12_000,
    showClose: type !== "success",
    grouping: true,
    placement: "bottom",
    offset: 58,
  });
}
