"""Reads of a study as a whole."""

from dataclasses import dataclass

from server.accounts.models import User
from server.studies.models import Study
from server.studies.sharing import Present, arrive


@dataclass(frozen=True)
class Pulse:
    """How far a study has come: the revision of each table, and the version of each plate, table of numbers and report,
    by their ids."""

    tables: dict[str, int]
    plates: dict[str, int]
    here: list[Present]


def pulse(user: User, study: Study) -> Pulse:
    """How far a study has come, and who else has it open; the person who asks has."""
    tables = {str(key): revision for key, revision in study.tables.values_list("pk", "revision")}
    figures, *others = (
        kept.order_by().values_list("pk", "version") for kept in (study.plates, study.table_plates, study.reports)
    )
    plates = {str(key): version for key, version in figures.union(*others)}
    return Pulse(tables, plates, arrive(user, study))
