/** What was typed in this browser on other data and never reached them: written down as a file, or let go. */
import { Button } from "antd";
import { useState } from "react";
import { discard, type Left, leftBehind, parsed } from "../kept/keeping";
import { saveFile } from "../kit/saveFile";

const KINDS: readonly (readonly [RegExp, (of: string) => string])[] = [
  [/^unsaved\.(.+)$/, (of) => `changes of the rig ${of}`],
  [/^ticks\.(.+?)(\.refused)?$/, (of) => `ticks of the cards of ${of}`],
  [/^marks/, () => "marks of a running night"],
  [/^typed-night\.(.+)$/, () => "changes of a session"],
  [/^typed-night$/, () => "a night that was typed and not kept"],
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
    <section data-testid="left-behind" aria-label="Typed on other data">
      <h2>Typed on other data</h2>
      <p className="quiet">
        In this browser, on data that are not open now, and never delivered. When those are open again it is
        taken up where it was left.
      </p>
      <ul className="plain-list">
        {left.map((one) => (
          <li key={`${one.data} ${one.name}`}>
            {kindOf(one.name)}{" "}
            <Button size="small" onClick={() => write(one)}>
              Write it to a file
            </Button>{" "}
            <Button size="small" onClick={() => leave(one)}>
              Let it go
            </Button>
          </li>
        ))}
      </ul>
    </section>
  );
}
