"""Two who change one plate at once: what was acknowledged stands."""

from concurrent.futures import ThreadPoolExecutor
from threading import Event
from unittest.mock import patch

from django.db import connections
from django.test import TransactionTestCase
from heron.figure import styles

from server.plates import services
from server.plates.documents import PlateDocument, StyleBody, Text
from server.plates.models import Plate
from server.problems import Refusal
from server.server_tests.cases import person, stored


class AtOnce(TransactionTestCase):
    def setUp(self):
        self.owner = person("ada")
        self.table = stored(self.owner)
        source = {"table": str(self.table.pk), "kind": "groups", "variable": "mass", "by": "tray"}
        self.document = PlateDocument.model_validate({"style": styles.ON_SCREEN, "panels": [{"source": source}]})
        self.plates = [services.keep(self.owner, self.table.study, f"Plate {i}", "", self.document) for i in range(4)]

    def raced(self, other, *, held_at: str) -> list[str]:
        """What becomes of an edit of each plate, sent while `other` is half done: held at a call that it makes."""
        half_done, edited = Event(), Event()
        holder, name = (services, held_at) if hasattr(services, held_at) else (Plate.objects, held_at)
        through = getattr(holder, name)

        def held(*args, **more):
            half_done.set()
            edited.wait(1)  # an edit that has to wait for us is not waited for
            return through(*args, **more)

        def edit(plate: Plate) -> str:
            half_done.wait(60)
            changed = self.document.model_copy(update={"caption": Text(text=f"edited {plate.name}")})
            try:
                services.change(self.owner, plate, plate.name, changed, plate.version)
                return "kept"
            except Refusal as refused:
                return refused.code
            finally:
                connections.close_all()

        def run() -> None:
            try:
                with patch.object(holder, name, held):
                    other()
            finally:
                connections.close_all()

        with ThreadPoolExecutor(5) as pool:
            racing = pool.submit(run)
            edits = [pool.submit(edit, plate) for plate in self.plates]
            said = [each.result(60) for each in edits]
            edited.set()
            racing.result(60)
        return said

    def assert_what_was_kept_stands(self, said: list[str]) -> None:
        for plate, answer in zip(Plate.objects.order_by("name"), said, strict=True):
            self.assertIn(answer, ("kept", "changed-since"))
            text = f"edited {plate.name}" if answer == "kept" else None
            self.assertEqual(plate.document["caption"]["text"], text, plate.name)

    def test_a_style_for_all_loses_no_edit(self):
        style = StyleBody.model_validate({**styles.ON_SCREEN, "name": "mine", "font": "serif"})
        said = self.raced(lambda: services.style_all(self.owner, self.table.study, style), held_at="bulk_update")
        self.assertEqual(said, ["changed-since"] * 4)
        self.assert_what_was_kept_stands(said)
        self.assertEqual({plate.document["style"]["font"] for plate in Plate.objects.all()}, {"serif"})

    def test_freezing_loses_no_edit(self):
        said = self.raced(lambda: services.freeze(self.owner, self.plates[0], on=True), held_at="envelope")
        self.assertEqual(said, ["changed-since", "kept", "kept", "kept"])
        self.assert_what_was_kept_stands(said)

    def test_looking_and_moving_lose_no_edit(self):
        said = self.raced(lambda: services.review(self.owner, self.plates[0]), held_at="_reviewed")
        self.assert_what_was_kept_stands(said)
        said = self.raced(lambda: services.move(self.owner, self.plates[0], None), held_at="bulk_update")
        self.assertEqual(Plate.objects.get(pk=self.plates[0].pk).place, 4)
