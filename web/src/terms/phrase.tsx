/** Sentences with places in braces, filled in where they are shown: the words stand in the terms, the values here. */
import { Fragment, type ReactNode } from "react";

type Filled = string | number | null | undefined | false;

const PLACE = /\{(\w+)\}/;

/** A term with its places filled by words; what is nothing leaves its place empty. */
export const phrase = (of: string, given: Record<string, Filled>): string =>
  of.replace(new RegExp(PLACE, "g"), (_, name: string) =>
    String(given[name] || given[name] === 0 ? given[name] : ""),
  );

/** The same with anything drawn in the places. */
export function Phrase({ of, with: given }: { of: string; with: Record<string, ReactNode> }) {
  return of.split(PLACE).map((piece, i) => <Fragment key={i}>{i % 2 ? given[piece] : piece}</Fragment>);
}
