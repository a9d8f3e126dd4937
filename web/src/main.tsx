import { terms as common } from "./terms/common";
import "@fontsource-variable/atkinson-hyperlegible-next";
import "./theme/base.css";
import "./kit/shared.module.css";
import "./kit/drawing.module.css";
import { QueryClientProvider } from "@tanstack/react-query";
import { lazy, StrictMode, Suspense } from "react";
import { createRoot } from "react-dom/client";
import { createBrowserRouter, RouterProvider } from "react-router";
import { queries } from "./api/client";
import { DataServed } from "./app/DataServed";
import { Fallen } from "./app/Fallen";
import { Gate } from "./app/Gate";
import { MOVED_PLACES, MOVED_STEPS, Moved, MovedStep } from "./app/places";
import { Shell } from "./app/Shell";
import { Board } from "./board/Board";
import { Calculations } from "./kit/Calculated";
import { ThemeProvider } from "./theme/ThemeProvider";
import { applyTones } from "./theme/themes";

// Only the Board is in the first load; every other view comes when it is opened.
const RigPage = lazy(() => import("./rig/RigPage"));
const Shelf = lazy(() => import("./shelf/Shelf"));
const Sky = lazy(() => import("./sky/Sky"));
const Preferences = lazy(() => import("./preferences/Preferences"));
const RuleBook = lazy(() => import("./rulebook/RuleBook"));
const Compare = lazy(() => import("./growth/Compare"));
const Stages = lazy(() => import("./growth/Stages"));
const Begin = lazy(() => import("./begin/Begin"));
const Tonight = lazy(() => import("./tonight/Tonight"));
const Log = lazy(() => import("./log/Log"));
const Keep = lazy(() => import("./keep/Keep"));
const Field = lazy(() => import("./field/Field"));
const Guide = lazy(() => import("./guide/Guide"));
const About = lazy(() => import("./app/About"));

applyTones("dark");
const router = createBrowserRouter([
  {
    element: <Shell />,
    errorElement: <Fallen />,
    children: [
      { path: "/", element: <Board /> },
      { path: "/rigs/:rigId", element: <RigPage /> },
      ...Object.keys(MOVED_STEPS).map((step) => ({
        path: `/rigs/:rigId/${step}`,
        element: <MovedStep step={step} />,
      })),
      { path: "/rigs/:rigId/:step", element: <RigPage /> },
      { path: "/rig-finder", element: <Begin /> },
      { path: "/tonight", element: <Tonight /> },
      { path: "/log", element: <Log /> },
      { path: "/backups", element: <Keep /> },
      { path: "/parts", element: <Shelf /> },
      { path: "/sky", element: <Sky /> },
      { path: "/compare", element: <Compare /> },
      { path: "/upgrade-path", element: <Stages /> },
      { path: "/preferences", element: <Preferences /> },
      { path: "/rules", element: <RuleBook /> },
      { path: "/rules/:code", element: <RuleBook /> },
      { path: "/guiding", element: <Guide /> },
      { path: "/guide/:page", element: <Guide /> },
      { path: "/about", element: <About /> },
      ...Object.entries(MOVED_PLACES).map(([from, to]) => ({ path: from, element: <Moved to={to} /> })),
      { path: "*", element: <Fallen /> },
    ],
  },
  {
    path: "/phone",
    errorElement: <Fallen />,
    element: (
      <Suspense fallback={<p className="loading">{common.opening}</p>}>
        <Calculations>
          <Field />
        </Calculations>
      </Suspense>
    ),
  },
]);

const root = document.getElementById("root");
if (root) {
  createRoot(root).render(
    <StrictMode>
      <QueryClientProvider client={queries}>
        <ThemeProvider>
          <Gate>
            <DataServed>
              <RouterProvider router={router} />
            </DataServed>
          </Gate>
        </ThemeProvider>
      </QueryClientProvider>
    </StrictMode>,
  );
}
