"""The real interface in Debian's headless Chromium, on a live server over real PostgreSQL."""

import atexit
import re
import shutil
import time
from collections.abc import Callable
from functools import cache
from typing import Any

from django.conf import settings
from django.db import connection
from django.test import Client, LiveServerTestCase
from playwright.sync_api import Browser, Locator, Page, expect, sync_playwright

from server.accounts.models import User
from server.demo import services as demo

FLAGS = [
    "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking",
    "--disable-component-update", "--disable-sync", "--font-render-hinting=none",
]  # fmt: skip
PASSWORD = "a long enough password"
PATIENCE = 60_000  # ms: as long as a busy machine may need; a good one never waits for it
expect.set_options(timeout=PATIENCE)


@cache
def chromium() -> Browser:
    """One browser for all tests of a process; each test has a profile of its own in it."""
    path = shutil.which("chromium-headless-shell")
    assert path, "chromium-headless-shell is not on PATH; ./check e2e installs it"
    playwright = sync_playwright().start()
    browser = playwright.chromium.launch(executable_path=path, args=FLAGS)
    atexit.register(playwright.stop)
    atexit.register(browser.close)
    return browser


class InBrowser:
    """Each test has a fresh profile; whatever the browser complains of fails it."""

    width, height = 1280, 800
    # What a test provokes on purpose, such as a refused upload, the browser reports too.
    tolerated = re.compile(r"status of 4\d\d")

    def open_browser(self, address: str, **more: Any) -> None:
        self.complaints: list[str] = []
        self.context = chromium().new_context(
            base_url=address,
            viewport={"width": self.width, "height": self.height},
            accept_downloads=True,
            reduced_motion="reduce",
            **more,
        )
        self.addCleanup(self._close)
        self.context.set_default_timeout(PATIENCE)
        self.page = self.new_page()

    def tearDown(self) -> None:
        self.assertEqual(self.complaints, [])

    def _close(self) -> None:
        for page in self.context.pages:  # a question that a test held up ends with it
            page.unroute_all(behavior="ignoreErrors")
        self.context.close()

    def new_page(self) -> Page:
        page = self.context.new_page()
        page.on("pageerror", lambda error: self.complaints.append(str(error)))
        page.on("console", self._listen)
        return page

    def _listen(self, message: Any) -> None:
        if message.type == "error" and not self.tolerated.search(message.text):
            self.complaints.append(message.text)

    def button(self, name: str) -> Locator:
        return self.page.get_by_role("button", name=name, exact=True)


class BrowserCase(InBrowser, LiveServerTestCase):
    """The interface on a server within this process."""

    def setUp(self) -> None:
        self.open_browser(self.live_server_url)

    def _fixture_teardown(self) -> None:
        """Empty the tables, row by row: the server may still be at work for a page that is gone, and what is at work
        locks out whoever would empty them at once."""
        with connection.cursor() as cursor:
            cursor.execute("SET session_replication_role = replica")  # in any order
            for table in connection.introspection.django_table_names(only_existing=True, include_views=False):
                cursor.execute(f'DELETE FROM "{table}"')
            cursor.execute("RESET session_replication_role")

    def person(self, name: str = "ada", *, with_demo: bool = False) -> User:
        user = User.objects.create_user(name, password=PASSWORD)
        if with_demo:
            demo.load(user)
        return user

    def enter_as(self, user: User) -> None:
        client = Client()
        client.force_login(user)
        cookie = client.cookies[settings.SESSION_COOKIE_NAME].value
        self.context.add_cookies([{"name": settings.SESSION_COOKIE_NAME, "value": cookie, "url": self.live_server_url}])

    def open_demo_table(self, variable: str = "shell_mass", table: str = "Oyster nursery") -> None:
        user = self.person(with_demo=True)
        self.enter_as(user)
        study = user.memberships.get().study
        self.page.goto(f"/tables/{study.tables.get(name=table).pk}/spread?variable={variable}")
        expect(self.plot).to_be_visible()

    def tab_to(self, name: str | re.Pattern[str], most: int = 60) -> None:
        for _ in range(most):
            self.page.keyboard.press("Tab")
            words = self.page.evaluate(
                "[document.activeElement].map((on) => `${on.getAttribute('aria-label') ?? ''} ${on.textContent}`)[0]"
            )
            if re.search(name, words):
                return
        raise AssertionError(f"{name} was not reached with the Tab key")

    def paste_table(self, rows: str) -> None:
        """Rows are pasted on the first stage, and looked at."""
        self.page.keyboard.press("1")
        self.page.get_by_label("Or paste rows").fill(rows)
        self.button("Preview").click()

    @property
    def plot(self) -> Locator:
        return self.page.get_by_role("region", name="Shape on one axis").get_by_role("application")

    @property
    def sheet(self) -> Locator:
        """The picture of Spread as it is drawn, without what is laid over it."""
        return self.page.locator(".stack-card svg:has(> [data-paper])")

    def marks(self, role: str) -> Locator:
        """The marks of one kind on the picture."""
        return self.sheet.locator(f"[data-role='{role}']")

    def words(self, side: str) -> Locator:
        """What is written along an axis of the picture: names or numbers, and its title."""
        return self.sheet.locator(f"[data-part='0:{side}'] [data-words]")

    @property
    def reading(self) -> Locator:
        return self.page.get_by_role("region", name="Reading")

    @property
    def sentence(self) -> Locator:
        return self.page.get_by_role("heading", level=1)

    @property
    def strip(self) -> Locator:
        return self.page.get_by_role("region", name="Selected rows")

    def type_choice(self, key: str, name: str, text: str) -> None:
        """Open a choice by its key, type once it listens, and take the first that is found."""
        self.page.keyboard.press(key)
        expect(self.page.get_by_role("combobox", name=name)).to_be_focused()
        self.page.keyboard.type(text)
        self.page.keyboard.press("Enter")

    def soon(self, holds: Callable[[], None]) -> None:
        """It holds, at the latest when the picture has followed what was chosen."""
        for _ in range(120):
            try:
                return holds()
            except AssertionError:
                time.sleep(0.25)
        return holds()

    def drawn_anew(self) -> None:
        """Each picture is the one that was chosen, and none is on its way."""
        expect(self.page.locator("[aria-busy=true]")).to_have_count(0)

    def stays(self, part: Locator) -> None:
        """It has stood in one place for a while: whatever the stage still waited for is there."""
        seen = []

        def still() -> None:
            seen.append(part.bounding_box())
            self.assertEqual([seen[-1]] * 4, seen[-4:])

        self.soon(still)

    def paste(self, into: Locator, text: str) -> None:
        into.evaluate(
            """(element, text) => {
              const data = new DataTransfer();
              data.setData("text", text);
              const manner = { clipboardData: data, bubbles: true, cancelable: true };
              element.dispatchEvent(new ClipboardEvent("paste", manner));
            }""",
            text,
        )

    def assert_nothing_scrolls_sideways(self) -> None:
        over = self.page.evaluate(
            "[document.documentElement, ...document.querySelectorAll('main, nav')]"
            ".map((part) => part.scrollWidth - part.clientWidth)"
        )
        self.assertLessEqual(max(over), 0)
