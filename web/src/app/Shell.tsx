import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef } from "react";
import { Outlet, useLocation } from "react-router";
import type { Session } from "../api/session";
import { AboutCard } from "../help/AboutCard";
import { usePreferences } from "../state/preferences";
import { CardHelp } from "../ui/cardHelp";
import type { NumberStyle } from "../words/numbers";
import { Band } from "./Band";
import { KeptNotice } from "./KeptNotice";
import { LedgerPanel } from "./LedgerPanel";
import { Meanings } from "./Meanings";
import { OthersNotice } from "./OthersNotice";
import { PasswordAgain } from "./PasswordAgain";
import { PastNotice } from "./PastNotice";
import { PlateList } from "./PlateList";
import { RowStrip } from "./RowStrip";
import { useKeptFocus } from "./useKeptFocus";
import { useListedOfPerson } from "./useListedOfPerson";
import { usePlace } from "./usePlace";
import { useShortcuts } from "./useShortcuts";
import { VariableList } from "./VariableList";

/** The focus goes where the work goes on: to the stage that was changed to, unless it is in it already. */
function useFocusOnStage() {
  const { pathname } = useLocation();
  const before = useRef(pathname);
  useEffect(() => {
    if (before.current === pathname) return;
    before.current = pathname;
    const soon = setTimeout(() => {
      const stage = document.querySelector<HTMLElement>("#stage");
      const at = document.activeElement;
      if (!stage?.contains(at) && !at?.closest("[role=dialog]")) stage?.focus({ preventScroll: true });
    });
    return () => clearTimeout(soon);
  }, [pathname]);
}

/** How numbers are written; where that changes, what the server said is asked for again, and drawn anew. */
function useNumbersToldAgain(): NumberStyle {
  const queries = useQueryClient();
  const numbers = usePreferences((state) => state.numbers);
  const before = useRef(numbers);
  useEffect(() => {
    if (before.current === numbers) return;
    before.current = numbers;
    queries.invalidateQueries();
  }, [numbers, queries]);
  return numbers;
}

export function Shell({ session }: { session: Session }) {
  const place = usePlace();
  useShortcuts(place);
  useListedOfPerson(session);
  const about = useCallback(
    (help: string | undefined, title: string) => (
      <AboutCard slug={help ?? place.page} title={title} table={place.table} variable={place.variable} />
    ),
    [place.page, place.table, place.variable],
  );
  useFocusOnStage();
  useKeptFocus();
  const numbers = useNumbersToldAgain();
  return (
    <CardHelp.Provider value={about}>
      <div className="grid h-full grid-cols-[232px_minmax(0,1fr)] grid-rows-[52px_minmax(0,1fr)_auto] max-[760px]:grid-cols-[minmax(0,1fr)] max-[760px]:grid-rows-[auto_auto_minmax(0,1fr)_auto]">
        <a href="#stage" className="sr-only focus:not-sr-only focus:absolute focus:z-50 focus:bg-raised focus:p-2">
          To the stage
        </a>
        <Band session={session} place={place} />
        {place.onPlates ? <PlateList place={place} /> : <VariableList place={place} />}
        <main
          id="stage"
          tabIndex={-1}
          className="flex min-h-0 flex-col overflow-auto outline-none [&>:last-child]:min-h-0 [&>:last-child]:flex-1"
        >
          {place.table && <PastNotice table={place.table} />}
          <Outlet key={numbers} />
        </main>
        {place.table && !place.onPlates && <RowStrip table={place.table} variable={place.variable} />}
        {place.table && <LedgerPanel table={place.table} study={place.study?.id} />}
        <Meanings />
        <PasswordAgain />
        <KeptNotice />
        {place.table && <OthersNotice key={place.table.id} table={place.table} me={session.name} />}
      </div>
    </CardHelp.Provider>
  );
}
