import type { Value } from "@/api/client";

export type Unit = "mm" | "in";

function greatestCommon(a: number, b: number): number {
  return b ? greatestCommon(b, a % b) : a;
}

/** What is longer than any girth or leg of a body is told in metres. */
const METRES_FROM = 2000;

/** Depths and thicknesses under half an inch are read to 1/32: a groove cut 1/16 too deep goes through. */
const FINE_UNDER = 12.7;

/** Millimetres in the maker's unit: one decimal, or inches to the nearest sixteenth. */
export function length(mm: number, unit: Unit, withUnit = true): string {
  if (unit === "mm" && withUnit && Math.abs(mm) >= METRES_FROM) return `${(mm / 1000).toFixed(2)} m`;
  if (unit === "mm") return `${Math.round(mm * 10) / 10}${withUnit ? " mm" : ""}`;
  const least = Math.abs(mm) < FINE_UNDER ? 32 : 16;
  const parts = Math.round((Math.abs(mm) / 25.4) * least);
  const whole = Math.floor(parts / least);
  const rest = parts % least;
  const by = greatestCommon(rest, least);
  const part = rest ? `${rest / by}/${least / by}` : "";
  const sign = mm < 0 && parts ? "-" : "";
  return `${sign}${[whole || !part ? whole : "", part].filter((x) => x !== "").join(" ")}${withUnit ? " in" : ""}`;
}

export function minutes(value: number): string {
  if (value < 90) return `${Math.round(value)} min`;
  const hours = value / 60;
  return hours < 10 ? `${Math.round(hours * 2) / 2} h` : `${Math.round(hours)} h`;
}

export function clock(seconds: number): string {
  const whole = Math.abs(Math.round(seconds));
  return `${Math.floor(whole / 60)}:${String(whole % 60).padStart(2, "0")}`;
}

export function weight(grams: number, unit: Unit): string {
  return unit === "in" ? `${(grams / 28.35).toFixed(1)} oz` : `${Math.round(grams)} g`;
}

/** A figure of any kind in words, lengths in the maker's unit. */
export function figure(value: Value, unit: Unit): string {
  const amount = value.amount;
  switch (value.kind ?? "mm") {
    case "mm":
      return length(amount, unit);
    case "percent":
      return `${amount.toFixed(1)} %`;
    case "count":
      return String(Math.round(amount * 10) / 10);
    case "degrees":
      return `${amount.toFixed(1)}°`;
    case "ratio":
      return amount.toFixed(3).replace(/\.?0+$/, "");
    case "minutes":
      return minutes(amount);
    case "grams":
      return weight(amount, unit);
    case "mm2":
      return unit === "mm" ? `${(amount / 1e6).toFixed(3)} m²` : `${(amount / 645.16).toFixed(0)} in²`;
  }
}

/**
 * The craft's own sentences write lengths as "12 mm"; a maker who works in inches reads them in inches. A figure and
 * its sign stay on one line.
 */
export function sentence(text: string, unit: Unit): string {
  const own = unit === "mm" ? text : text.replace(/(\d+(?:\.\d+)?) mm\b/g, (_, mm) => length(Number(mm), unit));
  return own.replace(/(\d) (?=%|mm\b)/g, "$1\u00a0");
}

/** What was typed in a field, for the server: a bare number is in the unit shown. */
export function typed(text: string, unit: Unit): string {
  return unit === "in" && /^[-\d\s./,]+$/.test(text.trim()) ? `${text.trim()} in` : text.trim();
}
