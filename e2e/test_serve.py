"""./serve, as a lab would have it: over TLS, by invitation, with a second factor, an institution and quotas."""

import json
import re
import signal
import ssl
import subprocess
import time
import urllib.request
import zipfile
from datetime import UTC, datetime
from pathlib import Path
from unittest import TestCase

from playwright.sync_api import Page, expect

from e2e.browser import PASSWORD, InBrowser
from server.server_tests.provider import CLIENT, SECRET, code_of, institution
from server.server_tests.supervised import ROOT, a_folder_of_its_own

FRESH = "tidal flats at 6 a.m."
SCHOOL = "Ellery Sound University"


class Served(InBrowser, TestCase):
    def setUp(self) -> None:
        self.var, self.port, environment = a_folder_of_its_own(self)
        self.school = self.enterContext(institution())
        self.environment = {
            **environment, "HERON_INSTITUTION": SCHOOL, "HERON_OIDC_ADDRESS": self.school.address,
            "HERON_OIDC_CLIENT": CLIENT, "HERON_OIDC_SECRET": SECRET, "HERON_SIGN_UP": "institution",
        }  # fmt: skip
        self.serve()
        self.open_browser(f"https://localhost:{self.port}", ignore_https_errors=True)

    def serve(self) -> None:
        self.said = (self.var / "said").open("w+")
        self.addCleanup(self.said.close)
        self.serving = subprocess.Popen(
            ["./serve", "--port", str(self.port)], cwd=ROOT, stdout=self.said, stderr=subprocess.STDOUT,
            env=self.environment,
        )  # fmt: skip
        self.addCleanup(self.stop)
        for _ in range(3_000):
            told = (self.var / "said").read_text()
            if "stands at" in told or self.serving.poll() is not None:
                break
            time.sleep(0.1)
        self.assertIn(f"stands at https://localhost:{self.port}", told)

    def run_script(self, *command: str) -> str:
        """What a command says; it must go well."""
        done = subprocess.run(command, cwd=ROOT, env=self.environment, capture_output=True, text=True, timeout=300)
        self.assertEqual(done.returncode, 0, done.stderr)
        return done.stdout

    def stop(self) -> None:
        self.serving.send_signal(signal.SIGTERM)
        self.serving.wait(60)

    def sign_in(self, page: Page, name: str, password: str = PASSWORD) -> None:
        page.goto("/")
        page.get_by_label("Name").fill(name)
        page.get_by_label("Password", exact=True).fill(password)
        page.get_by_role("button", name="Sign in", exact=True).click()

    def sign_out(self, page: Page, name: str) -> None:
        page.get_by_role("button", name=name, exact=True).click()
        page.get_by_role("button", name="Sign out", exact=True).click()
        expect(page.get_by_role("heading", name="With an account")).to_be_visible()

    def second_factor(self, page: Page) -> str:
        """Turn it on; one of the ten codes."""
        page.goto("/account")
        card = page.get_by_role("region", name="Second factor")
        card.get_by_role("button", name="Set up").click()
        secret = card.locator("code").inner_text().replace(" ", "")
        card.get_by_label("The code that the app shows").fill(code_of(secret))
        card.get_by_role("button", name="Turn on").click()
        codes = card.get_by_role("status").locator("code span")
        expect(codes).to_have_count(10)
        return codes.first.inner_text()

    def of_another(self) -> Page:
        """A page in a browser of somebody else."""
        context = self.context.browser.new_context(
            base_url=f"https://localhost:{self.port}", ignore_https_errors=True, accept_downloads=True,
            viewport={"width": self.width, "height": self.height}, reduced_motion="reduce",
        )  # fmt: skip
        self.addCleanup(context.close)
        return context.new_page()

    def test_a_lab_goes_through_it(self) -> None:
        operator = self.page
        self.run_script("scripts/backup_moments.sh", str(self.var / "copy"))
        self.an_operator_comes_first(operator)
        ada = self.of_another()
        self.somebody_comes_by_invitation(operator, ada)
        self.a_second_factor_is_asked_for(ada)
        self.somebody_comes_through_the_institution()
        self.a_password_is_set_by_a_letter(operator, ada)
        self.a_quota_is_refused_in_words(operator, ada)
        moment = datetime.now(UTC).isoformat()
        self.all_data_leave_and_the_account_ends(ada)
        self.what_stands_around_it()
        self.a_moment_comes_back(moment, ada)

    def an_operator_comes_first(self, page: Page) -> None:
        made = self.run_script("scripts/manage.sh", "make_operator", "olga")
        page.goto(re.search(r"/reset/\S+", made)[0])
        page.get_by_label("Password, 12 characters or more").fill(PASSWORD)
        self.button("Set it").click()
        expect(page.get_by_role("link", name="Sign in with it")).to_be_visible()
        self.sign_in(page, "olga")
        expect(self.button("olga")).to_be_visible()
        page.goto("/people")
        expect(page.get_by_role("alert")).to_contain_text("Who runs a server signs in with a second factor.")
        self.second_factor(page)

    def somebody_comes_by_invitation(self, operator: Page, page: Page) -> None:
        operator.goto("/people")
        card = operator.get_by_role("region", name="Invitations")
        card.get_by_label("For whom").fill("Ada of the lab")
        card.get_by_role("button", name="Invite").click()
        page.goto("/")
        expect(page.get_by_role("button", name="Create an account")).to_have_count(0)
        page.goto(card.get_by_role("status").locator("code").inner_text())
        page.get_by_label("Name").fill("ada")
        page.get_by_label("Password, 12 characters or more").fill(PASSWORD)
        page.get_by_role("button", name="Create account").click()
        expect(page.get_by_role("button", name="ada", exact=True)).to_be_visible()
        operator.reload()
        expect(card.get_by_role("list", name="Invitations")).to_contain_text("used by ada")

    def a_second_factor_is_asked_for(self, page: Page) -> None:
        spare = self.second_factor(page)
        card = page.get_by_role("region", name="Second factor")
        self.sign_out(page, "ada")
        self.sign_in(page, "ada")
        asked = page.get_by_label("Code of your app, or one of your ten")
        asked.fill("000000")
        page.keyboard.press("Enter")
        expect(page.get_by_role("alert")).to_contain_text("That code does not hold.")
        asked.fill(spare)
        page.keyboard.press("Enter")
        expect(page.get_by_role("button", name="ada", exact=True)).to_be_visible()
        page.goto("/account")
        expect(card).to_contain_text("9 are left")
        card.get_by_role("button", name="Turn off").click()
        expect(card.get_by_role("button", name="Set up")).to_be_visible()

    def somebody_comes_through_the_institution(self) -> None:
        page = self.of_another()
        page.goto("/")
        page.get_by_role("button", name=SCHOOL).click()
        page.get_by_role("link", name="noor").click()
        expect(page.get_by_role("button", name="noor", exact=True)).to_be_visible()
        page.goto("/account")
        expect(page.get_by_role("region", name=SCHOOL)).to_contain_text("through your institution")
        expect(page.get_by_role("region", name="Password")).to_have_count(0)

    def a_password_is_set_by_a_letter(self, operator: Page, page: Page) -> None:
        card = page.get_by_role("region", name="Password")
        card.get_by_label("Password now").fill(PASSWORD)
        card.get_by_label("New password").fill(FRESH)
        card.get_by_role("button", name="Change password").click()
        expect(card.get_by_role("status")).to_contain_text("other browsers are signed out")
        mail = page.get_by_role("region", name="Mail address")
        mail.get_by_role("textbox", name="Address").fill("ada@example.org")
        mail.get_by_role("button", name="Save").click()
        expect(page.get_by_role("list", name="Events")).to_contain_text("mail address changed")
        self.sign_out(page, "ada")
        page.get_by_role("button", name="Password forgotten").click()
        page.get_by_label("Name or mail address").fill("ada")
        page.get_by_role("button", name="Send a link").click()
        expect(page.get_by_role("status")).to_contain_text("a link is on its way")
        operator.reload()
        letter = operator.get_by_role("list", name="Letters").get_by_role("listitem").filter(has_text="/reset/")
        page.goto(re.search(r"https://\S+/reset/\S+", letter.inner_text())[0])
        page.get_by_label("Password, 12 characters or more").fill(PASSWORD)
        page.get_by_role("button", name="Set it").click()
        page.get_by_role("link", name="Sign in with it").click()
        self.sign_in(page, "ada")
        expect(page.get_by_role("button", name="ada", exact=True)).to_be_visible()
        page.goto("/")  # without a table it leads to Intake

    def a_quota_is_refused_in_words(self, operator: Page, page: Page) -> None:
        row = operator.get_by_role("row").filter(has=operator.get_by_role("rowheader", name="ada"))
        expect(row).to_contain_text("any number")
        row.get_by_role("button", name="change").click()
        operator.get_by_label("Tables").fill("1")
        operator.get_by_role("button", name="Save").click()
        expect(row).to_contain_text("1 table")
        self.store_a_table(page, "1,2.5\n2,3.5\n")
        expect(page.get_by_role("region", name="Reading")).to_be_visible()  # of the table, once it is stored
        page.get_by_role("navigation", name="Stages").get_by_role("link", name="Intake").click()
        self.store_a_table(page, "3,2.5\n4,3.5\n")
        refused = "ada, who owns this study, may keep 1 table, no more."
        expect(page.get_by_role("alert").filter(has_text=refused)).to_be_visible()

    def store_a_table(self, page: Page, rows: str) -> None:
        page.get_by_label("Or paste rows").fill(f"depth,mass\n{rows}")
        page.get_by_role("button", name="Preview").click()
        page.get_by_role("button", name="Store the table").click()

    def all_data_leave_and_the_account_ends(self, page: Page) -> None:
        page.goto("/account")
        data = page.get_by_role("region", name="Your data")
        with page.expect_download() as leaving:
            data.get_by_role("button", name="Download everything").click()
        held = zipfile.ZipFile(leaving.value.path()).namelist()
        self.assertIn("account.json", held)
        self.assertEqual(len(held), 2, held)
        data.get_by_role("button", name="Remove the account…").click()
        data.get_by_label("Your password").fill(PASSWORD)
        data.get_by_role("button", name=re.compile("^Remove the account")).click()
        expect(page.get_by_role("heading", name="With an account")).to_be_visible()
        self.sign_in(page, "ada")
        expect(page.get_by_role("alert")).to_contain_text("Name and password do not match.")

    def what_stands_around_it(self) -> None:
        """A database that is spoken to over TLS, workers that are counted together, a log without names."""
        counted = urllib.request.Request(f"https://localhost:{self.port}/metrics")
        told = urllib.request.urlopen(counted, context=_trusting(self.var), timeout=30).read().decode()
        ours = re.search(
            r'responses_total_by_status_view_method_total\{.*status="200".*view="api-1:sign_in"\} (\d+)', told
        )
        self.assertGreaterEqual(int(float(ours[1])), 3)
        lines = [line for path in self.var.glob("web-*.log") for line in path.read_text().splitlines()]
        routes = {json.loads(line)["route"] for line in lines}
        self.assertIn("api/session/sign-in", routes)
        self.assertFalse([line for line in lines if re.search("ada|reset/M|depth", line)])
        self.assertEqual(self.complaints, [])

    def a_moment_comes_back(self, moment: str, page: Page) -> None:
        """The account was ended by mistake: everything is as it was a minute before."""
        self.page.goto("about:blank")  # a page that asks meanwhile is told that nobody answers, and complains
        self.stop()
        self.assertIn("as it was at", self.run_script("scripts/restore_moment.sh", str(self.var / "copy"), moment))
        self.serve()
        self.sign_in(page, "ada")
        expect(page.get_by_role("button", name="ada", exact=True)).to_be_visible()


def _trusting(var: Path) -> ssl.SSLContext:
    return ssl.create_default_context(cafile=str(var / "tls" / "site.pem"))
