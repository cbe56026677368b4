/** Figures as a person reads them: a unit, as many digits as mean something, a range as a range. */
import type { Figure, Range } from "../api/types";
import type { Settings } from "./settings";

type Span = Pick<Range, "low" | "expected" | "high">;

export function digits(value: number): string {
  const size = Math.abs(value);
  if (size >= 20 || value === 0) return value.toFixed(0);
  return size >= 0.995 ? value.toFixed(1) : value.toFixed(2);
}

function span(low: string, high: string): string {
  return low === high ? low : `${low} to ${high}`;
}

export function unitOf(unit: string, settings: Settings): { name: string; si: number } {
  if (unit === "N") return { name: settings.force, si: settings.si[settings.force] ?? 1000 };
  if (unit === "m") return { name: settings.length, si: settings.si[settings.length] ?? 1 };
  return { name: unit, si: 1 };
}

export interface Shown {
  value: string;
  range: string;
  unit: string;
}

/** Expected value, range (empty where there is none) and unit of a figure. */
export function shown(figure: Span & { unit: string }, settings: Settings): Shown {
  const { name, si } = unitOf(figure.unit, settings);
  const written = (part: number) => (name === "rad" ? part.toFixed(2) : digits(part / si));
  const [low, value, high] = [figure.low, figure.expected, figure.high].map(written) as [string, string, string];
  return { value, range: low === high ? "" : span(low, high), unit: name };
}

/** "1.4 kN (1.3 to 1.7)", or without the range where there is none. */
export function said(figure: Figure | (Span & { unit: string }), settings: Settings): string {
  const { value, range, unit } = shown(figure, settings);
  return `${value}${unit ? ` ${unit}` : ""}${range ? ` (${range})` : ""}`;
}

/** "1.3 to 1.7 kN". */
export function spanned(figure: Span & { unit: string }, settings: Settings): string {
  const { value, range, unit } = shown(figure, settings);
  return `${range || value}${unit ? ` ${unit}` : ""}`;
}

export function upperFirst(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1);
}

export function degrees(radians: number): string {
  return `${Math.round((radians * 180) / Math.PI)}°`;
}

export function clock(time: string): string {
  return new Date(time).toLocaleTimeString([], { hour: "2-digit", minute: "2-digit", hour12: false });
}

export function day(time: string): string {
  return new Date(time).toLocaleDateString([], { day: "numeric", month: "short", year: "numeric" });
}

/** Words in which a figure and its unit stay on one line. */
export function unbroken(text: string): string {
  return text.replace(/(\d) (?=(?:m|kN|kgf|lbf|ft)\b)/g, "$1\u00a0");
}

/** Milliseconds as minutes, or hours and minutes. */
export function minutes(ms: number): string {
  const all = Math.max(0, Math.round(ms / 60000));
  return all < 60 ? `${all} min` : `${Math.floor(all / 60)} h ${all % 60} min`;
}
