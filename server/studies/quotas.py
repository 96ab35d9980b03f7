"""How much a person may keep and have done at once: what is said of one, else what holds for everybody."""

from django.conf import settings
from django.db.models import Q, Sum
from heron.formatting import counted

from server.accounts.models import User
from server.problems import Refusal
from server.studies.models import Job, SourceFile, Study, Table, Upload

_ASK = "Remove what is not needed, or ask who runs this server for more."


def bytes_of(user: User) -> int:
    """The bytes of all files in the studies that a person owns."""
    used = Table.every.filter(study__owner=user).values("source")
    brought = Upload.objects.filter(study__owner=user).values("file")
    files = SourceFile.objects.filter(Q(pk__in=used) | Q(pk__in=brought))
    return files.aggregate(all=Sum("size"))["all"] or 0


def require_bytes(study: Study) -> None:
    """Refuse a file, once it is there, by which the study's owner has more than they may."""
    most = _own(study.owner.quota_mb, settings.QUOTA_MB)
    if most is not None and bytes_of(study.owner) > most * 1_000_000:
        raise Refusal(413, "quota", f"{_whose(study)} may keep {most} MB of files; this would be more.", remedy=_ASK)


def require_table(study: Study) -> None:
    most = _own(study.owner.quota_tables, settings.QUOTA_TABLES)
    if most is not None and Table.objects.filter(study__owner=study.owner).count() >= most:
        raise Refusal(422, "quota", f"{_whose(study)} may keep {counted(most, 'table')}, no more.", remedy=_ASK)


def require_job(user: User) -> None:
    most = _own(user.quota_jobs, settings.QUOTA_JOBS)
    at_work = Job.objects.filter(author=user, state__in=(Job.State.WAITING, Job.State.RUNNING))
    if most is not None and at_work.count() >= most:
        raise Refusal(
            429, "quota", f"You may have {counted(most, 'job')} at once, no more.", remedy="Wait for one, or stop one.",
            retry_after=30,
        )  # fmt: skip


def _own(of_person: int | None, of_all: int) -> int | None:
    return of_person if of_person is not None else of_all or None


def _whose(study: Study) -> str:
    return f"{study.owner.get_username()}, who owns this study,"
