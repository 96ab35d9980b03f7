import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { Tooltip } from "radix-ui";
import type { ComponentType } from "react";
import { createBrowserRouter, Navigate, useNavigation, useRouteError } from "react-router";
import { RouterProvider } from "react-router/dom";
import { isAway } from "../api/client";
import { useSession } from "../api/session";
import { useStudies } from "../api/studies";
import { BeginStudy } from "../stages/StudyWord";
import { SpreadStage } from "../stages/spread/SpreadStage";
import { TableRoute } from "../stages/TableRoute";
import { useLastLooked } from "../state/lastLooked";
import { usePreferences } from "../state/preferences";
import { Notice } from "../ui/Notice";
import { AwayNotice } from "./AwayNotice";
import { Ended, Look } from "./Look";
import { SetAnew } from "./NewPassword";
import { Shell } from "./Shell";
import { lastOpen } from "./usePlace";
import { Welcome } from "./Welcome";

const queries = new QueryClient({
  defaultOptions: {
    queries: {
      refetchOnWindowFocus: false,
      // Where nobody is there to answer it is asked again, by many not all at once; a refusal stands.
      retry: (_times, error) => isAway(error),
      retryDelay: () => 1_500 + 1_500 * Math.random(),
    },
  },
});

/** The front door leads to real shapes: the table last looked at, or the first one, of the study last open. */
function FrontDoor() {
  const last = usePreferences((state) => state.study);
  const tables = useLastLooked((state) => state.tables);
  const { data: studies } = useStudies();
  const { data: session } = useSession();
  // Somebody who chose another way meanwhile goes there.
  const leaving = useNavigation().state !== "idle";
  if (!studies || leaving) return null;
  const study = lastOpen(studies, last);
  const own = study?.tables ?? [];
  const table = own.find(({ id }) => study && id === tables[study.id]) ?? own[0];
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

/** Where an invitation leads: an account is made by it. */
function Joining() {
  const { data: session } = useSession();
  if (!session) return null;
  return session.name === null || session.is_demo || session.guest ? (
    <Welcome session={session} />
  ) : (
    <Navigate to="/" replace />
  );
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

/** A screen whose code comes when it is asked for: the first view waits for its own alone. */
const later = (load: () => Promise<ComponentType>) => async () => ({ Component: await load() });

const compare = later(async () => (await import("../stages/compare/CompareStage")).CompareStage);
const grid = later(async () => (await import("../stages/intake/grid/GridStage")).GridStage);
const intake = later(async () => (await import("../stages/intake/IntakeStage")).IntakeStage);
const lineUp = later(async () => (await import("../stages/spread/LineUpStage")).LineUpStage);
const overview = later(async () => (await import("../stages/spread/OverviewStage")).OverviewStage);
const rearrange = later(async () => (await import("../stages/intake/rearrange/RearrangeStage")).RearrangeStage);
const relate = later(async () => (await import("../stages/relate/RelateStage")).RelateStage);
const rescale = later(async () => (await import("../stages/rescale/RescaleStage")).RescaleStage);
const screen = later(async () => (await import("../stages/screen/ScreenStage")).ScreenStage);
const variables = later(async () => (await import("../stages/intake/variables/VariablesStage")).VariablesStage);
const gallery = later(async () => (await import("../stages/plates/stages")).GalleryStage);
const plate = later(async () => (await import("../stages/plates/stages")).PlateStage);
const tablePlate = later(async () => (await import("../stages/tables/TablePlateStage")).TablePlateStage);
const report = later(async () => (await import("../stages/reports/ReportStage")).ReportStage);
const record = later(async () => (await import("../stages/record/RecordStage")).RecordStage);
const account = later(async () => (await import("../stages/account/AccountStage")).AccountStage);
const people = later(async () => (await import("../stages/operating/PeopleStage")).PeopleStage);
const help = later(async () => (await import("../help/HelpStage")).HelpStage);
const reference = later(async () => (await import("./Reference")).Reference);

const router = createBrowserRouter([
  { path: "/look/:secret", element: <Look />, errorElement: <Broken /> },
  { path: "/join/:invitation", element: <Joining />, errorElement: <Broken /> },
  { path: "/reset/:person/:token", element: <SetAnew />, errorElement: <Broken /> },
  {
    path: "/",
    element: <Gate />,
    errorElement: <Broken />,
    // Nothing stands in the place of a screen while its code comes.
    hydrateFallbackElement: <></>,
    children: [
      { index: true, element: <FrontDoor /> },
      {
        path: "tables/:tableId",
        element: <TableRoute />,
        children: [
          { index: true, element: <Navigate to="spread" replace /> },
          { path: "spread", element: <SpreadStage /> },
          { path: "rescale", lazy: rescale },
          { path: "screen", lazy: screen },
          { path: "compare", lazy: compare },
          { path: "relate", lazy: relate },
          { path: "overview", lazy: overview },
          { path: "line-up", lazy: lineUp },
          { path: "grid", lazy: grid },
          { path: "variables", lazy: variables },
          { path: "rearrange", lazy: rearrange },
        ],
      },
      { path: "studies/:studyId/intake", lazy: intake },
      { path: "studies/:studyId/plates", lazy: gallery },
      { path: "studies/:studyId/record", lazy: record },
      { path: "plates/:plateId", lazy: plate },
      { path: "table-plates/:tablePlateId", lazy: tablePlate },
      { path: "reports/:reportId", lazy: report },
      { path: "account", lazy: account },
      { path: "people", lazy: people },
      { path: "help", lazy: help },
      { path: "help/:page", lazy: help },
      { path: "reference", lazy: reference },
      { path: "*", element: <Navigate to="/" replace /> },
    ],
  },
]);

export function App() {
  return (
    <QueryClientProvider client={queries}>
      <Tooltip.Provider>
        <RouterProvider router={router} />
        <AwayNotice />
      </Tooltip.Provider>
    </QueryClientProvider>
  );
}
