import type { QueryClient } from "@tanstack/vue-query";

/**
 * What was just kept takes its place at once, so that the next change starts from it. An answer that was asked for
 * before would be older, and is not waited for any more.
 */
export async function keepAnswer<T>(
  client: QueryClient,
  queryKey: readonly unknown[],
  kept: T | ((old: T | undefined) => T | undefined),
) {
  await client.cancelQueries({ queryKey });
  client.setQueryData<T>(queryKey, kept);
}
