/** The words of a place in the language that was loaded before the first view; English where nothing else is known. */

type Catalogue = Record<string, Record<string, string>>;

const catalogue: Catalogue = {};

/** Take other words over the English ones: by place and term. To be called before any view is loaded. */
export function speak(words: Catalogue) {
  Object.assign(catalogue, words);
}

/** The terms of a place. */
export const inLanguage = <T extends Record<string, string>>(place: string, english: T): T => ({
  ...english,
  ...catalogue[place],
});
