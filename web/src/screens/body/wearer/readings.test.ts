import { describe, expect, it } from "vitest";
import type { MeasurementsIn } from "@/api/client";
import { changeLimb, changeTrunk, keyOf, partSides, type LimbChange } from "./readings";

const bare = () => ({ taken_on: "2026-11-02", limbs: [] }) as unknown as MeasurementsIn;
const at = (field: LimbChange["field"], text: string): LimbChange => ({
  segment: "forearm",
  side: "both",
  station: "belly",
  field,
  text,
});
const belly = (body: MeasurementsIn) => body.limbs![0].stations.belly;

describe("a measure that was typed", () => {
  it("makes the station when its girth is known, at the height typed before or the usual one", () => {
    const [body, typed] = [bare(), {}];
    expect(changeLimb(body, at("at", "140"), typed, {})).toBe(false);
    expect(belly(body)).toBeUndefined();
    expect(changeLimb(body, at("girth", "252"), typed, { "forearm.belly": 130 })).toBe(true);
    expect(belly(body)).toEqual({ girth: "252", at: "140" });
    const other = bare();
    changeLimb(other, at("girth", "252"), {}, { "forearm.belly": 130 });
    expect(belly(other)).toEqual({ girth: "252", at: 130 });
  });

  it("changes one field and leaves the others; an empty girth takes the station out", () => {
    const body = bare();
    for (const c of [at("girth", "252"), at("ratio", "0,93"), at("strip", "6")]) changeLimb(body, c, {}, {});
    expect(belly(body)).toEqual({ girth: "252", at: 0, ratio: 0.93, tool: "foam", strip: 6 });
    changeLimb(body, at("strip", "0"), {}, {});
    expect(belly(body)).toMatchObject({ tool: "tape", girth: "252" });
    changeLimb(body, at("girth", ""), {}, {});
    expect(belly(body)).toBeUndefined();
  });

  it("knows the gate apart from stations", () => {
    const body = bare();
    const gate: LimbChange = { segment: "forearm", side: "both", field: "gate", text: "232" };
    changeLimb(body, gate, {}, {});
    expect(body.limbs![0].gate).toBe("232");
    expect(keyOf(gate)).toBe("forearm.both.gate.gate");
    changeLimb(body, { ...gate, text: "" }, {}, {});
    expect(body.limbs![0].gate).toBeNull();
  });
});

describe("a trunk", () => {
  it("takes girths and lengths, and guesses again what is emptied", () => {
    const body = bare();
    changeTrunk(body, "bust", "940", "girth");
    changeTrunk(body, "back length", "410", "length");
    changeTrunk(body, "bust", "6", "strip");
    expect(body.torso).toEqual({
      girths: { bust: { at: 0, girth: "940", tool: "foam", strip: 6 } },
      lengths: { "back length": "410" },
      posture: "usual",
    });
    changeTrunk(body, "bust", "", "girth");
    changeTrunk(body, "back length", "", "length");
    expect(body.torso).toEqual({ girths: {}, lengths: {}, posture: "usual" });
  });
});

describe("left and right", () => {
  it("are parted as two alike and joined as the left", () => {
    const body = bare();
    changeLimb(body, at("girth", "252"), {}, {});
    expect(partSides(body, "forearm", true)).toBe(true);
    expect(body.limbs!.map((l) => l.side)).toEqual(["left", "right"]);
    changeLimb(body, { ...at("girth", "260"), side: "left" }, {}, {});
    partSides(body, "forearm", false);
    expect(body.limbs!.map((l) => [l.side, (l.stations.belly as { girth: string }).girth])).toEqual([["both", "260"]]);
    expect(partSides(body, "thigh", true)).toBe(false);
  });
});
