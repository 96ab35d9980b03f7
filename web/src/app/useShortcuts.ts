import { useEffect } from "react";
import { useLocation, useNavigate } from "react-router";
import { useRedo, useUndo } from "../api/ledger";
import { useKeep } from "../stages/plates/useKeep";
import { swapped } from "../stages/relate/useRelateChoices";
import { useLedgerPanel } from "../state/ledgerPanel";
import { usePreferences } from "../state/preferences";
import { useSelection } from "../state/selection";
import { useSentence } from "../state/sentence";
import { keptChoices, searchOf } from "./keptChoices";
import { stageAddresses } from "./stageAddresses";
import type { Place } from "./usePlace";

export const SHORTCUTS = [
  ["1 to 7", "Intake, Spread, Rescale, Screen, Compare, Relate, Plates"],
  ["/", "type the sentence"],
  ["[ and ]", "previous, next variable"],
  ["Ctrl K", "find or do"],
  ["G", "the rows of the table"],
  ["V", "what its variables are"],
  ["L", "the Ledger"],
  ["P", "keep the picture as a plate"],
  ["X", "set aside the selected rows"],
  ["Y", "x and y change places, in Relate"],
  ["Ctrl Z", "take back the last decision"],
  ["Ctrl Shift Z", "make it again"],
  ["Esc", "clear the selection"],
] as const;

const isTyping = (target: EventTarget | null) =>
  target instanceof HTMLElement && (target.isContentEditable || /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName));

/** The shortcuts of the whole application; single keys rest while a field has focus, and can be switched off. */
export function useShortcuts(place: Place) {
  const navigate = useNavigate();
  const { pathname, search } = useLocation();
  const singleKeys = usePreferences((state) => state.singleKeys);
  const setTyping = useSentence((state) => state.setTyping);
  const clear = useSelection((state) => state.clear);
  const panel = useLedgerPanel();
  const keep = useKeep();
  const { mutate: undo } = useUndo(place.table);
  const { mutate: redo } = useRedo(place.table);
  useEffect(() => {
    const onKeyDown = (event: KeyboardEvent) => {
      if (event.defaultPrevented || isTyping(event.target)) return;
      if (event.key === "Escape") {
        if (panel.open) panel.setOpen(false);
        else clear();
      }
      if (event.key.toLowerCase() === "z" && (event.ctrlKey || event.metaKey)) {
        event.preventDefault();
        panel.setOpen(true);
        if (event.shiftKey) redo();
        else undo();
        return;
      }
      if (!singleKeys || event.ctrlKey || event.metaKey || event.altKey) return;
      const stage = stageAddresses(place)[Number(event.key) - 1];
      if (stage) navigate(stage.to);
      else if (event.key === "/") setTyping(true);
      else if (event.key === "l") panel.setOpen(!panel.open);
      else if (event.key === "g" && place.at) navigate(`/tables/${place.at}/grid`);
      else if (event.key === "v" && place.at) navigate(`/tables/${place.at}/variables`);
      else if (event.key === "p") keep();
      else if (event.key === "x") panel.setAsking(true);
      else if (event.key === "y" && place.stage === "relate")
        navigate(`${pathname}?${swapped(new URLSearchParams(search))}`);
      else if (event.key === "[" || event.key === "]") {
        const symbols = place.table?.variables.map(({ symbol }) => symbol) ?? [];
        const next = symbols[symbols.indexOf(place.variable ?? "") + (event.key === "]" ? 1 : -1)];
        if (next && place.table)
          navigate(
            `/tables/${place.table.id}/${place.stage}?${keptChoices(searchOf(place, pathname, search), place.stage, next)}`,
          );
      } else return;
      event.preventDefault();
    };
    window.addEventListener("keydown", onKeyDown);
    return () => window.removeEventListener("keydown", onKeyDown);
  }, [place, pathname, search, navigate, singleKeys, setTyping, clear, panel, keep, undo, redo]);
}
