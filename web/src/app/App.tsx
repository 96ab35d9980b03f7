import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { Tooltip } from "radix-ui";
import { createBrowserRouter, Navigate, RouterProvider, useRouteError } from "react-router";
import { Problem } from "../api/client";
import { useSession } from "../api/session";
import { useStudies } from "../api/studies";
import { CompareStage } from "../stages/compare/CompareStage";
import { GridStage } from "../stages/intake/grid/GridStage";
import { IntakeStage } from "../stages/intake/IntakeStage";
import { RearrangeStage } from "../stages/intake/rearrange/RearrangeStage";
import { VariablesStage } from "../stages/intake/variables/VariablesStage";
import { OfTable } from "../stages/OfTable";
import { RelateStage } from "../stages/relate/RelateStage";
import { RescaleStage } from "../stages/rescale/RescaleStage";
import { BeginStudy } from "../stages/StudyWord";
import { ScreenStage } from "../stages/screen/ScreenStage";
import { LineUpStage } from "../stages/spread/LineUpStage";
import { OverviewStage } from "../stages/spread/OverviewStage";
import { SpreadStage } from "../stages/spread/SpreadStage";
import { Notice } from "../ui/Notice";
import { Ended, Look } from "./Look";
import { Reference } from "./Reference";
import { Shell } from "./Shell";
import { Welcome } from "./Welcome";

const queries = new QueryClient({
  defaultOptions: {
    queries: {
      refetchOnWindowFocus: false,
      // A server that was asked in vain is asked again; one that said no is not.
      retry: (times, error) => times < 2 && error instanceof Problem && error.status === 0,
    },
  },
});

/** The front door leads to real shapes: the first table of the first study that has one. */
function FrontDoor() {
  const { data: studies } = useStudies();
  const { data: session } = useSession();
  if (!studies) return null;
  const table = studies.flatMap((study) => study.tables)[0];
  const study = studies[0];
  if (!study && session?.guest) return <Ended />;
  if (table) return <Navigate to={`/tables/${table.id}/spread`} replace />;
  return study ? (
    <Navigate to={`/studies/${study.id}/intake`} replace />
  ) : (
    <div className="m-auto w-80 p-8">
      <p className="mb-3 font-serif text-lead">You have no study yet. What will the first one be about?</p>
      <BeginStudy />
    </div>
  );
}

function Gate() {
  const { data: session, error } = useSession();
  if (error) return <Notice problem={error.message} className="m-8" />;
  if (!session) return null;
  return session.name === null ? <Welcome session={session} /> : <Shell session={session} />;
}

/** A screen that could not be drawn says so, and the way on; what was decided is kept on the server. */
function Broken() {
  const error = useRouteError();
  return (
    <Notice
      problem="This screen could not be drawn. What you decided is kept."
      remedy={error instanceof Error ? `Load the page again, or go back. (${error.message})` : "Load the page again."}
      className="m-8"
    >
      <a href="/" className="text-primary underline">
        To the first table
      </a>
    </Notice>
  );
}

/** Plates bring the tools of print along, so they come when they are asked for. */
const plates = (name: "GalleryStage" | "PlateStage") => async () => ({
  Component: (await import("../stages/plates/stages"))[name],
});

const record = async () => ({ Component: (await import("../stages/record/RecordStage")).RecordStage });

const router = createBrowserRouter([
  { path: "/look/:secret", element: <Look />, errorElement: <Broken /> },
  {
    path: "/",
    element: <Gate />,
    errorElement: <Broken />,
    children: [
      { index: true, element: <FrontDoor /> },
      {
        path: "tables/:tableId",
        element: <OfTable />,
        children: [
          { index: true, element: <Navigate to="spread" replace /> },
          { path: "spread", element: <SpreadStage /> },
          { path: "rescale", element: <RescaleStage /> },
          { path: "screen", element: <ScreenStage /> },
          { path: "compare", element: <CompareStage /> },
          { path: "relate", element: <RelateStage /> },
          { path: "overview", element: <OverviewStage /> },
          { path: "line-up", element: <LineUpStage /> },
          { path: "grid", element: <GridStage /> },
          { path: "variables", element: <VariablesStage /> },
          { path: "rearrange", element: <RearrangeStage /> },
        ],
      },
      { path: "studies/:studyId/intake", element: <IntakeStage /> },
      { path: "studies/:studyId/plates", lazy: plates("GalleryStage") },
      { path: "studies/:studyId/record", lazy: record },
      { path: "plates/:plateId", lazy: plates("PlateStage") },
      { path: "reference", element: <Reference /> },
      { path: "*", element: <Navigate to="/" replace /> },
    ],
  },
]);

export function App() {
  return (
    <QueryClientProvider client={queries}>
      <Tooltip.Provider>
        <RouterProvider router={router} />
      </Tooltip.Provider>
    </QueryClientProvider>
  );
}
