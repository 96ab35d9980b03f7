import { queryOptions, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback } from "react";
import type { REPORT_FORMS, REPORT_SECTIONS } from "./choices.gen";
import { body, client, file } from "./client";
import { queryKeys } from "./queryKeys";
import type { components } from "./schema.gen";

type Schemas = components["schemas"];
export type ReportDocument = Schemas["ReportDocument"];
export type Part = ReportDocument["parts"][number];
export type KeptPart = Schemas["KeptPart"];
export type ReportLine = Schemas["ReportLine"];
export type Report = Schemas["ReportOut"];
export type Composed = Schemas["ComposedOut"];
export type KeptShown = Schemas["KeptOut"];
export type ReportForm = keyof typeof REPORT_FORMS;
export type Section = keyof typeof REPORT_SECTIONS;

const inStudy = (study: string) => ({ params: { path: { study_id: study } } });
const of = (id: string) => ({ params: { path: { report_id: id } } });

export const useReports = (study: string | undefined) =>
  useQuery({
    queryKey: queryKeys.reports(study ?? ""),
    queryFn: () => body(client.GET("/api/studies/{study_id}/reports", inStudy(study ?? ""))),
    enabled: study !== undefined,
  });

export const useReport = (id: string | undefined) =>
  useQuery({
    queryKey: queryKeys.report(id ?? ""),
    queryFn: () => body(client.GET("/api/reports/{report_id}", of(id ?? ""))),
    enabled: id !== undefined,
    // Somebody else may have changed it.
    refetchOnMount: "always",
  });

/** What a report comes to: numbers of its figures and tables, what deserves a look. */
export const composedOf = ({ id, study, version, document }: Report) =>
  queryOptions({
    queryKey: queryKeys.composed(id, version),
    queryFn: ({ signal }) =>
      body(client.POST("/api/studies/{study_id}/reports/composed", { ...inStudy(study), body: { document }, signal })),
    refetchOnMount: "always",
  });

/** Its pages as they were last made. */
export const pagesOf = (id: string) =>
  queryOptions({
    queryKey: queryKeys.reportPages(id),
    queryFn: () => body(client.GET("/api/reports/{report_id}/pages", of(id))),
  });

export const pageAddress = (id: string, number: number, key: string) =>
  `/api/reports/${id}/pages/${number}?made=${key.slice(0, 12)}`;

/** Have a report made in a form; its job. */
export const makeReport = (id: string, form: ReportForm) =>
  body(client.POST("/api/reports/{report_id}/files", { params: { path: { report_id: id }, query: { form } } }));

export const readReportFile = (id: string, form: ReportForm) =>
  file(
    client.GET("/api/reports/{report_id}/files/{form}", {
      params: { path: { report_id: id, form } },
      parseAs: "blob",
    }),
  );

/** Keep a report as it was edited, refused where another version stands. */
export const changeReport = ({ id, version }: Report, name: string, document: ReportDocument) =>
  body(client.PUT("/api/reports/{report_id}", { ...of(id), body: { version, name, document } }));

/** Everything that changes reports; each leaves the gallery and the report as they now are. */
export function useReportDeeds(study: string | undefined) {
  const queries = useQueryClient();
  const known = useCallback(
    (report: Report) => {
      queries.setQueryData(queryKeys.report(report.id), report);
      return queries.invalidateQueries({ queryKey: queryKeys.reports(report.study) });
    },
    [queries],
  );
  const gallery = () => queries.invalidateQueries({ queryKey: queryKeys.reports(study ?? "") });
  const keep = useMutation({
    mutationFn: ({ to, name, document }: { to: string; name: string; document: Partial<ReportDocument> }) =>
      body(
        client.POST("/api/studies/{study_id}/reports", {
          ...inStudy(to),
          // What is not said is as usual, which the server fills in.
          body: { name: name.slice(0, 200), document: document as ReportDocument },
        }),
      ),
    onSuccess: known,
  });
  const duplicate = useMutation({
    mutationFn: (id: string) => body(client.POST("/api/reports/{report_id}/duplicate", of(id))),
    onSuccess: known,
  });
  const place = useMutation({
    mutationFn: ({ id, before }: { id: string; before: string | null }) =>
      client.POST("/api/reports/{report_id}/place", { ...of(id), body: { before } }),
    onSuccess: gallery,
  });
  const takeAway = useMutation({
    mutationFn: (id: string) => client.DELETE("/api/reports/{report_id}", of(id)),
    onSuccess: (_, id) => {
      queries.removeQueries({ queryKey: queryKeys.report(id) });
      return gallery();
    },
  });
  const fetchAgain = useCallback(
    (id: string) => queries.invalidateQueries({ queryKey: queryKeys.report(id) }),
    [queries],
  );
  return { keep, duplicate, place, takeAway, fetchAgain, known };
}
