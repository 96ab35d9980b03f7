"""The application as ./start serves it, asked over HTTP and in the browser."""

import http.client
import json
import os
import shutil
import socket
import subprocess
import sys
import time
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from functools import partial
from itertools import count
from urllib.parse import urlencode

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
    command = [sys.executable, "-m", "server.serving", "--port", str(port)]
    process = subprocess.Popen(command, env={**os.environ, "HERON_DEMO": "shared", "HERON_SECURE": "0"})
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


def spread_reading(server: Server, line, table: str, variable: str, turns: int) -> None:
    """What the Spread stage asks of one variable, question by question, against the same core calls."""
    from heron import density, frequency, groups, normality, readings, summary

    from server.studies import store
    from server.studies.models import Variable

    connection = http.client.HTTPConnection("127.0.0.1", server.port)
    numbers = store.load(Variable.objects.get(table_id=table, symbol=variable)).numbers
    fresh = (0.9 + i * 1e-6 for i in count())  # each question a new one, so that no kept answer serves it

    def address_of(question: str) -> str:
        level = next(fresh)
        if question != "figure":
            return f"/api/tables/{table}/readings/{question}?level={level}&variable={variable}"
        shape = {"kind": "shape", "table": table, "variable": variable, "level": level}
        return f"/api/tables/{table}/figure?{urlencode({'panels': json.dumps([{'source': shape}])})}"

    def ask(question: str) -> None:
        address = address_of(question)
        connection.request("GET", address, headers={"Cookie": f"sessionid={server.cookie}"})
        response = connection.getresponse()
        body = response.read()
        assert response.status == 200, body

    def draw() -> None:
        summary.summarize(numbers, level=next(fresh))
        groups.boxes(numbers)
        frequency.classify(numbers, rule="freedman-diaconis")
        density.kernel_density(numbers)

    def describe() -> None:
        result = summary.summarize(numbers, level=next(fresh))
        readings.words_on_shape(result, groups.boxes(numbers).groups[0])
        normality.curve(result.mean, result.sd)
        frequency.classify(numbers, rule="freedman-diaconis")
        density.kernel_density(numbers)

    def judge() -> None:
        normality.check_normality(numbers)
        normality.quantile_plot(numbers, level=next(fresh))

    work = {
        "figure": draw,
        "spread": describe,
        "normality": judge,
    }
    for question, compute in work.items():  # each thread of the server has its first questions behind it
        for _ in range(12):
            ask(question)
        compute()
    ours = bare = 0.0
    for question, compute in work.items():
        # By turns, so that a slow moment of the machine meets both.
        taken = [(best(partial(ask, question), times=1), best(compute, times=1)) for _ in range(turns)]
        ours += min(turn[0] for turn in taken)
        bare += min(turn[1] for turn in taken)
    line(f"Spread of {numbers.size:,} rows over HTTP / the same core calls", ours, bare, most=1.4)


def large_table() -> str:
    """A table of 1,000,000 rows, by its id."""
    from server.accounts.models import User
    from server.server_tests.cases import stored_in
    from server.studies.services import create_study

    rng = np.random.default_rng(4)
    values = np.round(rng.lognormal(2, 0.7, (1_000_000, 3)), 3)
    text = "a,b,c\n" + "\n".join(f"{a},{b},{c}" for a, b, c in values.tolist())
    return str(stored_in(create_study(User.objects.get(username="reader"), "Large"), text, "Large").pk)


def grid_pages(server: Server, table: str) -> None:
    """How long a page of the grid takes, anywhere in 1,000,000 rows, in their own order and sorted."""
    rng = np.random.default_rng(5)
    connection = http.client.HTTPConnection("127.0.0.1", server.port)
    for view in ("", "&sort=b&descending=true"):
        taken = []
        for start in [0, *rng.integers(0, 999_900, 60).tolist()]:
            begin = time.perf_counter()
            address = f"/api/tables/{table}/grid?count=100&start={start}{view}"
            connection.request("GET", address, headers={"Cookie": f"sessionid={server.cookie}"})
            response = connection.getresponse()
            response.read()
            assert response.status == 200
            taken.append(1000 * (time.perf_counter() - begin))
        order = "sorted by one" if view else "as they came"
        print(
            f"    a page of 100 of 1,000,000 rows, {order}: first {taken[0]:.0f} ms, then median "
            f"{np.median(taken[1:]):.0f} ms, p95 {np.quantile(taken[1:], 0.95):.0f} ms"
        )


def first_view(server: Server) -> None:
    from playwright.sync_api import Response, sync_playwright

    from e2e.browser import FLAGS

    path = shutil.which("chromium-headless-shell")
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=path, args=FLAGS)
        result = []
        for _ in range(4):  # the first one also loads the demo study
            context = browser.new_context(viewport={"width": 1280, "height": 800})
            page = context.new_page()
            scripts: list[Response] = []
            page.on("response", lambda response, kept=scripts: kept.append(response))
            page.goto(f"http://127.0.0.1:{server.port}/")
            page.get_by_role("button", name="Open the demo study").wait_for()
            start = time.perf_counter()
            page.get_by_role("button", name="Open the demo study").click()
            page.get_by_role("region", name="Reading").wait_for()
            page.locator("[data-of=quartiles]").wait_for()
            result.append(time.perf_counter() - start)
            sent = sum(script.request.sizes()["responseBodySize"] for script in scripts if script.url.endswith(".js"))
            context.close()
        browser.close()
    print(f"    JavaScript fetched for the first view: {sent / 1000:.0f} kB as sent (at most 250)")
    print(f"    first view of the demo study, from the click: {1000 * min(result[1:]):.0f} ms in the browser")
