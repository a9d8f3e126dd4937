/** What was typed in this browser on other data and never reached them: written down as a file, or let go. */
import { Button } from "antd";
import { useState } from "react";
import { discard, type Left, leftBehind, parsed } from "../kept/keeping";
import { saveFile } from "../kit/saveFile";

const KINDS: readonly (readonly [RegExp, (of: string) => string])[] = [
  [/^unsaved\.(.+)$/, (of) => `Rig ${of}: unsaved changes`],
  [/^ticks\.(.+?)(\.refused)?$/, (of) => `Rig ${of}: build card ticks`],
  [/^marks/, () => "Running night: marks"],
  [/^typed-night\.(.+)$/, () => "Session: unsaved changes"],
  [/^typed-night$/, () => "Session: not saved"],
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
    <section data-testid="left-behind" aria-label="Unsaved input for other data">
      <h2>Unsaved input for other data</h2>
      <p className="quiet">
        Kept in this browser. It returns when the data it was entered for are open again.
      </p>
      <ul className="plain-list">
        {left.map((one) => (
          <li key={`${one.data} ${one.name}`}>
            {kindOf(one.name)}{" "}
            <Button size="small" data-testid="download" onClick={() => write(one)}>
              Download
            </Button>{" "}
            <Button size="small" data-testid="discard" onClick={() => leave(one)}>
              Discard
            </Button>
          </li>
        ))}
      </ul>
    </section>
  );
}
