"""One's own account: password, browsers, tokens, the password asked for again, a link by mail, and the end."""

import re

from django.test import override_settings
from playwright.sync_api import expect

from e2e.browser import PASSWORD, BrowserCase
from server.accounts import services
from server.accounts.models import Letter, User

FRESH = "tidal flats at 6 a.m."


class Account(BrowserCase):
    def sign_in(self, password: str = PASSWORD) -> None:
        self.page.goto("/")
        self.page.get_by_label("Name").fill("ada")
        self.page.get_by_label("Password", exact=True).fill(password)
        self.page.keyboard.press("Enter")
        expect(self.button("ada")).to_be_visible()

    def forget_the_password(self) -> None:
        """As if it had been typed long ago."""
        from django.contrib.sessions.backends.db import SessionStore

        for one in User.objects.get(username="ada").open_sessions.all():
            session = SessionStore(one.key)
            session["confirmed"] = 0
            session.save()

    def test_tokens_take_the_password_and_the_browsers_are_told(self):
        page = self.page
        user = self.person(with_demo=True)
        self.sign_in()
        self.forget_the_password()
        self.button("ada").click()
        page.get_by_role("link", name="Password, browsers, tokens and your data").click()
        tokens = page.get_by_role("region", name="Personal tokens")
        tokens.get_by_label("Name of the token").fill("nightly import")
        tokens.get_by_role("button", name="Make a token").click()
        again = page.get_by_role("dialog", name="Your password again")
        again.get_by_label("Password").fill("not mine at all")
        again.get_by_role("button", name="Go on").click()
        expect(again).to_contain_text("That is not your password.")
        again.get_by_label("Password").fill(PASSWORD)
        again.get_by_role("button", name="Go on").click()
        shown = tokens.get_by_role("status").locator("code")
        expect(shown).to_have_text(re.compile("^heron_"))
        made = services.token_of(shown.inner_text())
        self.assertEqual((made.user, made.scope), (user, "read"))
        page.reload()
        expect(tokens.get_by_role("list", name="Tokens")).to_contain_text("nightly import")
        expect(shown).to_have_count(0)
        tokens.get_by_role("button", name="revoke").click()
        expect(tokens.get_by_role("list", name="Tokens").get_by_role("listitem")).to_have_count(0)
        expect(page.get_by_role("list", name="Browsers").get_by_role("listitem")).to_have_count(1)
        expect(page.get_by_role("list", name="Events")).to_contain_text("a wrong password")

    def test_a_password_is_changed_forgotten_and_set_by_mail_and_the_account_ends(self):
        page = self.page
        self.person()
        self.sign_in()
        page.goto("/account")
        card = page.get_by_role("region", name="Password")
        card.get_by_label("Password now").fill(PASSWORD)
        card.get_by_label("New password").fill(FRESH)
        card.get_by_role("button", name="Change password").click()
        expect(card.get_by_role("status")).to_contain_text("other browsers are signed out")
        mail = page.get_by_role("region", name="Mail address")
        mail.get_by_role("textbox", name="Address").fill("ada@example.org")
        mail.get_by_role("button", name="Save").click()
        expect(page.get_by_role("list", name="Events")).to_contain_text("mail address changed")
        self.button("ada").click()
        self.button("Sign out").click()
        with override_settings(EMAIL_BACKEND="server.accounts.outbox.Outbox"):
            self.button("Password forgotten").click()
            page.get_by_label("Name or mail address").fill("ada")
            self.button("Send a link").click()
            expect(page.get_by_role("status")).to_contain_text("a link is on its way")
        page.goto(re.search(r"http\S+(/reset/\S+)", Letter.objects.get().text)[1])
        page.get_by_label("Password, 10 characters or more").fill(PASSWORD)
        self.button("Set it").click()
        page.get_by_role("link", name="Sign in with it").click()
        self.sign_in()
        page.goto("/account")
        data = page.get_by_role("region", name="Your data")
        with page.expect_download() as leaving:
            data.get_by_role("button", name="Download everything").click()
        self.assertEqual(leaving.value.suggested_filename, "velvet-heron-ada.zip")
        data.get_by_role("button", name="Remove the account…").click()
        data.get_by_label("Your password").fill(PASSWORD)
        data.get_by_role("button", name=re.compile("^Remove the account")).click()
        expect(page.get_by_role("heading", name="With an account")).to_be_visible()
        self.assertFalse(User.objects.filter(username="ada").exists())

    @override_settings(SIGN_UP="invited")
    def test_whoever_runs_the_server_invites_and_says_how_much_is_kept(self):
        page = self.page
        User.objects.filter(pk=self.person().pk).update(is_staff=True)
        page.goto("/")
        expect(self.button("Create an account")).to_have_count(0)
        self.sign_in()
        page.goto("/people")
        card = page.get_by_role("region", name="Invitations")
        card.get_by_label("For whom").fill("Bob of the lab")
        card.get_by_role("button", name="Invite").click()
        address = card.get_by_role("status").locator("code").inner_text()
        guest = self.new_page()
        self.context.clear_cookies()
        guest.goto(address)
        guest.get_by_label("Name").fill("bob")
        guest.get_by_label("Password, 10 characters or more").fill(FRESH)
        guest.get_by_role("button", name="Create account").click()
        expect(guest.get_by_role("button", name="bob")).to_be_visible()
        guest.close()
        self.context.clear_cookies()
        self.sign_in()
        page.goto("/people")
        expect(card.get_by_role("list", name="Invitations")).to_contain_text("used by bob")
        row = page.get_by_role("row").filter(has=page.get_by_role("rowheader", name="bob"))
        expect(row).to_contain_text("any number")
        row.get_by_role("button", name="change").click()
        page.get_by_label("Tables").fill("3")
        page.get_by_label("May sign in").uncheck()
        self.button("Save").click()
        expect(row).to_contain_text("3 tables")
        bob = User.objects.get(username="bob")
        self.assertEqual((bob.is_active, bob.quota_tables), (False, 3))
