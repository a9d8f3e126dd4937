/** A sentence of the core, each number in it opening its calculation; `still` where it stands on something pressed. */
import { Fragment, type ReactNode } from "react";
import type { Sentence } from "../api/types";
import { Calculated } from "./Calculated";

export function Says({ text, still = false }: { text: Sentence; still?: boolean }): ReactNode {
  if (!text.template || !text.parts) return text.text;
  return text.template.split(/\{(\w+)\}/).map((piece, i) => {
    const part = i % 2 ? text.parts?.[piece] : undefined;
    if (!part) return <Fragment key={i}>{piece}</Fragment>;
    if (part.inside) return <Says key={i} text={part.inside} still={still} />;
    if (!part.key) return <Fragment key={i}>{part.text}</Fragment>;
    if (still)
      return (
        <span key={i} data-figure={part.key}>
          {part.text}
        </span>
      );
    return (
      <Calculated key={i} of={part.key}>
        {part.text}
      </Calculated>
    );
  });
}
