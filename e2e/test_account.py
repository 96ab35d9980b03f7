"""One's own account: browsers, tokens, the password asked for again. What takes a whole server is in test_serve."""

import re

from playwright.sync_api import expect

from e2e.browser import PASSWORD, BrowserCase
from server.accounts import services
from server.accounts.models import User


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
