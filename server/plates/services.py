"""State changes of plates: kept, changed, moved, frozen, taken away; styles kept under a name."""

import io
import re
import zlib
from itertools import count
from typing import Any, Literal, TypeVar
from uuid import UUID
from xml.etree import ElementTree

from django.db import transaction
from django.db.models import Max, Min, QuerySet
from heron.errors import HeronError
from heron.tables.page import page_of_figure
from PIL import Image, UnidentifiedImageError

from server import room
from server.accounts.models import User
from server.accounts.services import refuse_guest
from server.plates import selectors
from server.plates.documents import PlateDocument, StyleBody, TablePlateDocument
from server.plates.models import Kept, Plate, PlatePicture, Style, TablePlate
from server.problems import Refusal
from server.readings.answers import envelope
from server.studies.models import Study
from server.studies.permissions import require_editor

MOST_PLATES = 2_000
MOST_STYLES = 100
MOST_PIXELS = 120_000_000
AnyPlate = TypeVar("AnyPlate", Plate, TablePlate)
AnyKept = TypeVar("AnyKept", bound=Kept)
AnyDocument = PlateDocument | TablePlateDocument


@transaction.atomic
def keep(user: User, study: Study, name: str, group: str, document: PlateDocument) -> Plate:
    """Keep a figure as the last plate of a study. One that cannot be made is refused."""
    return Plate.objects.create(
        **new_of(user, study, study.plates.all(), name), group=group.strip(), document=document.model_dump(mode="json"),
        last_reviewed=_reviewed(user, document),
    )  # fmt: skip


@transaction.atomic
def keep_table(user: User, study: Study, name: str, document: TablePlateDocument) -> TablePlate:
    """Keep a table of numbers as the last one of a study. One that cannot be made is refused."""
    return TablePlate.objects.create(
        **new_of(user, study, study.table_plates.all(), name), document=document.model_dump(mode="json"),
        last_reviewed=_reviewed(user, document),
    )  # fmt: skip


def new_of(user: User, study: Study, others: QuerySet[Any], name: str) -> dict[str, Any]:
    """What is said of a new one that stands behind the others of its study."""
    require_editor(user, study)
    room.require_a_little()
    if others.count() >= MOST_PLATES:
        raise Refusal(422, "too-many", f"A study keeps at most {MOST_PLATES} of them.", remedy="Take some away.")
    last = others.aggregate(last=Max("place"))["last"] or 0.0
    return {"study": study, "name": free_name(others, name.strip()), "place": last + 1, "author": user}


def free_name(others: QuerySet[Any], name: str) -> str:
    """A name that none of the others has: with a number where it is taken."""
    taken = set(others.values_list("name", flat=True))
    free = (f"{name[:190]} {n}" for n in count(2))
    return name if name not in taken else next(candidate for candidate in free if candidate not in taken)


@transaction.atomic
def change(user: User, plate: AnyPlate, name: str, document: AnyDocument, version: int) -> AnyPlate:
    """A plate as it was edited; what it shows counts as looked at. Refused where somebody else changed it since, and
    where a frozen one would have to show something else."""
    held = held_by(user, plate)
    require_version(held, version)
    if held.frozen is None:
        held.last_reviewed = _reviewed(user, document)
    elif document.sources != (was := _document_of(held)).sources or document.numbers != was.numbers:
        raise Refusal(
            422, "frozen", f"{held.name} is frozen, so what it shows stays, and how its numbers are written.",
            where="document", remedy="Let it follow its data again first.",
        )  # fmt: skip
    if name.strip() != held.name:
        held.name = free_name(beside(held), name.strip())
    held.document = document.model_dump(mode="json")
    return changed(held)


def review(user: User, plate: AnyPlate) -> AnyPlate:
    """What a plate shows now counts as looked at."""
    with transaction.atomic():
        held = held_by(user, plate)
        if held.frozen is None:
            held.last_reviewed = _reviewed(user, _document_of(held))
            held.save(update_fields=["last_reviewed", "changed"])
    return held


@transaction.atomic
def freeze(user: User, plate: AnyPlate, *, on: bool) -> AnyPlate:
    """Keep a plate with its numbers as they are, or let it follow its data again; its document is that of now."""
    held = held_by(user, plate)
    document = _document_of(held)
    if isinstance(held, TablePlate):
        table, revisions = selectors.number_table(user, selectors.table_document_of(held))
        held.frozen = selectors.frozen_as_json(table, revisions) if on else None
    else:
        shown = selectors.document_of(held)
        result, revisions = selectors.scenes(user, shown.sources, shown.numbers)
        held.frozen = envelope({"scenes": result, "revisions": revisions}) if on else None
    held.last_reviewed = _reviewed(user, document)
    return changed(held)


def held_by(user: User, kept: AnyKept) -> AnyKept:
    """The plate as it stands, which nobody else changes until the transaction ends."""
    require_editor(user, kept.study)
    held = type(kept)._default_manager.select_for_update().filter(pk=kept.pk).first()
    if held is None:
        raise Refusal(404, "not-found", f"{kept.name} was taken away meanwhile.", remedy="Go back to the gallery.")
    return held


def require_version(held: Kept, version: int) -> None:
    """Refuse a change of what somebody else changed since."""
    if held.version != version:
        raise Refusal(
            409, "changed-since", f"{held.name} was changed elsewhere since you opened it.", where="version",
            remedy="Open it again; your last change is still on this page.",
        )  # fmt: skip


def changed(held: AnyKept) -> AnyKept:
    held.version += 1
    held.save()
    return held


def beside(kept: Kept) -> QuerySet[Any]:
    """Those of its kind in its study."""
    own: QuerySet[Any] = type(kept)._default_manager.all()
    return own.filter(study=kept.study)


def _document_of(plate: Plate | TablePlate) -> AnyDocument:
    return selectors.table_document_of(plate) if isinstance(plate, TablePlate) else selectors.document_of(plate)


def duplicate(user: User, plate: AnyPlate) -> AnyPlate:
    """A second plate like it, right behind."""
    require_editor(user, plate.study)
    after = beside(plate).filter(place__gt=plate.place).aggregate(next=Min("place"))["next"]
    position = plate.place + 1 if after is None else (plate.place + after) / 2
    own: dict[str, Any] = {"group": plate.group} if isinstance(plate, Plate) else {}
    return type(plate).objects.create(
        study=plate.study, name=free_name(beside(plate), f"{plate.name}, again"[:200]), place=position,
        document=plate.document, last_reviewed=plate.last_reviewed, frozen=plate.frozen, author=user, **own,
    )  # fmt: skip


@transaction.atomic
def move(user: User, plate: Kept, before: UUID | None) -> None:
    """Put what is kept before another of its kind, or behind all."""
    require_editor(user, plate.study)
    others = list(beside(plate).exclude(pk=plate.pk).select_for_update())
    at = next((i for i, other in enumerate(others) if other.pk == before), len(others))
    others.insert(at, plate)
    for index, other in enumerate(others):
        other.place = index + 1.0
    type(plate)._default_manager.bulk_update(others, ["place"])


def take_away(user: User, plate: Kept) -> None:
    require_editor(user, plate.study)
    plate.delete()


def keep_style(user: User, body: StyleBody) -> None:
    """Keep a style under its name; what had that name before is replaced."""
    refuse_guest(user)
    if user.styles.exclude(name=body.name).count() >= MOST_STYLES:
        raise Refusal(422, "too-many", f"A person keeps at most {MOST_STYLES} styles.", where="name")
    Style.objects.update_or_create(owner=user, name=body.name, defaults={"body": body.model_dump(mode="json")})


def forget_style(user: User, name: str) -> None:
    user.styles.filter(name=name).delete()


@transaction.atomic
def style_all(user: User, study: Study, body: StyleBody) -> int:
    """Put a style on every plate of a study, each as it stands; how many there are."""
    require_editor(user, study)
    result = list(study.plates.select_for_update().order_by("pk"))
    for plate in result:
        plate.document = {**plate.document, "style": body.model_dump(mode="json")}
        plate.version += 1
    Plate.objects.bulk_update(result, ["document", "version"])
    return len(result)


def _reviewed(user: User, document: AnyDocument) -> dict[str, Any]:
    if isinstance(document, TablePlateDocument):
        table, revisions = selectors.number_table(user, document)
        return {"revisions": revisions, "numbers": selectors.numbers_in(table)}
    result, revisions = selectors.scenes(user, document.sources, document.numbers)
    return {"revisions": revisions, "numbers": selectors.numbers_of(document, result)}


def keep_picture(user: User, plate: Plate, version: int, revisions: dict[str, int], svg: str) -> None:
    """Keep a plate as a page drew it. One drawn of what it no longer is, is let go."""
    require_editor(user, plate.study)
    if plate.version != version:
        return
    room.require_a_little()
    problem = _no_svg(svg)
    if problem:
        raise Refusal(422, "no-picture", f"The picture cannot be taken: {problem}.", where="svg")
    said = {"key": selectors.drawn_of(plate, revisions), "svg": zlib.compress(svg.encode())}
    PlatePicture.objects.update_or_create(plate=plate, defaults=said)


def _no_svg(svg: str) -> str:
    """Why a text is no picture that is taken, "" where it is one."""
    if "<!" in svg:
        return "it holds declarations or comments, which no plate has"
    try:
        root = ElementTree.fromstring(svg)  # noqa: S314 - nothing is declared in it, so nothing grows
    except ElementTree.ParseError:
        return "it is no XML"
    if root.tag != f"{_SVG}svg":
        return "it is no SVG"
    for part in root.iter():
        if part.tag.removeprefix(_SVG) not in _DRAWN:
            return f"it holds {part.tag.rpartition('}')[2]}, which no plate has"
        if any(name.rpartition("}")[2] == "href" or _LEADS_OUT.search(value) for name, value in part.attrib.items()):
            return "it leads elsewhere"
    return ""


_SVG = "{http://www.w3.org/2000/svg}"
# What a page draws plates of: nothing that fetches, repeats or runs.
_DRAWN = {
    "svg", "g", "rect", "path", "circle", "ellipse", "line", "polygon", "polyline", "text", "tspan", "title", "desc",
    "defs", "clipPath",
}  # fmt: skip
_LEADS_OUT = re.compile(r"url\((?!#)")


def rastered(picture: bytes, form: Literal["png", "tiff"], dpi: int) -> bytes:
    """A picture as PNG or TIFF with its dots per inch recorded, without an alpha channel."""
    flat, out = _flattened(picture), io.BytesIO()
    if form == "tiff":
        flat.save(out, "TIFF", dpi=(dpi, dpi), compression="tiff_lzw")
    else:
        flat.save(out, "PNG", dpi=(dpi, dpi))
    return out.getvalue()


def paged(picture: bytes, width: float, caption: str, alternative: str) -> bytes:
    """A picture with its caption as a page of a word processor. width: in mm."""
    flat, out = _flattened(picture), io.BytesIO()
    flat.save(out, "PNG")
    return page_of_figure(out.getvalue(), width, caption, alternative)


def _flattened(picture: bytes) -> Image.Image:
    """A picture that came as PNG, without an alpha channel."""
    Image.MAX_IMAGE_PIXELS = MOST_PIXELS
    try:
        with Image.open(io.BytesIO(picture), formats=["PNG"]) as read:
            flat = Image.new("RGB", read.size, "#FFFFFF")
            whole = read.convert("RGBA")
            flat.paste(whole, mask=whole.getchannel("A"))
    except (UnidentifiedImageError, OSError, ValueError, Image.DecompressionBombError) as error:
        raise HeronError("no-picture", "The picture cannot be read as PNG.", where="picture") from error
    return flat
