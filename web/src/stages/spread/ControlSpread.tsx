import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useRef } from "react";
import { FAMILIES } from "../../api/choices.gen";
import { figureOf } from "../../api/figures";
import { type ControlReading, controlOf } from "../../api/readings";
import type { Table, Variable } from "../../api/studies";
import type { Shown } from "../../figure/screen";
import { Card } from "../../ui/Card";
import { Notice } from "../../ui/Notice";
import { NumbersTable } from "../../ui/NumbersTable";
import { TakeTable } from "../../ui/TakeTable";
import { Typed } from "../../ui/Typed";
import { useSize } from "../../ui/useSize";
import { Wave } from "../../ui/Wave";
import { WordChoice } from "../../ui/WordChoice";
import { choicesOf, labelsOf } from "../../values";
import { named, titled } from "../../words/kinds";
import { fixed, significant, whole } from "../../words/numbers";
import { PointsOverlay } from "../PointsOverlay";
import { RowLinks } from "../RowLinks";
import { StageFigure } from "../StageFigure";
import { CONTROL_SHEET, type ControlRoles, controlPictures } from "./pictures";
import { TakeAway } from "./TakeAway";
import { useSteady } from "./useFollowing";
import type { useSpreadChoices } from "./useSpreadChoices";

type ControlSpreadProps = ReturnType<typeof useSpreadChoices> & {
  table: Table;
  variable: Variable;
  roles: ControlRoles;
};

/** A process in its order: values or means within their limits, the spread of each below, and what it is capable of. */
export function ControlSpread({ table, variable, roles, choices, change }: ControlSpreadProps) {
  const pictures = controlPictures(table, variable, roles, choices);
  const figure = useSteady(figureOf(table, pictures, "control chart"));
  const { data: result } = useQuery({
    ...controlOf(table, variable.symbol, {
      family: choices.family,
      ...(roles.along ? { along: roles.along.symbol } : {}),
      ...(roles.subgroup && choices.chart !== "individuals"
        ? { chart: choices.chart, subgroup: roles.subgroup.symbol }
        : {}),
      ...(choices.baseline === null ? {} : { baseline: choices.baseline }),
    }),
    placeholderData: keepPreviousData,
    enabled: figure.isFetched,
  });
  const { error } = figure;
  const [room, size] = useSize();
  const drawing = useRef<Shown>(null);
  const remedy = error && "remedy" in error ? String(error.remedy) : "";
  const title = titled(named(variable));
  return (
    <>
      <Card
        help="control-chart"
        title="Control chart"
        className="stack-card"
        aside={
          <Typed
            label="Limits rest on"
            shown={
              choices.baseline === null ? "limits from all points" : `limits from the first ${choices.baseline} points`
            }
            fields={{ "First points": choices.baseline }}
            onSet={([count = 2]) => change({ baseline: Math.max(2, Math.round(count)) })}
            onNone={choices.baseline === null ? undefined : () => change({ baseline: null })}
          />
        }
        footer={
          figure.data && (
            <TakeAway
              drawing={drawing}
              caption={figure.data.caption}
              table={table}
              variable={variable}
              definition={choices.definition}
              classes={choices.classes}
            />
          )
        }
      >
        {error && <Notice problem={error.message} remedy={remedy} className="m-3.5" />}
        <div ref={room} className="relative min-h-[300px] flex-1">
          {figure.data && !error && size && size.width > 80 && (
            <StageFigure figure={figure.data} {...{ size, drawing, title }} sheet={CONTROL_SHEET}>
              {(plan) => (
                <PointsOverlay
                  {...{ table, plan }}
                  wordsOf={({ across, up }) => [
                    `${plan.titles.up} ${significant(up, 5)}`,
                    `${plan.titles.across} ${significant(across, 6)}`,
                  ]}
                  label={`${plan.titles.up} in order: arrows walk the points, Enter selects the row`}
                />
              )}
            </StageFigure>
          )}
          {figure.isPending && !error && (
            <Wave moving className="absolute top-1/2 left-1/2 w-24 -translate-x-1/2 text-primary" />
          )}
        </div>
      </Card>
      <div className="flex min-h-0 flex-col gap-3.5 overflow-y-auto">
        {result && !error && <ReadingCard table={table} reading={result} />}
        {result && !error && (
          <CapabilityCard reading={result} family={choices.family} onFamily={(family) => change({ family })} />
        )}
      </div>
    </>
  );
}

function ReadingCard({ table, reading }: { table: Table; reading: ControlReading }) {
  return (
    <Card help="control-chart" title="Reading" className="shrink-0">
      <div className="flex flex-col gap-2 px-3.5 py-2.5 font-serif text-lead">
        {reading.words.map((said) => (
          <p key={said}>{said}</p>
        ))}
      </div>
      {reading.signals.map(({ label, rows, labels }) => (
        <p key={label} className="border-line border-t px-3.5 py-2 text-small">
          {label}: {labels.length > 0 ? labels.slice(0, 12).join(", ") : null}
          {labels.length > 12 && ` and ${whole(labels.length - 12)} more`}
          {labels.length === 0 && <RowLinks table={table} rows={Float64Array.from(rows.map((row) => row ?? 0))} />}
        </p>
      ))}
      <p className="border-line border-t px-3.5 py-2 text-muted-ink text-small">
        Centre {reading.centre === null ? "none" : significant(reading.centre, 5)}, SD within{" "}
        {reading.sigma === null ? "none" : significant(reading.sigma, 4)}. Limits lie 3 standard errors from the centre.
      </p>
    </Card>
  );
}

type CapabilityCardProps = {
  reading: ControlReading;
  family: keyof typeof FAMILIES;
  onFamily: (family: keyof typeof FAMILIES | null) => void;
};

/** What the process is capable of within its specification limits, or how these are declared. */
function CapabilityCard({ reading, family, onFamily }: CapabilityCardProps) {
  const { capability, beyond, subject } = reading;
  if (!capability || !beyond)
    return (
      <Card help="control-chart" title="Capability" className="shrink-0">
        <p className="px-3.5 py-2 text-muted-ink">
          Specification limits of {subject.label}, declared under its description, show what the process is capable of.
        </p>
      </Card>
    );
  const written = (value: number | null) => (value === null ? "none" : fixed(value, 2));
  const head = ["", "value", "from", "to"];
  const body = [
    ["Cp", written(capability.cp), written(capability.cp_low), written(capability.cp_high)],
    ["Cpk", written(capability.cpk), written(capability.cpk_low), written(capability.cpk_high)],
    ["Pp", written(capability.pp), written(capability.pp_low), written(capability.pp_high)],
    ["Ppk", written(capability.ppk), written(capability.ppk_low), written(capability.ppk_high)],
    ...(capability.family === "normal"
      ? []
      : [
          ["Pp by percentiles", written(capability.percentile_pp), "", ""],
          ["Ppk by percentiles", written(capability.percentile_ppk), "", ""],
        ]),
  ];
  const percent = (share: number | null) => (share === null ? "" : `, if normal ${fixed(100 * share, 2)} %`);
  const sides = [
    ["below the lower limit", beyond.n_below, beyond.normal_below],
    ["above the upper limit", beyond.n_above, beyond.normal_above],
  ] as const;
  const shares = sides.flatMap(([where, n, normal]) =>
    n === null ? [] : [`${whole(n)} ${where} (${fixed((100 * n) / beyond.n, 2)} %${percent(normal)})`],
  );
  return (
    <Card
      help="control-chart"
      title="Capability"
      className="shrink-0"
      aside={
        <span className="flex items-baseline gap-3">
          <WordChoice
            label="Percentiles by"
            shown={FAMILIES[family].label}
            value={family}
            options={choicesOf(labelsOf(FAMILIES))}
            onChoose={(next) => onFamily(next === "normal" ? null : next)}
          />
          <TakeTable name={`${subject.label} capability`} table={() => ({ head, body })} />
        </span>
      }
    >
      <NumbersTable {...{ head, body }} strong="value" />
      <div className="px-3.5 py-2 text-muted-ink text-small">
        <p>{shares.join("; ")}.</p>
        {[...new Set(Object.values(capability.undefined))].map((why) => (
          <p key={why}>{why}</p>
        ))}
      </div>
    </Card>
  );
}
