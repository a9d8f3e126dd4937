/** Small words that many places share: kinds, sizes, days, counts. */

import type { Target } from "../api/types";
import { terms } from "../terms/kit";
import { fixed } from "./quantity";

const KIND_WORDS: Record<string, string> = { supernova_remnant: "remnant", mixed: terms.clusterNebula };

export function kindWords(kind: string | undefined): string {
  return KIND_WORDS[kind ?? "other"] ?? (kind ?? "other").replace("_", " ");
}

/** What a target is: a moon and a planet are no kind of light. */
export function whatIs(target: Target): string {
  if (target.body) return target.body === "Moon" ? "moon" : "planet";
  return kindWords(target.kind);
}

const KIND_NAME = / (Nebula|Galaxy|Globular Cluster|Open Cluster|Cluster)$/;

/** What people call it, beside its number: "North America" of NGC 7000; nothing where nobody calls it anything. */
export function commonName(target: Target): string {
  const names = (target.aliases ?? []).filter((alias) => /^[A-Z]\D*[a-z]{3}\D*$/.test(alias));
  return (names.find((alias) => KIND_NAME.test(alias)) ?? names[0] ?? "").replace(KIND_NAME, "");
}

/** "North America, emission, 2.0°" */
export function inWords(target: Target): string {
  return [commonName(target), whatIs(target), targetSize(target)].filter(Boolean).join(", ");
}

/** "25 Nov" */
export function dayWords(day: string): string {
  return new Date(`${day}T12:00:00Z`).toLocaleDateString("en-GB", {
    day: "numeric",
    month: "short",
    timeZone: "UTC",
  });
}

/** "2 breaks", "1 strain", or nothing for none. */
export function counted(count: number, word: string): string {
  return count === 0 ? "" : `${count} ${word}${count === 1 ? "" : "s"}`;
}

export function sizeWords(arcmin: number): string {
  if (arcmin < 2) return `${fixed(arcmin * 60, arcmin < 0.17 ? 1 : 0)}″`;
  return arcmin >= 60 ? `${fixed(arcmin / 60, 1)}°` : `${fixed(arcmin, 0)}′`;
}

/** A target's size, told as roughly so where lists disagree. */
export function targetSize(target: Target): string {
  if (target.major_arcmin == null) return "";
  return `${target.size_doubtful ? "≈ " : ""}${sizeWords(target.major_arcmin)}`;
}
