/** The guide and the tutorials: the same Markdown as in `docs/`, carried with the application. */
const files = import.meta.glob<string>(["../../../docs/guide/*.md", "../../../docs/tutorials/*.md"], {
  query: "?raw",
  import: "default",
  eager: true,
});

export interface GuidePage {
  /** Its address under `/guide`. */
  name: string;
  title: string;
  tutorial: boolean;
  text: string;
}

export const PAGES: readonly GuidePage[] = Object.entries(files).map(([path, text]) => ({
  name: path.replace(/^.*\/|\.md$/g, ""),
  title: /^# (.+)$/m.exec(text)?.[1] ?? path,
  tutorial: path.includes("/tutorials/"),
  // Pictures stand on the pages themselves.
  text: text.replace(/^!\[.*\n/gm, ""),
}));

/** The order in which the guide is read: as the work goes. */
export const ORDER = [
  "start", "begin", "aim", "optics", "spacing", "mount", "guiding", "power", "exposure", "assembly", "night", "phone", "frames",
  "log", "shelf", "growth", "keep", "keys", "running", "faq", "glossary",
]; // biome-ignore format: one list

/** A link of the Markdown as an address of the application. */
export function addressOf(href: string): string {
  const [file = "", anchor] = href.split("#");
  if (/^https?:/.test(href)) return href;
  if (file === "") return href;
  const name = file.replace(/^.*\/|\.md$/g, "");
  if (name === "rules") return anchor ? `/rules/${anchor}` : "/rules";
  return PAGES.some((page) => page.name === name) ? `/guide/${name}${anchor ? `#${anchor}` : ""}` : "/guide";
}

/** Pages in which all words stand, those with the words in their title first. */
export function searched(words: string): GuidePage[] {
  const wanted = words.toLowerCase().split(/\s+/).filter(Boolean);
  const has = (text: string) => wanted.every((one) => text.toLowerCase().includes(one));
  const found = PAGES.filter((page) => has(`${page.title} ${page.text}`));
  return [...found.filter((page) => has(page.title)), ...found.filter((page) => !has(page.title))];
}
