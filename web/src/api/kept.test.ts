import { QueryClient } from "@tanstack/vue-query";
import { describe, expect, it } from "vitest";
import { keepAnswer } from "./kept";

/** A question whose answer comes when it is told to. */
function late<T>(client: QueryClient, queryKey: unknown[], answer: T) {
  let come = () => {};
  const waits = new Promise<T>((done) => (come = () => done(answer)));
  const asked = client.fetchQuery({ queryKey, queryFn: () => waits }).catch(() => undefined);
  return { come, asked };
}

describe("what was just kept", () => {
  it("is not written over by an answer that was asked for before it", async () => {
    const client = new QueryClient();
    client.setQueryData(["builds"], "first");
    const { come, asked } = late(client, ["builds"], "first");
    await keepAnswer(client, ["builds"], "second");
    come();
    await asked;
    await new Promise((done) => setTimeout(done, 5));
    expect(client.getQueryData(["builds"])).toBe("second");
  });

  it("is made from what stood there, and leaves other answers alone", async () => {
    const client = new QueryClient();
    client.setQueryData(["trace", 1], 4);
    const { come, asked } = late(client, ["trace", 2], 9);
    await keepAnswer<number>(client, ["trace", 1], (old) => (old ?? 0) + 1);
    come();
    await asked;
    expect(client.getQueryData(["trace", 1])).toBe(5);
    expect(client.getQueryData(["trace", 2])).toBe(9);
  });
});
