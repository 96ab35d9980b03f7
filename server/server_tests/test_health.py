"""What a supervisor and a collector of logs are told, and what they are not."""

import json
from unittest import mock

from django.db import OperationalError, connection
from django.db.migrations.loader import MigrationLoader
from django.db.migrations.recorder import MigrationRecorder
from django.test import TestCase


class Supervised(TestCase):
    def test_it_says_whether_it_lives_and_is_ready(self):
        self.assertEqual(self.client.get("/health").json(), {"status": "ok"})
        self.assertEqual(
            (self.client.get("/ready").status_code, self.client.get("/ready").json()), (200, {"status": "ok"})
        )
        (newest,) = MigrationLoader(connection).graph.leaf_nodes("accounts")
        MigrationRecorder(connection).record_unapplied(*newest)
        answer = self.client.get("/ready")
        self.assertEqual((answer.status_code, answer.json()["status"]), (503, "migrations to run"))
        with mock.patch("server.health.MigrationExecutor", side_effect=OperationalError("away")):
            self.assertEqual(self.client.get("/ready").status_code, 503)
            self.assertEqual(self.client.get("/health").status_code, 200)
        self.assertEqual(self.client.get("/.well-known/security.txt").status_code, 404)
        with self.settings(SECURITY_CONTACT="mailto:lab@example.org"):
            self.assertIn(b"Contact: mailto:lab@example.org\n", self.client.get("/.well-known/security.txt").content)

    def test_a_line_of_the_log_holds_nothing_of_what_was_asked(self):
        with self.assertLogs("heron.requests", "INFO") as told:
            self.client.get("/api/tables/00000000-0000-4000-8000-000000000000/readings/counts?variable=secret")
            self.client.get("/look/a-secret-of-a-link")
        lines = [json.loads(record.getMessage()) for record in told.records]
        self.assertEqual([(one["method"], one["status"]) for one in lines], [("GET", 401), ("GET", 200)])
        self.assertEqual(lines[0]["route"], "api/tables/<table_id>/readings/counts")
        self.assertNotIn("secret", "".join(record.getMessage() for record in told.records).replace("<secret>", ""))
