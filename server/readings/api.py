from math import inf
from uuid import UUID

from django.http import HttpRequest, HttpResponse
from heron.errors import InputError
from ninja import Query, Router

from server.readings import selectors
from server.readings.delivery import answer
from server.readings.numbers_file import numbers_csv
from server.readings.overtaken import Wanted
from server.readings.schemas import (
    ClassesIn,
    ClassesOut,
    CountsOut,
    DefinitionsOut,
    DensityIn,
    DensityOut,
    NormalityOut,
    SpreadIn,
    SpreadOut,
    WithinIn,
    WithinOut,
)
from server.studies.selectors import table as find_table

router = Router(tags=["readings"])


@router.get("/tables/{table_id}/readings/spread", response=SpreadOut)
def spread(request: HttpRequest, table_id: UUID, variable: str, options: Query[SpreadIn]):
    def compute(table, wanted):
        return selectors.spread(table, variable, options.quantile_definition, options.level, wanted)

    return answer(request, table_id, compute, binary=True)


@router.get("/tables/{table_id}/readings/classes", response=ClassesOut)
def classes(request: HttpRequest, table_id: UUID, variable: str, options: Query[ClassesIn]):
    def compute(table, wanted):
        subject, used, found = selectors.classes(table, variable, **options.model_dump())
        return {"subject": subject, "used": used, "classes": found}

    return answer(request, table_id, compute, binary=False)


@router.get("/tables/{table_id}/readings/density", response=DensityOut)
def density(request: HttpRequest, table_id: UUID, variable: str, options: Query[DensityIn]):
    def compute(table, wanted):
        subject, used, found = selectors.density_curve(table, variable, options.bandwidth, options.kernel)
        return {"subject": subject, "used": used, "density": found}

    return answer(request, table_id, compute, binary=True)


@router.get("/tables/{table_id}/readings/normality", response=NormalityOut)
def normality(request: HttpRequest, table_id: UUID, variable: str, options: Query[SpreadIn]):
    def compute(table, wanted):
        return selectors.normality_reading(table, variable, options.level, wanted)

    return answer(request, table_id, compute, binary=True)


@router.get("/tables/{table_id}/readings/rows", response=WithinOut)
def rows(request: HttpRequest, table_id: UUID, variable: str, limits: Query[WithinIn]):
    """The rows of a mark: those between two values, those of a level, or those without a value."""

    def compute(table, wanted):
        if limits.missing:
            return selectors.missing_rows(table, variable)
        if limits.level is not None:
            return selectors.at_level(table, variable, limits.level)
        low, high = (-inf if limits.low is None else limits.low), (inf if limits.high is None else limits.high)
        return selectors.within(table, variable, low, high, limits.closed)

    return answer(request, table_id, compute, binary=True)


@router.get("/tables/{table_id}/readings/counts", response=CountsOut)
def counts(request: HttpRequest, table_id: UUID, variable: str):
    def compute(table, wanted):
        subject, used, found = selectors.counts(table, variable)
        return {"subject": subject, "used": used, "counts": found}

    return answer(request, table_id, compute, binary=False)


@router.get("/tables/{table_id}/readings/definitions", response=DefinitionsOut)
def definitions(request: HttpRequest, table_id: UUID, variable: str):
    def compute(table, wanted):
        return {"definitions": selectors.compare_definitions(table, variable)}

    return answer(request, table_id, compute, binary=False)


@router.get("/tables/{table_id}/readings/numbers.csv", response=None)
def numbers_file(request: HttpRequest, table_id: UUID, variable: str, options: Query[SpreadIn], cut: Query[ClassesIn]):
    table = find_table(request.user, table_id)
    found = selectors.spread(table, variable, options.quantile_definition, options.level, Wanted(None))
    try:
        counted = selectors.classes(table, variable, **cut.model_dump())[2]
    except InputError:
        counted = None
    text = numbers_csv(found.subject, found.used, found.summary, counted)
    response = HttpResponse(text, content_type="text/csv; charset=utf-8")
    response["Content-Disposition"] = f'attachment; filename="{found.subject.symbol}.csv"'
    return response
