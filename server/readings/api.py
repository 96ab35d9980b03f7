from math import inf
from typing import Annotated, Any
from uuid import UUID

import numpy as np
from django.http import HttpResponse
from heron.columns import NUMBER_KINDS
from heron.errors import InputError
from heron.readings import Cancellation, estimates, shares
from heron.readings import differences as differing
from heron.readings import groups as compare
from heron.readings import normality as normal
from heron.readings import ordering as ordered
from heron.readings import spread as reading
from heron.readings.control import ControlSettings, control_reading
from heron.readings.cross import cross as crossed
from heron.readings.detection import detection_reading
from heron.readings.spread import spread as whole_spread
from ninja import Query, Router
from pydantic import Field

from server.accounts.requests import SignedIn
from server.documenting import ENVELOPED, file_of
from server.fields import PlainText
from server.ledger.request_params import table_of_request, variable_of_request
from server.readings import cancellation, relation, screen, selectors
from server.readings import ladder as scales
from server.readings.answers import plain
from server.readings.delivery import answer, answer_of
from server.readings.grid import grid as rows_grid
from server.readings.grid import seek
from server.readings.lineup import shown as line_up_shown
from server.readings.numbers_file import counts_csv, numbers_csv, times_csv
from server.readings.overview import overview as all_variables
from server.readings.schemas import (
    AgainstIn,
    AgainstOut,
    AuditOut,
    ByLevelsOut,
    ChapterOut,
    ClassesIn,
    ClassesOut,
    ComparedOut,
    CompareIn,
    ControlIn,
    ControlOut,
    CountsOut,
    CrossIn,
    CrossOut,
    DefinitionsOut,
    DensityIn,
    DensityOut,
    DetectionOut,
    DifferedOut,
    DifferIn,
    EstimatesIn,
    EstimatesOut,
    GainsOut,
    GlanceOut,
    GridIn,
    GridOut,
    GroupRowsIn,
    IntervalsIn,
    IntervalsOut,
    LadderIn,
    LadderOut,
    LineUpOut,
    NormalityIn,
    NormalityOut,
    NumbersIn,
    OrderIn,
    OrderOut,
    OverviewOut,
    ProgressOut,
    PulledOut,
    PullIn,
    RelationIn,
    RelationOut,
    ScreenIn,
    ScreenOut,
    SeekIn,
    SharesIn,
    SharesOut,
    SoughtOut,
    SplitIn,
    SpreadIn,
    SpreadOut,
    StopIn,
    TimesIn,
    TimesOut,
    TogetherIn,
    TogetherOut,
    TriedOut,
    TryingIn,
    WeighedOut,
    WeighIn,
    WholeSpreadIn,
    WithinIn,
    WithinOut,
    chapters_out,
)
from server.readings.split import split as by_levels
from server.studies.snapshots import VariableSnapshot

router = Router(tags=["readings"])


@router.get("/meanings", response=list[ChapterOut])
def meanings(request: SignedIn) -> Any:
    return chapters_out()


@router.get("/readings/progress", response=ProgressOut)
def progress(request: SignedIn, view: PlainText) -> Any:
    """How much of an answer that takes its time is worked; `view` is the name in the question's X-Heron-View."""
    share, note = cancellation.progress_of(request.user.pk, view)
    return {"share": share, "note": note}


@router.post("/readings/stop", response={204: None})
def stopped(request: SignedIn, asked: StopIn) -> Any:
    """End the newest question of a view; it is answered with 409, "overtaken"."""
    cancellation.stop(request.user.pk, asked.view)
    return 204, None


@router.get("/tables/{table_id}/grid", response=GridOut)
def grid(request: SignedIn, table_id: UUID, asked: Query[GridIn]) -> Any:
    table = table_of_request(request, table_id)

    def compute(cancellation: Cancellation) -> Any:
        return rows_grid(table, asked.listing(), start=asked.start, count=asked.count, find=asked.find)

    return answer_of(request, table, compute, binary=False)


@router.get("/tables/{table_id}/grid/sought", response=SoughtOut)
def sought(request: SignedIn, table_id: UUID, asked: Query[SeekIn]) -> Any:
    table = table_of_request(request, table_id)
    return answer_of(
        request, table, lambda cancellation: seek(table, asked.listing(), asked.text, after=asked.after), binary=False
    )


@router.get("/tables/{table_id}/audit", response=AuditOut)
def audit(request: SignedIn, table_id: UUID) -> Any:
    table = table_of_request(request, table_id)
    return answer_of(request, table, lambda cancellation: selectors.audited(table), binary=False)


@router.get("/tables/{table_id}/glance", response=GlanceOut)
def glance(request: SignedIn, table_id: UUID) -> Any:
    """What stands out in a table at first sight: at most seven findings by rule, each with its evidence."""
    table = table_of_request(request, table_id)
    return answer_of(request, table, lambda cancellation: selectors.glanced(table, cancellation), binary=False)


@router.get("/tables/{table_id}/readings/overview", response=OverviewOut)
def overview(request: SignedIn, table_id: UUID, options: Query[SpreadIn]) -> Any:
    table = table_of_request(request, table_id)
    return answer_of(
        request,
        table,
        lambda cancellation: all_variables(table, options.quantile_definition, cancellation),
        binary=False,
    )


@router.get("/tables/{table_id}/readings/spread", response=SpreadOut, openapi_extra=ENVELOPED)
def spread(request: SignedIn, table_id: UUID, variable: PlainText, options: Query[WholeSpreadIn]) -> Any:
    def compute(variable_snapshot: VariableSnapshot, cancellation: Cancellation) -> Any:
        return whole_spread(
            variable_snapshot,
            options.box(),
            options.level,
            cancellation,
            closed=options.closed,
            kernel=options.kernel,
            axis=options.axis,
        )

    return answer(request, table_id, variable, compute, binary=True)


@router.get("/tables/{table_id}/readings/split", response=ByLevelsOut, openapi_extra=ENVELOPED)
def split(request: SignedIn, table_id: UUID, variable: PlainText, options: Query[SplitIn]) -> Any:
    def compute(variable_snapshot: VariableSnapshot, cancellation: Cancellation) -> Any:
        return by_levels(
            variable_snapshot, variable_snapshot.table.variable(options.by), options.box(), options.level, cancellation
        )

    return answer(request, table_id, variable, compute, binary=True)


@router.get("/tables/{table_id}/readings/cross", response=CrossOut)
def cross(request: SignedIn, table_id: UUID, variable: PlainText, by: PlainText, asked: Query[CrossIn]) -> Any:
    def compute(variable_snapshot: VariableSnapshot, cancellation: Cancellation) -> Any:
        options = {**asked.cut(), "axis": asked.axis}
        return crossed(variable_snapshot, variable_snapshot.table.variable(by), missing=asked.missing, options=options)

    return answer(request, table_id, variable, compute, binary=False)


@router.get("/tables/{table_id}/readings/classes", response=ClassesOut)
def classes(request: SignedIn, table_id: UUID, variable: PlainText, options: Query[ClassesIn]) -> Any:
    def compute(variable_snapshot: VariableSnapshot, cancellation: Cancellation) -> Any:
        subject, used, counted = reading.classes(variable_snapshot, axis=options.axis, **options.cut())
        return {"subject": subject, "used": used, "classes": counted}

    return answer(request, table_id, variable, compute, binary=False)


@router.get("/tables/{table_id}/readings/density", response=DensityOut, openapi_extra=ENVELOPED)
def density(request: SignedIn, table_id: UUID, variable: PlainText, options: Query[DensityIn]) -> Any:
    def compute(variable_snapshot: VariableSnapshot, cancellation: Cancellation) -> Any:
        subject, used, curve = reading.density_curve(variable_snapshot, options.bandwidth, options.kernel, options.axis)
        return {"subject": subject, "used": used, "density": curve}

    return answer(request, table_id, variable, compute, binary=True)


@router.get("/tables/{table_id}/readings/normality", response=NormalityOut, openapi_extra=ENVELOPED)
def normality(request: SignedIn, table_id: UUID, variable: PlainText, options: Query[NormalityIn]) -> Any:
    def compute(variable_snapshot: VariableSnapshot, cancellation: Cancellation) -> Any:
        grouping = variable_snapshot.beside(options.by)
        return normal.normality_reading(variable_snapshot, options.level, cancellation, by=grouping)

    return answer(request, table_id, variable, compute, binary=True)


@router.get("/tables/{table_id}/readings/against", response=AgainstOut, openapi_extra=ENVELOPED)
def against(request: SignedIn, table_id: UUID, variable: PlainText, options: Query[AgainstIn]) -> Any:
    def compute(variable_snapshot: VariableSnapshot, cancellation: Cancellation) -> Any:
        return normal.against(variable_snapshot, options.family, options.level)

    return answer(request, table_id, variable, compute, binary=True)


@router.get("/tables/{table_id}/readings/ladder", response=LadderOut, openapi_extra=ENVELOPED)
def ladder(request: SignedIn, table_id: UUID, variable: PlainText, options: Query[LadderIn]) -> Any:
    def compute(variable_snapshot: VariableSnapshot, cancellation: Cancellation) -> Any:
        return scales.ladder(variable_snapshot, variable_snapshot.beside(options.by))

    return answer(request, table_id, variable, compute, binary=True)


@router.get("/tables/{table_id}/readings/ladders", response=GainsOut)
def ladders(request: SignedIn, table_id: UUID) -> Any:
    table = table_of_request(request, table_id)
    return answer_of(request, table, lambda cancellation: scales.gains(table, cancellation), binary=False)


@router.get("/tables/{table_id}/readings/tried", response=TriedOut)
def tried(request: SignedIn, table_id: UUID, variable: PlainText, asked: Query[TryingIn]) -> Any:
    """What would be made, by the way in the address (as_if)."""

    def compute(variable_snapshot: VariableSnapshot, cancellation: Cancellation) -> Any:
        scales.needs_trial(variable_snapshot)
        return scales.tried(variable_snapshot)

    return answer(request, table_id, variable, compute, binary=False)


@router.get("/tables/{table_id}/readings/detection", response=DetectionOut)
def detected(request: SignedIn, table_id: UUID, variable: PlainText) -> Any:
    """What is said of values of which some lie below a limit."""

    def compute(variable_snapshot: VariableSnapshot, cancellation: Cancellation) -> Any:
        return detection_reading(variable_snapshot)

    return answer(request, table_id, variable, compute, binary=False)


@router.get("/tables/{table_id}/readings/control", response=ControlOut)
def controlled(request: SignedIn, table_id: UUID, variable: PlainText, options: Query[ControlIn]) -> Any:
    """A variable as a process gave it, within its limits."""

    def compute(variable_snapshot: VariableSnapshot, cancellation: Cancellation) -> Any:
        along, subgroup = variable_snapshot.beside(options.along), variable_snapshot.beside(options.subgroup)
        settings = ControlSettings(along, options.chart, subgroup, options.baseline, options.family)
        return control_reading(variable_snapshot, settings)

    return answer(request, table_id, variable, compute, binary=False)


@router.get("/tables/{table_id}/readings/order", response=OrderOut, openapi_extra=ENVELOPED)
def order(request: SignedIn, table_id: UUID, variable: PlainText, options: Query[OrderIn]) -> Any:
    def compute(variable_snapshot: VariableSnapshot, cancellation: Cancellation) -> Any:
        along = variable_snapshot.beside(options.along)
        return ordered.order(variable_snapshot, along)

    return answer(request, table_id, variable, compute, binary=True)


@router.get("/tables/{table_id}/readings/times", response=TimesOut)
def times(request: SignedIn, table_id: UUID, variable: PlainText, options: Query[TimesIn]) -> Any:
    return answer(
        request, table_id, variable, lambda result, cancellation: ordered.in_time(result, options.unit), binary=False
    )


@router.get("/tables/{table_id}/readings/rows", response=WithinOut, openapi_extra=ENVELOPED)
def rows(request: SignedIn, table_id: UUID, variable: PlainText, limits: Query[WithinIn]) -> Any:
    """The rows of a mark: those between two values, those of a level, those without a value, or aside."""

    def compute(variable_snapshot: VariableSnapshot, cancellation: Cancellation) -> Any:
        if limits.missing:
            return selectors.missing_rows(variable_snapshot)
        if limits.set_aside:
            return selectors.rows_aside(variable_snapshot)
        if limits.level is not None:
            return selectors.at_level(variable_snapshot, limits.level)
        low, high = (-inf if limits.low is None else limits.low), (inf if limits.high is None else limits.high)
        return selectors.within(variable_snapshot, low, high, limits.closed)

    return answer(request, table_id, variable, compute, binary=True)


@router.get("/tables/{table_id}/readings/counts", response=CountsOut)
def counts(request: SignedIn, table_id: UUID, variable: PlainText) -> Any:
    def compute(variable_snapshot: VariableSnapshot, cancellation: Cancellation) -> Any:
        subject, used, counted = reading.counts(variable_snapshot)
        return {"subject": subject, "used": used, "counts": counted}

    return answer(request, table_id, variable, compute, binary=False)


@router.get("/tables/{table_id}/readings/definitions", response=DefinitionsOut)
def definitions(request: SignedIn, table_id: UUID, variable: PlainText) -> Any:
    def compute(variable_snapshot: VariableSnapshot, cancellation: Cancellation) -> Any:
        return {"definitions": reading.compare_definitions(variable_snapshot)}

    return answer(request, table_id, variable, compute, binary=False)


@router.get("/tables/{table_id}/readings/line-up", response=LineUpOut, openapi_extra=ENVELOPED)
def line_up(request: SignedIn, table_id: UUID, variable: PlainText, seed: Annotated[int, Field(ge=0, le=2**53)]) -> Any:
    return answer(request, table_id, variable, lambda result, cancellation: line_up_shown(result, seed), binary=True)


@router.get("/tables/{table_id}/readings/intervals", response=IntervalsOut)
def intervals(request: SignedIn, table_id: UUID, variable: PlainText, asked: Query[IntervalsIn]) -> Any:
    def compute(variable_snapshot: VariableSnapshot, cancellation: Cancellation) -> Any:
        return reading.intervals(variable_snapshot, asked.share, asked.level, asked.percent, cancellation)

    return answer(request, table_id, variable, compute, binary=False)


@router.get("/tables/{table_id}/readings/screen", response=ScreenOut, openapi_extra=ENVELOPED)
def screened(request: SignedIn, table_id: UUID, variable: PlainText, asked: Query[ScreenIn]) -> Any:
    def compute(variable_snapshot: VariableSnapshot, cancellation: Cancellation) -> Any:
        by = variable_snapshot.beside(asked.by)
        return screen.screened(variable_snapshot, by, asked.rules, asked.options(), cancellation)

    return answer(request, table_id, variable, compute, binary=True)


@router.get("/tables/{table_id}/readings/compare", response=ComparedOut, openapi_extra=ENVELOPED)
def compared(request: SignedIn, table_id: UUID, variable: PlainText, asked: Query[CompareIn]) -> Any:
    def compute(variable_snapshot: VariableSnapshot, cancellation: Cancellation) -> Any:
        second, pair = variable_snapshot.beside(asked.second), variable_snapshot.beside(asked.pair)
        whole = compare.CompareSettings(
            variable_snapshot.table.variable(asked.by), second, asked.centre, asked.bars, asked.level,
            asked.units, (asked.low_percent, asked.high_percent), asked.trim, pair, asked.line, asked.log,
        )  # fmt: skip
        return compare.groups_reading(variable_snapshot, whole, cancellation)

    return answer(request, table_id, variable, compute, binary=True)


@router.get("/tables/{table_id}/readings/group-rows", response=WithinOut, openapi_extra=ENVELOPED)
def group_rows(request: SignedIn, table_id: UUID, variable: PlainText, asked: Query[GroupRowsIn]) -> Any:
    """The rows of a group, by its place among the groups compared."""

    def compute(variable_snapshot: VariableSnapshot, cancellation: Cancellation) -> Any:
        rows = compare.rows_of_group(
            variable_snapshot,
            variable_snapshot.table.variable(asked.by),
            variable_snapshot.beside(asked.second),
            asked.group,
        )
        return selectors.Within(rows, np.full(rows.size, np.nan))

    return answer(request, table_id, variable, compute, binary=True)


@router.get("/tables/{table_id}/readings/differences", response=DifferedOut)
def differed(request: SignedIn, table_id: UUID, variable: PlainText, asked: Query[DifferIn]) -> Any:
    def compute(variable_snapshot: VariableSnapshot, cancellation: Cancellation) -> Any:
        by = variable_snapshot.table.variable(asked.by)
        pair = variable_snapshot.beside(asked.pair)
        whole = differing.DifferenceSettings(
            asked.measure, asked.reference, asked.level, asked.units, pair, asked.together, asked.spreads, asked.trim
        )
        return differing.differed(variable_snapshot, by, whole, cancellation)

    return answer(request, table_id, variable, compute, binary=False)


@router.get("/tables/{table_id}/readings/shares", response=SharesOut)
def shared(request: SignedIn, table_id: UUID, variable: PlainText, asked: Query[SharesIn]) -> Any:
    def compute(variable_snapshot: VariableSnapshot, cancellation: Cancellation) -> Any:
        by = variable_snapshot.table.variable(asked.by)
        return shares.shared(variable_snapshot, by, tuple(asked.chosen), asked.neutral, asked.level, cancellation)

    return answer(request, table_id, variable, compute, binary=False)


@router.get("/tables/{table_id}/readings/estimates", response=EstimatesOut)
def estimated(request: SignedIn, table_id: UUID, asked: Query[EstimatesIn]) -> Any:
    """Rows that are results already."""
    table = table_of_request(request, table_id)
    return answer_of(
        request, table, lambda cancellation: estimates.estimated(table, asked.asked(), cancellation), binary=False
    )


@router.get("/tables/{table_id}/readings/together", response=TogetherOut, openapi_extra=ENVELOPED)
def together(request: SignedIn, table_id: UUID, asked: Query[TogetherIn]) -> Any:
    table = table_of_request(request, table_id)
    return answer_of(
        request, table, lambda cancellation: screen.together(table, asked.variables, cancellation), binary=True
    )


@router.get("/tables/{table_id}/readings/relation", response=RelationOut, openapi_extra=ENVELOPED)
def related(request: SignedIn, table_id: UUID, asked: Query[RelationIn]) -> Any:
    table = table_of_request(request, table_id)
    return answer_of(
        request, table, lambda cancellation: relation.related(table, asked.asked(), cancellation), binary=True
    )


@router.post("/tables/{table_id}/readings/pull", response=PulledOut)
def pulled(request: SignedIn, table_id: UUID, asked: PullIn) -> Any:
    """The relation with and without rows; a question that changes nothing, posted since rows may be many."""
    return plain(relation.pulled(table_of_request(request, table_id), asked.asked(), asked.rows))


@router.post("/tables/{table_id}/readings/weigh", response=WeighedOut)
def weighed(request: SignedIn, table_id: UUID, asked: WeighIn) -> Any:
    """Results with and without rows; a question that changes nothing, posted since rows may be many."""
    result = variable_of_request(request, table_id, asked.variable)
    by = result.beside(asked.by)
    return plain(screen.weighed(result, by, asked.rows))


@router.get("/tables/{table_id}/readings/numbers.csv", response=None, openapi_extra=file_of("text/csv"))
def numbers_file(request: SignedIn, table_id: UUID, variable: PlainText, options: Query[NumbersIn]) -> Any:
    result = variable_of_request(request, table_id, variable)
    if result.kind == "date-time":
        text = times_csv(ordered.in_time(result, None).times)
    elif result.decimals is None or result.kind not in NUMBER_KINDS:
        text = counts_csv(*reading.counts(result))
    else:
        whole = whole_spread(result, options.box(), options.level, Cancellation())
        try:
            counted = reading.classes(result, axis=options.axis, **options.cut())[2]
        except InputError:
            counted = None
        points = zip(options.percents, whole.percent_points.tolist(), strict=True)
        text = numbers_csv(whole.subject, whole.used, whole.summary, counted, points)
    response = HttpResponse(text, content_type="text/csv; charset=utf-8")
    response["Content-Disposition"] = f'attachment; filename="{result.symbol}.csv"'
    return response
