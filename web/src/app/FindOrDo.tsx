import { useEffect, useMemo, useState } from "react";
import { useNavigate } from "react-router";
import { LISTED } from "../api/choices.gen";
import { usePlates } from "../api/plates";
import { useReports } from "../api/reports";
import { useTablePlates } from "../api/tablePlates";
import { leadOn } from "../help/leads";
import { useKeep } from "../stages/plates/useKeep";
import { HANDED_ON } from "../stages/record/handedOn";
import { useMeanings } from "../state/meanings";
import { usePreferences } from "../state/preferences";
import { useSelection } from "../state/selection";
import { WordChoice } from "../ui/WordChoice";
import { about } from "../words/kinds";
import { counted, fixed, STYLE_NAMES } from "../words/numbers";
import { type Findable, found } from "./finding";
import { FUNCTIONS, studyFunctions } from "./functions";
import { openChoice } from "./openChoice";
import { stageAddresses } from "./stageAddresses";
import type { Place } from "./usePlace";

type Deed = Findable & { run: () => void };

/** Everything that can be found or done, by name: variables, tables, stages, the few deeds of the whole application. */
export function FindOrDo({ place }: { place: Place }) {
  const navigate = useNavigate();
  const setTheme = usePreferences((state) => state.setTheme);
  const setNumbers = usePreferences((state) => state.setNumbers);
  const { recent, done } = usePreferences();
  const clear = useSelection((state) => state.clear);
  const setMeanings = useMeanings((state) => state.setOpen);
  const { data: plates = [] } = usePlates(place.study?.id);
  const { data: numbers = [] } = useTablePlates(place.study?.id);
  const { data: reports = [] } = useReports(place.study?.id);
  const keep = useKeep();
  const [open, setOpen] = useState(false);
  useEffect(() => {
    const onKeyDown = (event: KeyboardEvent) => {
      if (event.key.toLowerCase() !== "k" || !(event.ctrlKey || event.metaKey)) return;
      event.preventDefault();
      setOpen((now) => !now);
    };
    window.addEventListener("keydown", onKeyDown);
    return () => window.removeEventListener("keydown", onKeyDown);
  }, []);
  const deeds = useMemo((): Deed[] => {
    const { table, studies } = place;
    const variables = (table?.variables ?? []).map((variable) => ({
      label: `Spread of ${variable.label}`,
      note: about(variable),
      run: () => navigate(`/tables/${table?.id}/spread?variable=${encodeURIComponent(variable.symbol)}`),
    }));
    const tables = studies.flatMap((study) =>
      study.tables.map((other) => ({
        label: `Table ${other.name}`,
        note: studies.length > 1 ? study.title : counted(other.n_rows, "row"),
        run: () => navigate(`/tables/${other.id}/spread`),
      })),
    );
    const others = studies
      .filter(({ id }) => id !== place.study?.id)
      .map(({ id, title }) => ({
        label: `Study ${title}`,
        note: "study",
        run: () => navigate(`/studies/${id}/intake`),
      }));
    const stages = stageAddresses(place).map(({ name, to }) => ({
      label: `Go to ${name}`,
      note: "stage",
      run: () => navigate(to),
    }));
    const functions = [
      ...FUNCTIONS.flatMap((one) => {
        const lead = leadOn(one.to, table, place.variable);
        return "to" in lead ? [{ ...one, to: lead.to }] : [];
      }),
      ...(place.study ? studyFunctions(place.study.id) : []),
    ].map(({ to, opens, ...one }) => ({
      ...one,
      run: () => {
        navigate(to);
        if (opens) openChoice(opens);
      },
    }));
    return [
      ...variables,
      ...tables,
      ...stages,
      ...others,
      ...plates.map(({ id, name }) => ({
        label: `Plate ${name}`,
        note: "plate",
        run: () => navigate(`/plates/${id}`),
      })),
      ...numbers.map(({ id, name }) => ({
        label: `Table plate ${name}`,
        note: "table",
        run: () => navigate(`/table-plates/${id}`),
      })),
      ...reports.map(({ id, name }) => ({
        label: `Report ${name}`,
        note: "report",
        run: () => navigate(`/reports/${id}`),
      })),
      ...(place.study
        ? [
            ...Object.entries(HANDED_ON).map(([as, label]) => ({
              label: `Share as ${label}`,
              note: place.study?.title ?? "",
              run: () => navigate(`/studies/${place.study?.id}/record?as=${as}`),
            })),
          ]
        : []),
      ...functions,
      ...Object.values(LISTED).map(({ label }) => ({
        label: `${label}: what it means`,
        note: "definition",
        run: () => setMeanings(true, label),
      })),
      { label: "Keep the picture as a plate", note: "P", words: "save figure export download", run: () => keep() },
      { label: "What each number means", note: "definitions and sources", run: () => setMeanings(true) },
      { label: "Clear the selection", note: "Esc", run: clear },
      ...STYLE_NAMES.map((style) => ({
        label: `Numbers as ${fixed(12_345.6, 1, style)}`,
        note: "on the screen",
        words: "decimal mark comma point thousands separator locale format digits",
        run: () => setNumbers(style),
      })),
      { label: "Light theme", note: "theme", run: () => setTheme("light") },
      { label: "Dark theme", note: "theme", run: () => setTheme("dark") },
    ];
  }, [place, plates, numbers, reports, keep, navigate, clear, setTheme, setNumbers, setMeanings]);
  const optionOf = (deed: Deed) => ({ value: String(deeds.indexOf(deed)), label: deed.label, note: deed.note });
  return (
    <WordChoice
      label="Find or do"
      shown="Find or do…  Ctrl K"
      value=""
      open={open}
      onOpenChange={setOpen}
      options={deeds.map(optionOf)}
      search={(typed) => found(deeds, typed, recent).map(optionOf)}
      onChoose={(at) => {
        const deed = deeds[Number(at)];
        if (!deed) return;
        done(deed.label);
        deed.run();
      }}
      className="min-h-6 rounded-lg! border border-band-line px-2.5! text-band-ink! no-underline! hover:border-band-muted data-[state=open]:bg-transparent!"
    />
  );
}
