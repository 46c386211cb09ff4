import { describe, expect, it } from "vitest";
import {
  away,
  copyOf,
  freshDetail,
  insetFor,
  isDragged,
  linesOf,
  mirrored,
  movedTo,
  OFFERS,
  oneLess,
  oneMore,
  putOn,
  withKind,
  withLine,
  withShape,
} from "./laid";

const trim = freshDetail(OFFERS[0], "hem", []);
const rivets = freshDetail(OFFERS[3], "upper edge B", ["rivets-upper-edge-b"]);

describe("what is laid along a line", () => {
  it("gets a key that no other detail has", () => {
    expect(trim.key).toBe("trim-hem");
    expect(rivets.key).toBe("rivets-upper-edge-b-2");
    expect(putOn([trim], { ...trim, name: "other" })).toEqual([{ ...trim, name: "other" }]);
    expect(putOn([trim], rivets).map((d) => d.key)).toEqual([trim.key, rivets.key]);
  });

  it("runs along more lines, and never along none", () => {
    const both = withLine(trim, "side edge");
    expect(linesOf(both)).toEqual(["hem", "side edge"]);
    expect(linesOf(withLine(both, "hem"))).toEqual(["side edge"]);
    expect(linesOf(withLine(trim, "hem"))).toEqual(["hem"]);
  });

  it("is copied to another line under another key", () => {
    const copy = copyOf(trim, "side edge", [trim.key]);
    expect([copy.key, linesOf(copy), linesOf(trim)]).toEqual(["trim-hem-2", ["side edge"], ["hem"]]);
    expect(linesOf(copyOf(trim, "", [trim.key]))).toEqual(["hem"]);
  });

  it("moves that of its places which is nearest to the hand", () => {
    const plate = { form: "plate" as const, at: [0.1, 2] as [number, number], wide: 40 };
    const both = { ...plate, ...mirrored(plate) };
    expect(both.also).toEqual([[-0.1, 2]]);
    expect(movedTo(both, [-0.14, 2.1])).toEqual({ at: [0.1, 2], also: [[-0.14, 2.1]] });
    expect(movedTo(both, [0.11, 1.9])).toEqual({ at: [0.11, 1.9], also: [[-0.1, 2]] });
    expect(oneLess(both)).toEqual({ also: [] });
    expect(oneMore(plate).also![0][0]).toBeGreaterThan(0.1);
  });

  it("has a seat for a gem, and only the openings drawn in film", () => {
    const plate = {
      key: "e",
      kind: "emblem" as const,
      name: "e",
      shape: { form: "plate" as const, at: [0, 1], wide: 40 },
    };
    const opening = (d: ReturnType<typeof withKind>) => d.shape?.form === "plate" && d.shape.opening;
    const open = withShape(plate as never, { opening: "window" });
    expect(opening(withKind(open, "gem"))).toBe("seat");
    expect(opening(withKind(withKind(open, "gem"), "layer"))).toBe("none");
    expect(opening(withKind(open, "layer"))).toBe("window");
    expect(opening(withKind(open, "stencil"))).toBe("none");
  });

  it("stays where it is when it does not run beside its line", () => {
    const cuff = freshDetail(
      OFFERS.find((o) => o.form === "cuff")!,
      "hem",
      [],
    );
    const links = freshDetail(
      OFFERS.find((o) => o.form === "links")!,
      "hem",
      [],
    );
    expect([isDragged(cuff), isDragged(links), insetFor(cuff, 30, false)]).toEqual([false, true, 0]);
  });

  it("follows the hand by its middle", () => {
    const far = away(
      [5, 4],
      [
        [
          [0, 0],
          [10, 0],
        ],
        [
          [0, 20],
          [10, 20],
        ],
      ],
    );
    expect(far).toBe(4);
    expect(
      away(
        [13, 4],
        [
          [
            [0, 0],
            [10, 0],
          ],
        ],
      ),
    ).toBe(5);
    expect(insetFor(withShape(trim, { width: 6 }), 9.3, false)).toBe(6.5);
    expect(insetFor(trim, 2, false)).toBe(0);
    expect(insetFor(trim, 2.2, true)).toBe(2);
    expect(insetFor(rivets, 9.3, false)).toBe(9.5);
  });
});
