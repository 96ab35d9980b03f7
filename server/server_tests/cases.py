"""A person with a study and a small table, and the API as a browser calls it."""

import io
import json
import math
import struct
from typing import Any

import numpy as np
from django.test import Client, TestCase
from heron import intake

from server.accounts.models import User
from server.caching import forget_everything
from server.studies import services
from server.studies.models import Study, Table

SMALL = "tray,mass (g),eggs,when\n" + "\n".join(
    f"{'ab'[i % 2]},{'n/r' if i == 4 else f'{math.exp(i / 7):.2f}'},{i % 4 * 3},2026-03-{i + 1:02d}" for i in range(30)
)


def person(name: str) -> User:
    return User.objects.create_user(name, password="a long enough password")


def stored(owner: User, text: str = SMALL, name: str = "Small", **choices: Any) -> Table:
    study = services.create_study(owner, f"Study of {owner.username}")
    return stored_in(study, text, name, **choices)


def stored_in(study: Study, text: str, name: str = "Small", **choices: Any) -> Table:
    data = text.encode()
    source = services.keep_file(f"{name.lower()}.csv", [data])
    return services.store_table(study, name, intake.read(data, **choices).table, source, choices=choices)


def signed_in(user: User) -> Client:
    client = Client()
    client.force_login(user)
    return client


def unpacked(body: bytes) -> Any:
    """An envelope with its arrays put back where they belong."""
    (length,) = struct.unpack("<I", body[:4])
    start = -(-(4 + length) // 8) * 8

    def resolve(value: Any) -> Any:
        if isinstance(value, list):
            return [resolve(item) for item in value]
        if not isinstance(value, dict):
            return value
        if set(value) == {"dtype", "offset", "length"}:
            return np.frombuffer(body, value["dtype"], value["length"], start + value["offset"])
        return {key: resolve(item) for key, item in value.items()}

    return resolve(json.loads(body[4 : 4 + length]))


def as_file(text: str | bytes, name: str) -> io.BytesIO:
    file = io.BytesIO(text if isinstance(text, bytes) else text.encode())
    file.name = name
    return file


class StudyCase(TestCase):
    @classmethod
    def setUpTestData(cls) -> None:
        cls.owner = person("ada")
        cls.table = stored(cls.owner)
        cls.study = cls.table.study

    def setUp(self) -> None:
        self.client = signed_in(self.owner)
        # A test that is rolled back leaves a revision that the next one reaches by another way.
        forget_everything()

    def figure(self, source: dict[str, Any], *, at: int | None = None) -> Any:
        """What a stage shows of a source."""
        asked = {"panels": json.dumps([{"source": source}]), **({} if at is None else {"at": at})}
        response = self.client.get(f"/api/tables/{source['table']}/figure", asked)
        self.assertEqual(response.status_code, 200, response.content[:600])
        return unpacked(response.content)

    def layers(self, variable: str, **said: Any) -> dict[str, Any]:
        """The layers of a picture of a variable, by their roles."""
        source = {"kind": "shape", "table": str(self.table.pk), "variable": variable, **said}
        return {each["role"]: each for each in self.figure(source)["scenes"][0]["layers"]}

    def points(self, variable: str, table: Any = None, *, at: int | None = None, **said: Any) -> Any:
        """The values of a variable as a picture has them, point by point: (across, rows, up)."""
        table = table or self.table
        shape = {"layers": ["points"]} if said.get("kind", "shape") == "shape" else {}
        source = {"kind": "shape", "table": str(table.pk), "variable": variable, **shape, **said}
        layers = [each for each in self.figure(source, at=at)["scenes"][0]["layers"] if each["form"] == "points"]
        return tuple(np.concatenate([np.empty(0), *(layer[name] for layer in layers)]) for name in ("x", "rows", "y"))

    def reading(self, name: str, variable: str, table: Table | None = None, **options: Any) -> Any:
        response = self.client.get(self.address(name, table), {"variable": variable, **options})
        self.assertEqual(response.status_code, 200, response.content[:500])
        is_binary = response["Content-Type"] == "application/octet-stream"
        return unpacked(response.content) if is_binary else response.json()

    def assert_used(self, result: Any, expected: dict[str, Any]) -> None:
        """What a reading says of its rows, where no variable weights them."""
        self.assertEqual(result["used"], {**expected, "weighted_by": "", "weightless": 0, "sampled": 0})

    def address(self, name: str, table: Table | None = None) -> str:
        return f"/api/tables/{(table or self.table).pk}/readings/{name}"

    def act(self, address: str, body: dict[str, Any]) -> Any:
        return self.client.post(f"/api/{address}", body, content_type="application/json")

    def on_table(self, deed: str, **body: Any) -> Any:
        """A decision on the table, made on its newest revision unless said otherwise."""
        body.setdefault("revision", Table.objects.get(pk=self.table.pk).revision)
        return self.act(f"tables/{self.table.pk}/ledger{deed}", body)

    def describe(self, *variables: str, revision: int | None = None, **changes: Any) -> Any:
        more = {} if revision is None else {"revision": revision}
        return self.on_table("/describe", variables=variables or ["mass"], changes=changes, **more)

    def assert_problem(self, response: Any, status: int, code: str) -> Any:
        self.assertEqual(response.status_code, status, response.content[:500])
        self.assertEqual(response["Content-Type"], "application/problem+json")
        said = response.json()
        self.assertEqual(said["code"], code)
        self.assertTrue(said["problem"])
        return said
