/**
 * A sentence of the core, each number in it opening its calculation; `still` where it stands on something pressed,
 * `of` the key of numbers that bring none of their own; `glossed` where terms of the glossary open too.
 */
import { Fragment, type ReactNode } from "react";
import type { Sentence } from "../api/types";
import { Calculated } from "./Calculated";
import { Glossed } from "./Glossed";

const NUMBER = /^[−+~<≥≤≈>]?\s?\d/;

interface Props {
  text: Sentence;
  still?: boolean;
  of?: string;
  glossed?: boolean;
}
export function Says({ text, still = false, of, glossed = false }: Props): ReactNode {
  const plain = (words: string) => (glossed ? <Glossed>{words}</Glossed> : words);
  if (!text.template || !text.parts)
    return of && /\d/.test(text.text) ? said(text.text, of, true) : plain(text.text);
  return text.template.split(/\{(\w+)\}/).map((piece, i) => {
    const part = i % 2 ? text.parts?.[piece] : undefined;
    if (!part) return <Fragment key={i}>{plain(piece)}</Fragment>;
    if (part.inside) return <Says key={i} text={part.inside} still={still} of={of} glossed={glossed} />;
    const key = part.key || of;
    if (!key || (!part.key && !NUMBER.test(part.text))) return <Fragment key={i}>{part.text}</Fragment>;
    return <Fragment key={i}>{said(part.text, key, still)}</Fragment>;
  });
}

const said = (words: string, key: string, still: boolean) =>
  still ? <span data-figure={key}>{words}</span> : <Calculated of={key}>{words}</Calculated>;
