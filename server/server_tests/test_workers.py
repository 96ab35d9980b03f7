"""Several web workers on one socket: what is asked of one is known to the others."""

import json
import os
import socket
import subprocess
import sys
import time
from concurrent.futures import ThreadPoolExecutor
from http.client import HTTPConnection
from pathlib import Path
from typing import Any

import numpy as np
from django.conf import settings
from django.db import connection
from django.test import Client, TransactionTestCase

from server.server_tests.cases import person, signed_in, stored

WORKERS = 3
ROOT = Path(__file__).resolve().parents[2]


class Workers(TransactionTestCase):
    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        listening = socket.create_server(("127.0.0.1", 0), backlog=100)
        cls.addClassCleanup(listening.close)
        cls.port = listening.getsockname()[1]
        # Outside of DEMO and so on they stand as this process does, on the tests' own database.
        environment = {
            **os.environ, "HERON_DB_NAME": str(connection.settings_dict["NAME"]), "HERON_SECURE": "0",
            "HERON_SECRET_KEY": settings.SECRET_KEY, "PYTHONPATH": f"{ROOT}:{ROOT / 'core'}",
        }  # fmt: skip
        for _ in range(WORKERS):
            worker = subprocess.Popen(
                [sys.executable, "-W", "ignore", "-m", "server.serving", "--inherited"],
                stdin=listening, cwd=ROOT, env=environment,
            )  # fmt: skip
            cls.addClassCleanup(worker.wait, 30)
            cls.addClassCleanup(worker.terminate)

    def setUp(self) -> None:
        user = person("ada")
        values = np.random.default_rng(3).normal(10, 2, 60_000)
        rows = "\n".join(f"{'ab'[i % 2]},{value:.2f}" for i, value in enumerate(values))
        table = stored(user, f"g,x\n{rows}\n", kinds={"x": "continuous"})
        self.comparing = f"tables/{table.pk}/readings/compare?variable=x&by=g&bars="
        client: Client = signed_in(user)
        self.cookies = "; ".join(f"{name}={cookie.value}" for name, cookie in client.cookies.items())

    def ask(self, path: str, view: str = "", body: dict[str, Any] | None = None) -> tuple[int, Any]:
        """Ask over a connection of its own, so that whoever is free answers."""
        asking = HTTPConnection("127.0.0.1", self.port, timeout=120)
        headers = {"Cookie": self.cookies}
        if view:
            headers["X-Heron-View"] = view
        if body is not None:
            token = "x" * 32
            headers |= {"Content-Type": "application/json", "X-CSRFToken": token}
            headers["Cookie"] += f"; {settings.CSRF_COOKIE_NAME}={token}"
        asking.request("GET" if body is None else "POST", f"/api/{path}", body and json.dumps(body), headers)
        answer = asking.getresponse()
        data = answer.read()
        asking.close()
        said = json.loads(data) if data and "json" in answer.headers.get("Content-Type", "") else None
        return answer.status, said

    def test_progress_is_heard_and_stop_stops_whichever_worker_is_asked(self) -> None:
        with ThreadPoolExecutor(1) as other:
            for i in range(1, 5):
                asked = other.submit(self.ask, f"{self.comparing}bootstrap-interval&level=0.9{i}", f"me:{i}")
                heard = None
                for _ in range(600):
                    heard = self.ask("readings/progress?view=me")[1]["share"]
                    if heard is not None or asked.done():
                        break
                    time.sleep(0.05)
                self.assertIsNotNone(heard)
                self.assertEqual(self.ask("readings/stop", body={"view": "me"})[0], 204)
                status, said = asked.result()
                self.assertEqual((status, said["code"]), (409, "overtaken"))

    def test_a_newer_question_overtakes_an_older_one_at_another_worker(self) -> None:
        with ThreadPoolExecutor(1) as other:
            older = other.submit(self.ask, f"{self.comparing}bootstrap-interval", "me:1")
            while self.ask("readings/progress?view=me")[1]["share"] is None and not older.done():
                time.sleep(0.05)
            self.assertEqual(self.ask(f"{self.comparing}sd", "me:2")[0], 200)
            self.assertEqual(older.result()[0], 409)
