import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { Due, isAbout, Later, REST, turnsAfterChange } from "./turns";

describe("what is asked when", () => {
  const names = ["pattern", "builds", "steps", "catalogue", "undo"];

  it("asks first what the screen is about, then the rest, and never what is fixed", () => {
    expect(turnsAfterChange("flatten", names)).toEqual({ first: ["pattern"], after: ["builds", "steps", "undo"] });
    expect(turnsAfterChange("bench", names)).toEqual({ first: ["steps"], after: ["pattern", "builds", "undo"] });
    expect(turnsAfterChange("", names).first).toEqual([]);
  });

  it("knows no question that two screens would put first by mistake", () => {
    expect(isAbout("flatten", "steps")).toBe(false);
    expect(isAbout("rig", "figure")).toBe(true);
  });
});

describe("names that are due", () => {
  it("holds each once until they are taken", () => {
    const due = new Due();
    due.add(["builds", "steps"]);
    due.add(["steps", "undo"]);
    expect(due.take()).toEqual(["builds", "steps", "undo"]);
    expect(due.take()).toEqual([]);
  });

  it("gives a screen that opens what it is about, and leaves the rest due", () => {
    const due = new Due();
    due.add(["builds", "pattern", "undo"]);
    expect(due.take("flatten")).toEqual(["pattern"]);
    expect(due.take("flatten")).toEqual([]);
    expect(due.take()).toEqual(["builds", "undo"]);
  });
});

describe("later", () => {
  beforeEach(() => void vi.useFakeTimers());
  afterEach(() => void vi.useRealTimers());

  it("acts once, when the hands rest", () => {
    const done: string[] = [];
    const later = new Later();
    later.put(() => done.push("first"));
    vi.advanceTimersByTime(REST - 1);
    later.put(() => done.push("second"));
    vi.advanceTimersByTime(REST - 1);
    expect(done).toEqual([]);
    vi.advanceTimersByTime(1);
    expect(done).toEqual(["second"]);
  });

  it("drops what waits", () => {
    const done: string[] = [];
    const later = new Later(10);
    later.put(() => done.push("never"));
    later.drop();
    vi.advanceTimersByTime(100);
    expect(done).toEqual([]);
  });
});
