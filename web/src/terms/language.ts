/** The words of a place in the language that the page was served in; English where nothing else is known. */

/** English words to those of another language, by place. */
type Catalogue = Record<string, Record<string, string>>;

const served: Catalogue = fromPage();

/** What the page was served with, where it was served in another language. */
function fromPage(): Catalogue {
  const given = typeof document === "undefined" ? null : document.getElementById("language");
  return given?.textContent ? JSON.parse(given.textContent) : {};
}

/** The terms of a place. */
export function inLanguage<T extends Record<string, string>>(
  place: string,
  english: T,
  catalogue = served,
): T {
  const said = catalogue[place];
  if (!said) return english;
  return Object.fromEntries(
    Object.entries(english).map(([term, words]) => [term, said[words] ?? words]),
  ) as T;
}
