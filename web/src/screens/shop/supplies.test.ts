import { describe, expect, it } from "vitest";
import { amount, bought, byGroup, changed, numberIn, type Book, type Supply } from "./supplies";

const cement = {
  name: "contact cement",
  unit: "ml",
  group: "glue and filler",
  have: 40,
  pack: 750,
  packs: 1,
} as Supply;
const book: Book = { rows: [], bought: [], budgets: {}, money: "" };

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

  it("writes what was bought with what was paid", () => {
    const after = bought(book, { ...cement, packs: 2, cost: 24 }, 5, 300);
    expect(after.bought).toEqual([{ name: "contact cement", unit: "ml", amount: 1500, paid: 24, build: 5, at: 300 }]);
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
