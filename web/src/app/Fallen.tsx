import { Link, useRouteError } from "react-router";
import { words } from "../api/client";
import { terms } from "../terms/app";

/** Shown when an address leads nowhere or a view falls over. */
export function Fallen() {
  const error = useRouteError();
  return (
    <main className="plain-page">
      <h1>{error ? terms.thisViewFellOver : terms.nothingHere}</h1>
      <p>{error ? words(error) : terms.noViewHasThisAddress}</p>
      <Link to="/">{terms.toTheBoard}</Link>
    </main>
  );
}
