"""Load "Ellery Sound" for somebody, from the files in demo/."""

from functools import cache
from typing import Any

from django.db import transaction
from heron import intake
from heron.columns import Table

from demo.generate import FOLDER
from server.accounts.models import User
from server.demo.worked import work_through
from server.studies import services as studies
from server.studies.models import Study

TITLE = "Ellery Sound"

# What a careful colleague would answer when bringing these files in.
_CHOICES: dict[str, dict[str, Any]] = {
    "oyster_nursery": {"missing_codes": ["n/r", "-99"]},
    "night_bus": {"levels": {"age_band": ["under 25", "25 to 44", "45 to 64", "65 and over"]}},
}
_NAMES = ("oyster_nursery", "tile_kiln", "night_bus", "cleaning_trials", "tide_pair")


@transaction.atomic
def load(owner: User) -> Study:
    """The owner's demo study as its files bring it, made when there is none."""
    existing = Study.objects.filter(owner=owner, title=TITLE).first()
    if existing:
        return existing
    study = studies.create_study(owner, TITLE)
    for name in _NAMES:
        data, table = _brought(name)
        source = studies.keep_file(f"{name}.csv", [data])
        choices = _CHOICES.get(name, {})
        studies.store_table(study, name.replace("_", " ").capitalize(), table, source, choices=choices)
    return study


@transaction.atomic
def load_worked(owner: User) -> Study:
    """The owner's demo study with what somebody made of it, made when there is none."""
    there = Study.objects.filter(owner=owner, title=TITLE).exists()
    study = load(owner)
    if not there:
        work_through(owner, study)
    return study


@cache
def _brought(name: str) -> tuple[bytes, Table]:
    """A file and its table, read once for all who look around."""
    data = (FOLDER / f"{name}.csv").read_bytes()
    return data, intake.read(data, f"{name}.csv", **_CHOICES.get(name, {})).table
