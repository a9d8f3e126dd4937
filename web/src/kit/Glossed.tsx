/** A text whose terms of the glossary open where they stand. */
import { Popover } from "antd";
import { Fragment, type ReactNode } from "react";
import { Link } from "react-router";
import { piecesOf } from "../guide/glossary";
import { terms } from "../terms/help";

export function Glossed({ children }: { children: string }): ReactNode {
  return piecesOf(children).map(({ words, meaning }, i) =>
    meaning === undefined ? (
      <Fragment key={i}>{words}</Fragment>
    ) : (
      <Popover
        key={i}
        trigger="click"
        destroyOnHidden
        title={words}
        content={
          <div className="meaning" data-testid="meaning">
            <p>{meaning}</p>
            <Link to="/guide/glossary">{terms.glossary}</Link>
          </div>
        }
      >
        <button type="button" className="term" data-term={words.toLowerCase()}>
          {words}
        </button>
      </Popover>
    ),
  );
}
