import { useNavigate } from "react-router";
import type { PlateLine } from "../../api/plates";
import { useReportDeeds } from "../../api/reports";
import type { Study } from "../../api/studies";
import type { TablePlateLine } from "../../api/tablePlates";
import { useKept } from "../../state/kept";
import { begun } from "./composing";

/** Begin a report of plates and of all tables of a study, and open it. */
export function useBeginReport(study: Study, plates: readonly PlateLine[], tables: readonly TablePlateLine[]) {
  const navigate = useNavigate();
  const { refuse } = useKept();
  const { mutate, isPending } = useReportDeeds(study.id).keep;
  const begin = (chosen: readonly PlateLine[]) =>
    mutate(
      {
        to: study.id,
        name: `Report of ${study.title}`,
        document: begun(study.title, chosen.length > 0 ? chosen : plates, tables),
      },
      {
        onSuccess: ({ id }) => navigate(`/reports/${id}`),
        onError: (error) => refuse(error.message),
      },
    );
  return { begin, isPending };
}
