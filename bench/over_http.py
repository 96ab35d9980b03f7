"""The application as ./start serves it, asked over HTTP and in the browser."""

import http.client
import os
import shutil
import socket
import subprocess
import sys
import time
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from itertools import count

import numpy as np

from bench.timing import best


@dataclass(frozen=True)
class Server:
    port: int
    cookie: str
    table: str


@contextmanager
def served() -> Iterator[Server]:
    from django.conf import settings
    from django.test import Client

    from server.accounts.models import User
    from server.server_tests.cases import stored

    user = User.objects.create(username="reader")
    client = Client()
    client.force_login(user)
    values = np.random.default_rng(3).lognormal(2, 0.7, 100_000)
    table = stored(user, "size (mm)\n" + "\n".join(f"{value:.3f}" for value in values))
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        port = free.getsockname()[1]
    command = [sys.executable, "-m", "gunicorn", "--bind", f"127.0.0.1:{port}", "--workers", "1"]
    command += ["--worker-class", "gthread", "--threads", "8", "--log-level", "error", "server.wsgi"]
    process = subprocess.Popen(command, env={**os.environ, "HERON_DEMO": "1", "HERON_SECURE": "0"})
    try:
        for _ in range(200):
            with socket.socket() as probe:
                if probe.connect_ex(("127.0.0.1", port)) == 0:
                    break
            time.sleep(0.05)
        yield Server(port, client.cookies[settings.SESSION_COOKIE_NAME].value, str(table.pk))
    finally:
        process.terminate()
        process.wait()


def spread_reading(server: Server, line) -> None:
    """All that the Spread stage asks of one variable, one question after the other, against the same core calls."""
    from heron import density, frequency, groups, normality, reading, summary

    from server.studies import store
    from server.studies.models import Variable

    connection = http.client.HTTPConnection("127.0.0.1", server.port)
    fresh = (0.9 + i * 1e-6 for i in count())  # each question a new one, so that no kept answer serves it

    def ask() -> None:
        new = next(fresh)
        for question in (
            f"spread?level={new}",
            f"normality?level={new}",
            f"density?bandwidth={new}",
            f"classes?width={new}",
        ):
            address = f"/api/tables/{server.table}/readings/{question}&variable=size"
            connection.request("GET", address, headers={"Cookie": f"sessionid={server.cookie}"})
            response = connection.getresponse()
            body = response.read()
            assert response.status == 200, body

    numbers = store.column(Variable.objects.get(table_id=server.table), 1).numbers

    def compute() -> None:
        new = next(fresh)
        found = summary.summarize(numbers, level=new)
        reading.describe(found, groups.box(numbers).groups[0])
        normality.curve(found.mean, found.sd)
        normality.check(numbers)
        normality.qq(numbers, level=new)
        density.estimate(numbers, bandwidth=new)
        frequency.classify(numbers, width=new)

    ask()
    compute()
    line(
        "Spread of 100,000 rows over HTTP / the same core calls", best(ask, times=15), best(compute, times=15), most=1.5
    )


def first_view(server: Server) -> None:
    from playwright.sync_api import sync_playwright

    from e2e.browser import FLAGS

    path = shutil.which("chromium")
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=path, args=FLAGS)
        found = []
        for _ in range(4):  # the first one also loads the demo study
            context = browser.new_context(viewport={"width": 1280, "height": 800})
            page = context.new_page()
            page.goto(f"http://127.0.0.1:{server.port}/")
            page.get_by_role("button", name="Look around the demo study").wait_for()
            start = time.perf_counter()
            page.get_by_role("button", name="Look around the demo study").click()
            page.get_by_role("region", name="Reading").wait_for()
            page.locator("rect.stroke-ink").wait_for()
            found.append(time.perf_counter() - start)
            context.close()
        browser.close()
    print(f"    first view of the demo study, from the click: {1000 * min(found[1:]):.0f} ms in the browser")
