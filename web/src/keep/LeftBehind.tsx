/** What was typed in this browser on other data and never reached them: written down as a file, or let go. */
import { Button } from "antd";
import { useState } from "react";
import { discard, type Left, leftBehind, parsed } from "../kept/keeping";
import { saveFile } from "../kit/saveFile";
import { terms as common } from "../terms/common";
import { terms } from "../terms/keep";
import { phrase } from "../terms/phrase";

const KINDS: readonly (readonly [RegExp, (of: string) => string])[] = [
  [/^unsaved\.(.+)$/, (of) => phrase(terms.rigOfofUnsavedChanges, { ofOf: of })],
  [/^ticks\.(.+?)(\.refused)?$/, (of) => phrase(terms.rigOfofBuildCardTicks, { ofOf: of })],
  [/^marks/, () => terms.runningNightMarks],
  [/^typed-night\.(.+)$/, () => terms.sessionUnsavedChanges],
  [/^typed-night$/, () => terms.sessionNotSaved],
];

function kindOf(name: string): string {
  for (const [pattern, words] of KINDS) {
    const match = pattern.exec(name);
    if (match) return words(match[1] ?? "");
  }
  return name;
}

export function LeftBehind() {
  const [left, setLeft] = useState(leftBehind);
  if (left.length === 0) return null;
  const write = (one: Left) =>
    saveFile(
      new Blob([JSON.stringify(parsed<unknown>(one.text), null, 1)], { type: "application/json" }),
      `${one.name}.json`,
    );
  const leave = (one: Left) => {
    discard(one);
    setLeft(leftBehind());
  };
  return (
    <section data-testid="left-behind" aria-label={terms.unsavedInputForOtherData}>
      <h2>{terms.unsavedInputForOtherData}</h2>
      <p className="quiet">{terms.keptInThisBrowserItReturns}</p>
      <ul className="plain-list">
        {left.map((one) => (
          <li key={`${one.data} ${one.name}`}>
            {kindOf(one.name)}{" "}
            <Button size="small" data-testid="download" onClick={() => write(one)}>
              {terms.download}
            </Button>{" "}
            <Button size="small" data-testid="discard" onClick={() => leave(one)}>
              {common.discard}
            </Button>
          </li>
        ))}
      </ul>
    </section>
  );
}
