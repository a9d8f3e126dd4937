import { useIsMutating } from "@tanstack/react-query";
import { lazy, Suspense, useState } from "react";
import { NavLink, Outlet, useLocation } from "react-router";
import { useStayWhile } from "../api/useStayWhile";
import { helpOf } from "../guide/placeOf";
import { KeptNotices } from "../kept/KeptNotices";
import { Calculations } from "../kit/Calculated";
import { terms } from "../terms/app";
import { terms as common } from "../terms/common";
import { useTheme } from "../theme/ThemeProvider";
import type { ThemeName } from "../theme/themes";
import { type Told, useKeys } from "./keys";
import { NightOfAll } from "./NightChoice";
import { NightProvider } from "./night";
import "./app.module.css";

// Opened by a key now and then: fetched then.
const FindAll = lazy(() => import("./FindAll").then(({ FindAll }) => ({ default: FindAll })));
const KeysHelp = lazy(() => import("./KeysHelp").then(({ KeysHelp }) => ({ default: KeysHelp })));
const PLACES = [
  ["/", terms.board],
  ["/rig-finder", common.begin],
  ["/tonight", common.tonight2],
  ["/log", common.log],
  ["/parts", terms.parts],
  ["/sky", terms.sky],
  ["/compare", common.compare],
  ["/upgrade-path", terms.upgradePath],
  ["/preferences", terms.preferences],
  ["/rules", common.ruleBook],
] as const;
const MOVING: readonly Told[] = [
  ["Tab", terms.theNextControlOrHandle],
  [terms.arrowsOnAHandle, terms.moveItTheWayTheyPoint],
];
const NEXT: Record<ThemeName, ThemeName> = { dark: "light", light: "dark", red: "dark" };

/** Top bar and the view under it. */
export function Shell() {
  return (
    <NightProvider>
      <Calculations>
        <Places />
      </Calculations>
    </NightProvider>
  );
}

function Places() {
  const saves = useIsMutating();
  useStayWhile(() => saves > 0);
  const { name, set, toggleRed } = useTheme();
  const [help, setHelp] = useState(false);
  const [finding, setFinding] = useState(false);
  const [open, setOpen] = useState(false); // the places, on a phone
  const where = useLocation();
  useKeys(
    terms.everywhere,
    [
      { key: "?", does: terms.thisList, run: () => setHelp(true) },
      { key: "/", does: terms.findAnything, run: () => setFinding(true) },
      { key: "f", does: terms.redLightOnAndOff, run: toggleRed },
    ],
    MOVING,
  );
  return (
    <div className="shell">
      <a className="skip" href="#view">
        {terms.skipToTheView}
      </a>
      <header className="top-bar">
        <NavLink to="/" className="brand" aria-label={terms.dravelToTheBoard}>
          <svg viewBox="0 0 40 24" width="40" height="24" aria-hidden="true">
            <path d="M10 2c5 6 5 14 0 20c-4-6-4-14 0-20z" fill="none" stroke="var(--brass)" strokeWidth="2" />
            <path d="M2 5h8L36 12 10 19H2" fill="none" stroke="var(--brass)" strokeWidth="1.1" />
            <circle cx="36" cy="12" r="2.2" fill="var(--chalk)" />
          </svg>
          {terms.dravel}
        </NavLink>
        <nav aria-label={terms.places} className={open ? "open" : undefined}>
          {PLACES.map(([path, title]) => (
            <NavLink
              key={path}
              to={path}
              end={path === "/"}
              onClick={() => setOpen(false)}
              className={path === "/" && where.pathname.startsWith("/rigs") ? "within" : undefined}
            >
              {title}
            </NavLink>
          ))}
        </nav>
        <NightOfAll />
        <div className="top-tools">
          <button type="button" className="places" aria-expanded={open} onClick={() => setOpen(!open)}>
            {open ? common.close : terms.places}
          </button>
          <button
            type="button"
            aria-label={terms.findAnything}
            title={terms.findAnythingKey}
            onClick={() => setFinding(true)}
          >
            {terms.find}
          </button>
          <NavLink to={helpOf(where.pathname)} title={terms.helpForThisPage} data-testid="help">
            {terms.help}
          </NavLink>
          {name !== "red" && (
            <button type="button" onClick={() => set(NEXT[name])}>
              {name === "dark" ? terms.daylight : terms.evening}
            </button>
          )}
          <button type="button" className="red-switch" aria-pressed={name === "red"} onClick={toggleRed}>
            {name === "red" ? terms.leaveRedLight : terms.redLight}
          </button>
          <button type="button" aria-label={terms.keysOfThisPage} onClick={() => setHelp(true)}>
            ?
          </button>
        </div>
      </header>
      <div id="view" className="view">
        <KeptNotices />
        <Suspense fallback={<p className="loading">{common.opening}</p>}>
          <Outlet />
        </Suspense>
      </div>
      <Suspense fallback={null}>
        {finding && <FindAll close={() => setFinding(false)} />}
        {help && <KeysHelp close={() => setHelp(false)} />}
      </Suspense>
    </div>
  );
}
