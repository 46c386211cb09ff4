import { describe, expect, it } from "vitest";
import { clock, figure, length, minutes, sentence, typed, weight } from "./lengths";

describe("lengths", () => {
  it("tells mm to a tenth and what is long in metres", () => {
    expect(length(12.34, "mm")).toBe("12.3 mm");
    expect(length(1999.9, "mm")).toBe("1999.9 mm");
    expect(length(2340, "mm")).toBe("2.34 m");
    expect(length(2340, "mm", false)).toBe("2340");
  });

  it("tells inches by the nearest sixteenth, finer what is thin, in lowest terms", () => {
    expect(length(25.4, "in")).toBe("1 in");
    expect(length(244.475, "in")).toBe("9 5/8 in");
    expect(length(6.35, "in")).toBe("1/4 in");
    expect(length(0.79375, "in")).toBe("1/32 in");
    expect(length(-38.1, "in")).toBe("-1 1/2 in");
    expect(length(-0.1, "in")).toBe("0 in");
  });

  it("is never off by more than half of its least step", () => {
    for (let mm = 0.3; mm < 900; mm *= 1.07) {
      const [whole, part] = /^(?:(\d+)(?: |$))?(?:(\d+\/\d+))?$/.exec(length(mm, "in", false))!.slice(1);
      const [top, under] = (part ?? "0/1").split("/").map(Number);
      const back = 25.4 * (Number(whole ?? 0) + top / under);
      expect(Math.abs(back - mm)).toBeLessThanOrEqual(25.4 / (mm < 12.7 ? 64 : 32) + 1e-9);
    }
  });

  it("reads a bare number in the unit that is shown, and leaves one that names its own", () => {
    expect(typed("9 5/8", "in")).toBe("9 5/8 in");
    expect(typed(" 9,5 ", "in")).toBe("9,5 in");
    expect(typed("24.5 cm", "in")).toBe("24.5 cm");
    expect(typed("245", "mm")).toBe("245");
  });

  it("puts the maker's unit into the craft's own sentences, and keeps a figure with its sign", () => {
    expect(sentence("Cut 25.4 mm off, 3 % more.", "in")).toBe("Cut 1 in off, 3\u00a0% more.");
    expect(sentence("Cut 25 mm off.", "mm")).toBe("Cut 25\u00a0mm off.");
  });
});

describe("other figures", () => {
  it("tells time as one waits", () => {
    expect([89, 90, 200, 700].map(minutes)).toEqual(["89 min", "1.5 h", "3.5 h", "12 h"]);
    expect([0, 61, -61].map(clock)).toEqual(["0:00", "1:01", "1:01"]);
  });

  it("tells each kind in its own way", () => {
    expect(figure({ word: "", amount: 12.5, kind: "mm" }, "mm")).toBe("12.5 mm");
    expect(figure({ word: "", amount: 7.26, kind: "percent" }, "mm")).toBe("7.3 %");
    expect(figure({ word: "", amount: 3, kind: "count" }, "mm")).toBe("3");
    expect(figure({ word: "", amount: 0.95, kind: "ratio" }, "mm")).toBe("0.95");
    expect(figure({ word: "", amount: 2, kind: "ratio" }, "mm")).toBe("2");
    expect(figure({ word: "", amount: 1_250_000, kind: "mm2" }, "mm")).toBe("1.250 m²");
    expect(weight(283.5, "in")).toBe("10.0 oz");
  });
});
