/** The glossary as a list, read from its page of the guide. */
import page from "../../../docs/guide/glossary.md?raw";

const ROW = /^\| (?!term |---)(.+?) \| (.+?) \|$/gm;

/** What each term means, by the term in small letters; a row of several terms is there under each of them. */
export const MEANINGS: ReadonlyMap<string, string> = new Map(
  [...page.matchAll(ROW)].flatMap(([, terms = "", meaning = ""]) =>
    terms.split(", ").map((term): [string, string] => [term.replace(/ \(.*\)$/, "").toLowerCase(), meaning]),
  ),
);

const escaped = (term: string) => term.replace(/[.*+?^${}()|[\]\\/]/g, "\\$&");
const ANY = new RegExp(
  `(?<![\\p{L}\\d])(${[...MEANINGS.keys()]
    .sort((a, b) => b.length - a.length)
    .map(escaped)
    .join("|")})(s?)(?![\\p{L}\\d])`,
  "giu",
);

/** A text in pieces: what is plain, and each term where it stands for the first time. */
export function piecesOf(text: string): readonly { words: string; meaning?: string }[] {
  const pieces: { words: string; meaning?: string }[] = [];
  const met = new Set<string>();
  let from = 0;
  for (const found of text.matchAll(ANY)) {
    const term = (found[1] ?? "").toLowerCase();
    if (met.has(term)) continue;
    met.add(term);
    if (found.index > from) pieces.push({ words: text.slice(from, found.index) });
    pieces.push({ words: found[0], meaning: MEANINGS.get(term) ?? "" });
    from = found.index + found[0].length;
  }
  return from < text.length ? [...pieces, { words: text.slice(from) }] : pieces;
}
