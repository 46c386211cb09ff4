import { describe, expect, it } from "vitest";
import { amount, byGroup, byShop, changed, numberIn, wayTaken, type Book, type Supply } from "./supplies";

const cement = {
  name: "contact cement",
  unit: "ml",
  group: "glue and filler",
  have: 40,
  pack: 750,
  packs: 1,
} as Supply;
const book: Book = { rows: [], bought: [], budgets: {}, money: "", ways: [] };

describe("the book of supplies", () => {
  it("keeps what is there when a price is written, and counts anew when that is written", () => {
    const priced = changed(book, cement, { price: 12 }, 100);
    expect(priced.rows).toEqual([
      { name: "contact cement", unit: "ml", counted: 40, counted_at: 100, pack: null, price: 12, shop: "" },
    ]);
    const counted = changed(priced, cement, { counted: 7 }, 200);
    expect(counted.rows).toHaveLength(1);
    expect(counted.rows[0]).toMatchObject({ counted: 7, counted_at: 200, price: 12 });
  });

  it("goes the cheaper way for one build, and comes back from it", () => {
    const gone = wayTaken(wayTaken(book, cement, 5, true), cement, 6, true);
    expect(wayTaken(gone, cement, 5, true).ways).toHaveLength(2);
    expect(wayTaken(gone, cement, 5, false).ways).toEqual([{ build: 6, name: "contact cement", unit: "ml" }]);
  });

  it("lists what is short shop by shop, what has none last", () => {
    const at = (name: string, shop: string, packs = 1) => ({ ...cement, name, shop, packs }) as Supply;
    const found = byShop([at("a", ""), at("b", "Yard"), at("c", "Barn"), at("d", "Yard"), at("e", "Barn", 0)]);
    expect(found.map((s) => [s.shop, s.lines.map((l) => l.name).join("")])).toEqual([
      ["Barn", "c"],
      ["Yard", "bd"],
      ["", "a"],
    ]);
  });

  it("reads numbers as they are written", () => {
    expect(["", "12,5", " 3 ", "-1", "many", "1e12"].map(numberIn)).toEqual([
      null,
      12.5,
      3,
      undefined,
      undefined,
      undefined,
    ]);
    expect([3, 2.25, 17.6].map(amount)).toEqual(["3", "2.3", "18"]);
    expect(byGroup([cement, { ...cement, group: "straps" } as Supply]).map((g) => g.group)).toEqual([
      "glue and filler",
      "straps",
    ]);
  });
});
