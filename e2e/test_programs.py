"""Programs: personal tokens, the page of the API, its examples as docs have them; copies of the whole database."""

import os
import re
import subprocess
import sys
import tempfile
from pathlib import Path

from django.db import connection
from django.test import TransactionTestCase
from playwright.sync_api import Route, expect

from e2e.browser import BrowserCase
from e2e.plating import PlateCase
from server.accounts import services
from server.accounts.models import User
from server.ledger.services import Asked, decide
from server.plates.models import Plate
from server.server_tests.cases import stored
from server.studies import selectors, store
from server.studies.models import Study, Table
from server.studies.services import remove_table

ROOT = Path(__file__).parents[1]


class Programs(BrowserCase):
    def test_a_token_is_made_shown_once_and_revoked(self):
        user = self.person()
        self.enter_as(user)
        held: list[Route] = []
        self.page.route("**/api/studies", lambda route: held.append(route))
        self.page.goto("/")
        self.button("ada").click()
        account = self.page.get_by_role("dialog", name="Account")
        account.get_by_text("Personal tokens").click()
        for route in held:  # what comes late does not take away what was opened meanwhile
            route.continue_()
        self.page.unroute("**/api/studies")
        expect(self.page.get_by_label("Title of the study")).to_be_attached()
        account.get_by_label("Name of the token").fill("nightly import")
        account.get_by_role("button", name="Make a token").click()
        shown = account.get_by_role("status").locator("code")
        expect(shown).to_have_text(re.compile("^heron_"))
        self.assertEqual(services.user_of_token(shown.inner_text()), user)
        self.page.reload()
        self.button("ada").click()
        account.get_by_text("Personal tokens").click()
        expect(account.get_by_role("list", name="Tokens")).to_contain_text("nightly import")
        expect(shown).to_have_count(0)
        account.get_by_role("button", name="revoke").click()
        expect(account.get_by_role("list", name="Tokens").get_by_role("listitem")).to_have_count(0)
        self.assertEqual(user.tokens.count(), 0)

    def test_the_page_lists_every_operation_and_finds_one(self):
        self.enter_as(self.person())
        self.page.goto("/reference")
        document = self.page.evaluate("fetch('/api/openapi.json').then((answer) => answer.json())")
        n = sum(len(methods) for methods in document["paths"].values())
        expect(self.sentence).to_contain_text(f"{n} operations")
        self.page.get_by_label("Find", exact=True).fill("post plates words")
        card = self.page.get_by_role("region", name="Plates")
        expect(card.get_by_role("listitem")).to_have_count(1)
        expect(card).to_contain_text("/api/plates/words")
        expect(card).to_contain_text("takes WordsIn; answers 200 WordsOut")
        self.assert_nothing_scrolls_sideways()

    def example(self, language: str) -> str:
        text = (ROOT / "docs" / "api.md").read_text()
        return re.findall(rf"```{language}\n(.*?)```", text, re.S)[-1]

    def run_example(self, *command: str) -> str:
        user = self.person("lin" if command[0] == "bash" else "kim")
        token = services.make_token(user, "example")[1]
        with tempfile.TemporaryDirectory() as folder:
            said = subprocess.run(
                command, cwd=folder, env={**os.environ, "HERON": self.live_server_url, "TOKEN": token},
                capture_output=True, text=True, timeout=60, check=False,
            )  # fmt: skip
            self.assertEqual(said.returncode, 0, said.stderr + said.stdout)
            files = sorted(path.name for path in Path(folder).iterdir())
        plate = Plate.objects.get(author=user)
        self.assertEqual((plate.name, plate.study.owner), ("Mass by bed", user))
        self.assertIn(
            "Mass (g) by bed. Points: rows, scattered sideways.",
            said.stdout.replace("Open marks: mean; bars: one SD to each side. ", ""),
        )
        return f"{said.stdout}{files}"

    def test_the_example_for_curl_runs_as_it_stands(self):
        said = self.run_example("bash", "-euo", "pipefail", "-c", self.example("sh"))
        self.assertIn('"value": "high", "count": 3', said)
        self.assertIn("['plate-data.csv', 'plate.json', 'shells.csv']", said)

    def test_the_example_for_python_runs_as_it_stands(self):
        said = self.run_example(sys.executable, "-c", self.example("python"))
        self.assertIn("'value': 'high', 'count': 3", said)
        self.assertIn(",bars,high,,high,6.16666", said)


class Copies(TransactionTestCase):
    """Of the test's own database, on the same server, by the two commands."""

    def run_script(self, name: str, *arguments: str) -> subprocess.CompletedProcess[str]:
        settings = connection.settings_dict
        names = ("HOST", "PORT", "NAME", "USER", "PASSWORD")
        said = {each: str(settings[each]) for each in names}
        env = {**os.environ, **{f"HERON_DB_{each}": value for each, value in said.items()}}
        return subprocess.run(
            [f"scripts/{name}.sh", *arguments],
            cwd=ROOT,
            env=env,
            capture_output=True,
            text=True,
            timeout=120,
            check=False,
        )

    def test_everything_comes_back_as_it_was_copied(self):
        user = User.objects.create_user("ada", password="a long enough password")
        table = stored(user)
        decide(user, table, Asked(kind="set-aside", rows=[4], variable="", reason="odd", revision=1))
        before = store.column(selectors.variables(Table.objects.get())[1])
        source = selectors.file_bytes(Table.objects.get().source)
        with tempfile.TemporaryDirectory() as folder:
            copy = Path(folder) / "copy.dump"
            made = self.run_script("backup", str(copy))
            self.assertEqual(made.returncode, 0, made.stderr)
            self.assertEqual(copy.stat().st_mode & 0o077, 0)
            self.assertIn("is there already", self.run_script("backup", str(copy)).stderr)
            remove_table(user, table)
            Study.objects.all().delete()
            User.objects.create_user("eve", password="a long enough password")
            connection.close()
            back = self.run_script("restore", str(copy))
            self.assertEqual(back.returncode, 0, back.stderr)
            broken = Path(folder) / "broken.dump"
            broken.write_bytes(copy.read_bytes()[:200])
            refused = self.run_script("restore", str(broken))
            self.assertEqual((refused.returncode, refused.stderr.count("\n")), (1, 1))
            self.assertIn("is no copy made by", refused.stderr)
        self.assertEqual(list(User.objects.values_list("username", flat=True)), ["ada"])
        self.assertTrue(User.objects.get().check_password("a long enough password"))
        table = Table.objects.get()
        entry = table.entries.get()
        self.assertEqual((entry.reason, entry.rows, table.revision), ("odd", [[4, 4]], 2))
        self.assertEqual(selectors.file_bytes(table.source), source)
        after = store.column(selectors.variables(table)[1])
        self.assertEqual(
            (after.numbers.tobytes(), after.missing_counts), (before.numbers.tobytes(), before.missing_counts)
        )

    def test_what_is_missing_is_one_clear_line(self):
        for name, arguments in (
            ("backup", []),
            ("backup", ["/no/such/folder/x"]),
            ("restore", ["/no/such"]),
            ("restore", []),
        ):
            said = self.run_script(name, *arguments)
            self.assertEqual((said.returncode, said.stderr.count("\n")), (1, 1), said.stderr)
            self.assertTrue(said.stderr.startswith("velvet heron: "))


class MethodsInWords(PlateCase):
    def test_the_paragraph_covers_the_plates_chosen_and_is_saved(self):
        self.made(self.groups(groups={"bars": "bootstrap-interval"}), name="Lengths")
        self.made(self.pair(pair={"lines": ["median"]}), name="Pairs")
        self.set_aside(78)
        self.page.goto(f"/studies/{self.study.pk}/plates")
        self.page.get_by_role("link", name="methods paragraph").click()
        expect(self.sentence).to_contain_text("Hand on Ellery Sound as a methods paragraph")
        words = self.page.get_by_role("region", name="In words")
        expect(words).to_contain_text("Oyster nursery: 416 rows of 10 variables, read from oyster_nursery.csv")
        expect(words).to_contain_text("Set aside: 1 row (78) as “odd” (Ledger 1).")
        expect(words).to_contain_text("bootstrap intervals of the mean (9\u202f999 resamples) (Efron 1987).")
        expect(words).to_contain_text("Sen, P. K. (1968).")
        self.page.get_by_label("Pairs", exact=True).click()
        expect(self.page.get_by_role("region", name="Plates covered")).to_contain_text("1 plate")
        expect(words).not_to_contain_text("Sen, P. K.")
        with self.page.expect_download() as download:
            self.button("Save as .md").click()
        self.assertEqual(download.value.suggested_filename, "ellery-sound-methods.md")
        text = download.value.path().read_text()
        self.assertTrue(text.startswith("# Methods of Ellery Sound\n\nOyster nursery: 416 rows"))
        self.assertIn("## References\n\n- Efron, B. (1987).", text)
        self.context.grant_permissions(["clipboard-read", "clipboard-write"])
        self.button("Copy").click()
        expect(self.page.get_by_role("status").filter(has_text="clipboard")).to_be_visible()
        self.assertEqual(self.page.evaluate("navigator.clipboard.readText()"), text)

    def test_a_study_without_plates_says_how_they_come(self):
        self.page.goto(f"/studies/{self.study.pk}/record")
        expect(self.page.get_by_role("region", name="In words")).to_contain_text("There is no plate yet.")
