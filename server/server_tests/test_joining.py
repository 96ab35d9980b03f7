"""Who comes in and how: a second factor, an institution, and visitors who look around in a copy of their own."""

import base64
import time
from datetime import timedelta
from unittest.mock import patch

from allauth.mfa.models import Authenticator
from allauth.mfa.totp.internal.auth import validate_totp_code
from allauth.socialaccount.models import SocialAccount
from django.test import Client, TestCase, override_settings
from django.utils import timezone

from server.accounts.models import Attempt, Event, Invitation, User
from server.accounts.services import digest_of
from server.joining.services import forget_visitors
from server.operating import selectors
from server.server_tests.cases import person
from server.server_tests.provider import CLIENT, SECRET, code_of, institution
from server.server_tests.test_account_page import OLD, AccountCase
from server.studies.models import SourceFile, Study


class SecondFactor(AccountCase):
    def sign_in(self, client=None, **more):
        said = {"name": self.owner.get_username(), "password": OLD, **more}
        return (client or Client()).post("/api/session/sign-in", said, content_type="application/json")

    def turn_on(self):
        begun = self.client.post("/api/session/second-factor").json()
        codes = self.put("second-factor", {"code": code_of(begun["secret"])}).json()["codes"]
        return begun, codes

    def test_the_codes_are_those_of_the_standard(self):
        # RFC 6238, appendix B, SHA-1: the last six of the eight digits there.
        secret = base64.b32encode(b"12345678901234567890").decode()
        expected = {59: "287082", 1111111109: "081804", 1234567890: "005924", 20000000000: "353130"}
        for at, code in expected.items():
            self.assertEqual(code_of(secret, at), code)
            with patch("time.time", return_value=at):
                self.assertTrue(validate_totp_code(secret, code))

    def test_a_code_is_asked_for_once_it_is_on_and_each_opens_once(self):
        self.unconfirmed()
        self.assert_problem(self.client.post("/api/session/second-factor"), 403, "confirm")
        self.client.post("/api/session/confirm", {"password": OLD}, content_type="application/json")
        begun = self.client.post("/api/session/second-factor").json()
        self.assertIn("<svg", begun["picture"])
        self.assert_problem(self.put("second-factor", {"code": "000000"}), 403, "wrong-code")
        self.assertEqual(self.sign_in().status_code, 200)  # what was begun alone asks nothing
        with patch("time.time", return_value=(now := time.time())):
            codes = self.put("second-factor", {"code": code_of(begun["secret"], now)}).json()["codes"]
            self.assertEqual(len(set(codes)), 10)
            self.assert_problem(self.sign_in(), 401, "second-factor")
            self.assert_problem(self.sign_in(code="123"), 403, "wrong-code")
            code = code_of(begun["secret"], now)
            self.assertEqual(self.sign_in(code=code).status_code, 200)
            self.assert_problem(self.sign_in(code=code), 403, "wrong-code")  # seen over a shoulder
        self.assertEqual(self.sign_in(code=codes[3]).status_code, 200)
        self.assert_problem(self.sign_in(code=codes[3]), 403, "wrong-code")
        self.assertEqual((self.account()["second_factor"], self.account()["codes_left"]), (True, 9))
        kept = str(list(Authenticator.objects.values_list("data", flat=True)))
        self.assertNotIn(begun["secret"], kept)
        self.assertIn("second-factor-on", Event.objects.values_list("kind", flat=True))

    def test_codes_are_not_guessed_and_other_ones_end_the_old(self):
        _, codes = self.turn_on()
        fresh = self.client.post("/api/session/second-factor/codes").json()["codes"]
        self.assertFalse(set(codes) & set(fresh))
        self.assert_problem(self.sign_in(code=codes[0]), 403, "wrong-code")
        for _ in range(9):
            self.sign_in(code="000000")
        self.assert_problem(self.sign_in(code=fresh[0]), 429, "too-often")
        Attempt.objects.all().delete()
        self.assertEqual(self.client.delete("/api/session/second-factor").status_code, 204)
        self.assertEqual(self.sign_in().status_code, 200)
        self.assertFalse(Authenticator.objects.exists())

    def test_a_new_secret_of_the_server_keeps_what_the_old_one_locked(self):
        _, codes = self.turn_on()
        with override_settings(SECRET_KEY="another", SECRET_KEY_FALLBACKS=["only-for-checks"]):
            self.assertEqual(self.sign_in(code=codes[0]).status_code, 200)
        with override_settings(SECRET_KEY="another"):
            self.assert_problem(self.sign_in(code=codes[1]), 409, "secret-changed")


class ThroughInstitution(AccountCase):
    def setUp(self):
        super().setUp()
        self.school = self.enterContext(institution())
        app = {
            "provider_id": "institution", "name": "Ellery Sound University", "client_id": CLIENT, "secret": SECRET,
            "settings": {"server_url": self.school.address},
        }  # fmt: skip
        providers = {"openid_connect": {"OAUTH_PKCE_ENABLED": True, "APPS": [app]}}
        named = override_settings(INSTITUTION=app["name"], SOCIALACCOUNT_PROVIDERS=providers)
        named.enable()
        self.addCleanup(named.disable)

    def leave(self, client, **said):
        return client.post("/api/session/institution", said, content_type="application/json")

    def come(self, client, who, **said):
        """To the institution and back; where the browser is at the end."""
        left = self.leave(client, **said)
        self.assertEqual(left.status_code, 200, left.content)
        back = client.get(self.school.came_back(left.json()["address"], who))
        self.assertEqual(back.status_code, 302, back.content)
        return back["Location"]

    def session(self, client):
        return client.get("/api/session").json()

    def test_who_comes_first_gets_an_account_and_is_known_the_next_time(self):
        person("noor")  # another one, so that the name is taken
        browser = Client()
        self.assertEqual(self.come(browser, "s-1", back="/tables?x=1"), "/tables?x=1")
        session = self.session(browser)
        self.assertEqual((session["name"], session["password"]), ("noor-2", False))
        self.assertEqual([study["title"] for study in browser.get("/api/studies").json()], ["Ellery Sound"])
        self.assertEqual(SocialAccount.objects.get().extra_data, {})
        again = Client()
        self.come(again, "s-1")
        self.assertEqual(self.session(again)["name"], "noor-2")
        self.assertEqual(SocialAccount.objects.get().extra_data, {})
        self.assertEqual(len(again.get("/api/session/account").json()["sessions"]), 2)
        User.objects.filter(username="noor-2").update(is_active=False)
        self.assertEqual(self.come(Client(), "s-1"), "/?institution=shut-out")

    def test_an_answer_that_is_not_to_our_question_lets_nobody_in(self):
        left = self.leave(Client(), back="/").json()["address"]
        elsewhere = Client()
        back = elsewhere.get(self.school.came_back(left, "s-1"))  # a link that somebody was sent
        self.assertEqual(back["Location"], "/?institution=refused")
        self.assertIsNone(self.session(elsewhere)["name"])
        self.assertEqual(self.come(Client(), ""), "/?institution=refused")
        self.assertEqual(self.leave(Client(), back="//elsewhere.example").status_code, 422)
        self.school.shutdown()
        self.school.server_close()
        self.assert_problem(self.leave(Client(), back="/"), 503, "institution-away")

    def test_an_invitation_is_taken_where_it_takes_one(self):
        with override_settings(SIGN_UP="institution", DEMO="off"):
            self.assertEqual(self.come(Client(), "s-2"), "/")
        later = timezone.now() + timedelta(days=1)
        Invitation.objects.create(name="Noor", digest=digest_of("a secret"), made_by=self.owner, expires=later)
        with override_settings(SIGN_UP="invited", DEMO="off"):
            self.assertEqual(self.come(Client(), "s-1"), "/?institution=no-invitation")
            self.assertEqual(self.come(Client(), "s-1", invitation="a secret"), "/")
        self.assertEqual(Invitation.objects.get().used_by.get_username(), "noor")

    def test_who_has_no_password_signs_in_again_before_what_takes_one(self):
        browser = Client()
        self.come(browser, "s-1")
        asked = {"name": "laptop"}
        self.assertEqual(self.post_to(browser, "tokens", asked).status_code, 201)
        session = browser.session
        session["confirmed"] = 0
        session.save()
        self.assert_problem(self.post_to(browser, "tokens", asked), 403, "sign-in-again")
        self.assertEqual(self.come(browser, "s-2", purpose="confirm", back="/account"), "/account?institution=another")
        self.school.auth_time = int(time.time()) - 3_600  # it did not ask again, whatever it was asked
        self.assertEqual(self.come(browser, "s-1", purpose="confirm"), "/account?institution=not-again")
        self.assert_problem(self.post_to(browser, "tokens", asked), 403, "sign-in-again")
        self.school.auth_time = None
        self.assertEqual(self.come(browser, "s-1", purpose="confirm", back="/account"), "/account")
        self.assertEqual((self.school.asked[-1]["prompt"], self.school.asked[-1]["max_age"]), ("login", "0"))
        self.assertEqual(self.post_to(browser, "tokens", asked).status_code, 201)
        self.assertEqual(self.post_to(browser, "remove", {}).status_code, 204)
        self.assertFalse(SocialAccount.objects.exists())

    def test_an_account_with_a_password_is_joined_to_it_and_parted(self):
        self.assertEqual(self.come(self.client, "s-1", purpose="link", back="/account"), "/account")
        self.assertEqual(self.come(Client(), "s-1"), "/")
        self.assertEqual(
            self.come(other := self.browser_of("ben"), "s-1", purpose="link"), "/account?institution=taken"
        )
        self.assertEqual(self.session(other)["name"], "ben")
        self.assertTrue(self.account()["institution"])
        self.assertEqual(self.client.delete("/api/session/institution").status_code, 204)
        self.assertFalse(self.account()["institution"])

    def browser_of(self, name):
        person(name)
        client = Client()
        client.post("/api/session/sign-in", {"name": name, "password": OLD}, content_type="application/json")
        return client

    def post_to(self, client, address, said):
        return client.post(f"/api/session/{address}", said, content_type="application/json")


class Visitors(TestCase):
    @override_settings(DEMO="each")
    def test_each_visitor_has_a_copy_that_goes_after_a_day(self):
        first, second = Client(), Client()
        for browser in (first, second):
            browser.post("/api/session/demo", {}, content_type="application/json")
        self.assertEqual(Study.objects.count(), 2)
        first.post("/api/session/demo", {}, content_type="application/json")  # who is in stays
        (study,) = first.get("/api/studies").json()
        self.assertEqual(second.get(f"/api/tables/{study['tables'][0]['id']}").status_code, 404)
        self.assertEqual(
            first.post("/api/session/tokens", {"name": "x"}, content_type="application/json").status_code, 403
        )
        self.assertEqual(selectors.people(), [])  # nobody whom an operator would look after
        forget_visitors()
        self.assertEqual(Study.objects.count(), 2)
        User.objects.filter(pk=User.objects.order_by("pk")[0].pk).update(
            date_joined=timezone.now() - timedelta(hours=25)
        )
        forget_visitors()
        self.assertEqual((Study.objects.count(), User.objects.count(), SourceFile.objects.count()), (1, 1, 5))
        self.assertIsNone(first.get("/api/session").json()["name"])
        self.assertEqual(len(second.get("/api/studies").json()), 1)

    @override_settings(DEMO="each")
    def test_visitors_come_so_often_from_one_address(self):
        Attempt.objects.bulk_create([Attempt(kind="visit", address="127.0.0.1", name="")] * 10)
        refused = Client().post("/api/session/demo", {}, content_type="application/json")
        self.assertEqual((refused.status_code, refused.json()["code"]), (429, "too-often"))
