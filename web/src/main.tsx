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
import { Shell } from "./app/Shell";
import { Board } from "./board/Board";
import { Calculations } from "./kit/Calculated";
import { ThemeProvider } from "./theme/ThemeProvider";
import { applyTones } from "./theme/themes";

// Only the Board is in the first load; every other view comes when it is opened.
const RigPage = lazy(() => import("./rig/RigPage"));
const Shelf = lazy(() => import("./shelf/Shelf"));
const Sky = lazy(() => import("./sky/Sky"));
const Practice = lazy(() => import("./practice/Practice"));
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
      { path: "/rigs/:rigId/:step", element: <RigPage /> },
      { path: "/begin", element: <Begin /> },
      { path: "/tonight", element: <Tonight /> },
      { path: "/log", element: <Log /> },
      { path: "/keep", element: <Keep /> },
      { path: "/shelf", element: <Shelf /> },
      { path: "/sky", element: <Sky /> },
      { path: "/compare", element: <Compare /> },
      { path: "/stages", element: <Stages /> },
      { path: "/practice", element: <Practice /> },
      { path: "/rules", element: <RuleBook /> },
      { path: "/rules/:code", element: <RuleBook /> },
      { path: "/guide", element: <Guide /> },
      { path: "/guide/:page", element: <Guide /> },
      { path: "/about", element: <About /> },
      { path: "*", element: <Fallen /> },
    ],
  },
  {
    path: "/field",
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
