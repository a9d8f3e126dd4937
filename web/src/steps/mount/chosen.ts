/** What of the load is chosen, in the picture or in the list. */
export type ChosenLoad = { what: "tube" } | { what: "rider" | "weight"; index: number };

export const isChosen = (chosen: ChosenLoad | null, what: ChosenLoad["what"], index?: number): boolean =>
  chosen?.what === what && (chosen.what === "tube" || chosen.index === index);
