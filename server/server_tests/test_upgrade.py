"""A database that people worked in under an earlier version: brought up to date, back for a while, and up again."""

import csv
import os
import subprocess
from pathlib import Path
from statistics import fmean
from typing import Any

import psycopg
from django.core.management import call_command
from django.db import connection
from django.test import Client, TransactionTestCase, override_settings

from server.caching import forget_everything
from server.server_tests.cases import unpacked

ROOT = Path(__file__).resolve().parents[2]
# Of 26 November 2026: two people, three tables, decisions on one of them, a variable that follows, a plate, a link.
EARLIER = Path(__file__).with_name("earlier") / "november.dump"
# How far back a database goes without its documents being rewritten; see docs/deploy.md.
BACK_TO = {"accounts": "0005", "reports": "zero", "plates": "0005", "readings": "0001", "studies": "0010"}


@override_settings(PASSWORD_HASHERS=["django.contrib.auth.hashers.Argon2PasswordHasher"])
class Upgrade(TransactionTestCase):
    def setUp(self) -> None:
        self.of_tests = connection.settings_dict["NAME"]
        self.name = f"test_earlier_{os.getpid()}"
        self.administer(f'CREATE DATABASE "{self.name}"')
        self.addCleanup(self.leave)
        said = connection.settings_dict
        programs = sorted(Path("/usr/lib/postgresql").glob("*/bin"))[-1]
        at = ["-h", said["HOST"], "-p", str(said["PORT"]), "-U", said["USER"], "-d", self.name, "--no-owner"]
        environment = {**os.environ, "PGPASSWORD": said["PASSWORD"]}
        subprocess.run([programs / "pg_restore", *at, EARLIER], env=environment, check=True, timeout=120)
        connection.close()
        connection.settings_dict["NAME"] = self.name
        forget_everything()

    def leave(self) -> None:
        connection.close()
        connection.settings_dict["NAME"] = self.of_tests
        forget_everything()
        self.administer(f'DROP DATABASE "{self.name}" WITH (FORCE)')

    def administer(self, statement: str) -> None:
        said = connection.settings_dict
        at = {name.lower(): said[name] for name in ("HOST", "PORT", "USER", "PASSWORD")}
        with psycopg.connect(dbname="postgres", autocommit=True, **at) as administering:
            administering.execute(statement)

    def told(self) -> dict[str, Any]:
        """What its owner sees."""
        forget_everything()
        client = Client()
        said = {"name": "ada", "password": "a long enough password"}
        self.assertEqual(client.post("/api/session/sign-in", said, content_type="application/json").status_code, 200)
        (study,) = client.get("/api/studies").json()
        table = next(table["id"] for table in study["tables"] if table["name"] == "Oyster nursery")
        (plate,) = client.get(f"/api/studies/{study['id']}/plates").json()
        picture = client.get(f"/api/plates/{plate['id']}")
        spread = unpacked(client.get(f"/api/tables/{table}/readings/spread?variable=shell_mass").content)
        return {
            "study": study,
            "members": client.get(f"/api/studies/{study['id']}/people").json(),
            "table": client.get(f"/api/tables/{table}").json(),
            "ledger": client.get(f"/api/tables/{table}/ledger").json(),
            "plate": (picture.status_code, picture.json()),
            "numbers": spread["summary"],
        }

    def test_what_people_kept_is_there_after_an_upgrade_and_after_a_way_back(self) -> None:
        call_command("migrate", verbosity=0)
        told = self.told()
        self.assertEqual([entry["kind"] for entry in told["ledger"]["entries"]][:2], ["correct", "set-aside"])
        self.assertEqual(told["plate"][0], 200)
        with (ROOT / "demo" / "oyster_nursery.csv").open() as file:
            rows = list(csv.DictReader(file))
        (name,) = [name for name in rows[0] if name.startswith("shell mass")]
        masses = [row[name] for number, row in enumerate(rows, 1) if number != 302]
        read = [float(mass) for mass in masses if mass not in ("", "n/r", "-99")]
        self.assertAlmostEqual(told["numbers"]["mean"], fmean(read), 12)
        labels = {variable["symbol"]: variable["label"] for variable in told["table"]["variables"]}
        self.assertEqual((labels["shell_mass"], labels["heavier"]), ("mass of shell", "heavier"))
        for app, migration in BACK_TO.items():
            call_command("migrate", app, migration, verbosity=0)
        call_command("migrate", verbosity=0)
        self.assertEqual(self.told(), told)
