/** Numbers as people read and type them. Stored values stay metric; only their display follows the preferences. */
import formats from "../api/generated/formats.json";
import type { Units } from "../api/types";

const IMPERIAL: Record<string, { unit: string; factor: number }> = {
  mm: { unit: "in", factor: 1 / 25.4 },
  g: { unit: "oz", factor: 1 / 28.349523125 },
  kg: { unit: "lb", factor: 1 / 0.45359237 },
  m: { unit: "ft", factor: 1 / 0.3048 },
};

/** What one of a typed unit is in the field's own unit. */
const TYPED: Record<string, Record<string, number>> = {
  mm: { mm: 1, cm: 10, m: 1000, in: 25.4, inch: 25.4, '"': 25.4, ft: 304.8, um: 0.001, µm: 0.001 },
  g: { g: 1, kg: 1000, oz: 28.349523125, lb: 453.59237, lbs: 453.59237 },
  kg: { kg: 1, g: 0.001, lb: 0.45359237, lbs: 0.45359237, oz: 0.028349523125 },
  m: { m: 1, km: 1000, ft: 0.3048 },
  µm: { µm: 1, um: 1, nm: 0.001, mm: 1000 },
  "″": { "″": 1, '"': 1, arcsec: 1 },
  "°": { "°": 1, deg: 1 },
  "′": { "′": 1, "'": 1, arcmin: 1, "°": 60 },
};

export function shown(value: number, unit: string, units: Units): { value: number; unit: string } {
  // A share is read and typed in hundredths.
  if (unit === "share") return { value: value * 100, unit: "%" };
  const other = units === "imperial" ? IMPERIAL[unit] : undefined;
  return other ? { value: value * other.factor, unit: other.unit } : { value, unit };
}

/** Trims trailing zeros: 55, 16.5, 0.65. Ungrouped, as what is typed. */
export function plain(value: number, decimals = 2): string {
  return String(Number(value.toFixed(decimals))).replace("-", formats.minus);
}

/** A place in a drawing's path, which knows only ASCII. */
export const coordinate = (value: number): string => value.toFixed(1);

/** A value with its unit: signs of angle close up, as people write them. */
export function withUnit(value: number, unit: string, decimals = 2): string {
  return joined(plain(value, decimals), unit);
}

/** A written number and its unit: signs stand close to it. */
export const joined = (number: string, unit: string): string =>
  formats.close.includes(unit) || unit.startsWith("×") ? `${number}${unit}` : `${number} ${unit}`.trim();

/** A share of 1 in per cent; a small chance is never nothing. */
export const share = (of: number): string => {
  const written = fixed(of * 100, 0);
  return of > 0 && written === "0" ? "<1%" : `${written}%`;
};

const THOUSANDS = /\B(?=(\d{3})+(?!\d))/g;

/** With so many decimals, thousands apart; what rounds to nothing has no sign, and nothing is a dash. */
export function fixed(value: number | null | undefined, decimals: number, signed = false): string {
  if (value == null) return formats.dash;
  const [whole = "", part] = Math.abs(value).toFixed(decimals).split(".");
  const text = whole.replace(THOUSANDS, ",") + (part === undefined ? "" : `.${part}`);
  if (!/[1-9]/.test(text)) return text;
  return `${value < 0 ? formats.minus : signed ? "+" : ""}${text}`;
}

/** Known to two figures at most: 1,200, 84, 3.5, 0.07. */
export function about(value: number): string {
  const places = value === 0 ? 0 : 1 - Math.floor(Math.log10(Math.abs(value)));
  if (places < 0) return fixed(Math.round(value * 10 ** places) / 10 ** places, 0);
  const written = fixed(value, places);
  return places > 0 ? written.replace(/\.?0+$/, "") : written;
}

/** So long, in two parts at most: 45 s, 9 min 25 s, 3 h 30 min, 237 h. */
export function duration(seconds: number): string {
  if (seconds < 0) return formats.minus + duration(-seconds);
  if (seconds === 0) return "0 min";
  if (seconds < 59.5) return `${seconds >= 9.95 ? fixed(seconds, 0) : about(seconds)} s`;
  if (seconds < 3599.5) {
    const whole = Math.round(seconds);
    return whole % 60 ? `${Math.floor(whole / 60)} min ${whole % 60} s` : `${whole / 60} min`;
  }
  const minutes = Math.round(seconds / 60);
  if (minutes >= 6000) return `${fixed(seconds / 3600, 0)} h`;
  return minutes % 60 ? `${Math.floor(minutes / 60)} h ${minutes % 60} min` : `${minutes / 60} h`;
}

export function format(
  value: number,
  unit: string,
  decimals: number,
  units: Units = "metric",
): [string, string] {
  const out = shown(value, unit, units);
  return [fixed(out.value, out.unit === unit ? decimals : Math.max(decimals, 2)), out.unit];
}

/** In groups of three: 1,200 or 1,234.5; 1.234,5; 1 200. */
const GROUPED: readonly (readonly [pattern: RegExp, sign: RegExp])[] = [
  [/^[+-]?[1-9]\d{0,2}(,\d{3})+(?![\d,])/, /,/g],
  [/^[+-]?[1-9]\d{0,2}(\.\d{3})+(?=,\d+(?![\d.,]))/, /\./g],
  [/^[+-]?[1-9]\d{0,2}([\s\u202f]\d{3})+(?!\d)/, /[\s\u202f]/g],
];

/**
 * What a typed number may say, in the field's own unit, likeliest first: "1,200" is twelve hundred, as it is written here, or one
 * and a fifth where only that can be.
 */
export function readings(text: string, unit: string, units: Units): number[] {
  const given = text.trim().replace(/−/g, "-");
  const found = GROUPED.flatMap(([pattern, sign]) => {
    const grouped = pattern.exec(given)?.[0];
    return grouped ? [grouped.replace(sign, "") + given.slice(grouped.length)] : [];
  });
  return [...found, given]
    .map((one) => single(one.replace(/^([+-]?\d*),/, "$1."), unit, units))
    .filter((one) => one !== null);
}

/** A typed number, with or without a unit, in the field's own unit; null when it is not a number. */
export const parse = (text: string, unit: string, units: Units): number | null =>
  readings(text, unit, units)[0] ?? null;

function single(text: string, unit: string, units: Units): number | null {
  const match = /^\s*([+-]?(?:\d+\.?\d*|\.\d+)(?:e[+-]?\d+)?)\s*([a-zµ°″′"']*)\s*$/i.exec(
    text.replace(unit === "share" ? "%" : "", ""),
  );
  if (!match) return null;
  const number = Number(match[1]);
  const given = match[2] ?? "";
  if (unit === "share") return given === "" ? number / 100 : null;
  if (!given) {
    const other = units === "imperial" ? IMPERIAL[unit] : undefined;
    return other ? number / other.factor : number;
  }
  const factor = TYPED[unit]?.[given.toLowerCase()] ?? (given === unit ? 1 : undefined);
  return factor === undefined ? null : number * factor;
}

export function hours(raDeg: number): string {
  const total = Math.round((raDeg / 15) * 3600) % 86_400;
  return `${Math.floor(total / 3600)}h ${String(Math.floor((total % 3600) / 60)).padStart(2, "0")}m ${String(total % 60).padStart(2, "0")}s`;
}

export function degrees(decDeg: number): string {
  const total = Math.round(Math.abs(decDeg) * 60);
  return `${decDeg < 0 ? "−" : "+"}${Math.floor(total / 60)}° ${String(total % 60).padStart(2, "0")}′`;
}

/** "40.91° N, 2.6° W" */
export function degreesOf(latitude: number, longitude: number): string {
  const [north, east] = [latitude < 0 ? "S" : "N", longitude < 0 ? "W" : "E"];
  return `${plain(Math.abs(latitude))}° ${north}, ${plain(Math.abs(longitude))}° ${east}`;
}

/** Hours to the minute: 3 h 25 min. */
export const hoursWords = (hours: number): string => duration(Math.round(hours * 60) * 60);
