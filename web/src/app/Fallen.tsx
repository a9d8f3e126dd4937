import { Link, useRouteError } from "react-router";
import { words } from "../api/client";

/** Shown when an address leads nowhere or a view falls over. */
export function Fallen() {
  const error = useRouteError();
  return (
    <main className="plain-page">
      <h1>{error ? "This view fell over" : "Nothing here"}</h1>
      <p>{error ? words(error) : "No view has this address."}</p>
      <Link to="/">To the Board</Link>
    </main>
  );
}
