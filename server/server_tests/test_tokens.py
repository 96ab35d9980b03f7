"""Personal tokens: a program acts for its person, until the token is revoked."""

from datetime import timedelta

from django.test import Client
from django.utils import timezone

from server.accounts import services
from server.accounts.models import Token, User
from server.server_tests.cases import StudyCase, as_file, person


class Tokens(StudyCase):
    def made(self, name="nightly"):
        response = self.act("session/tokens", {"name": name})
        self.assertEqual(response.status_code, 201, response.content[:300])
        return response.json()

    def program(self, text):
        """A client without cookies, that checks CSRF as a browser's would be checked."""
        return Client(enforce_csrf_checks=True, headers={"authorization": f"Bearer {text}"})

    def test_a_program_reads_and_decides_as_its_person(self):
        made = self.made()
        self.assertTrue(made["text"].startswith("heron_") and made["text"].endswith(made["ending"]))
        program = self.program(made["text"])
        self.assertEqual([each["title"] for each in program.get("/api/studies").json()], [self.study.title])
        decided = program.post(
            f"/api/tables/{self.table.pk}/ledger",
            {"kind": "set-aside", "rows": [3], "reason": "by a script", "revision": 1},
            content_type="application/json",
        )
        self.assertEqual(decided.status_code, 200, decided.content[:300])
        entry = self.table.entries.get()
        self.assertEqual((entry.author, entry.reason), (self.owner, "by a script"))
        brought = program.post(f"/api/studies/{self.study.pk}/uploads", {"file": as_file("a,b\n1,2\n", "x.csv")})
        self.assertEqual(brought.status_code, 200, brought.content[:300])

    def test_only_a_digest_is_kept_and_when_it_was_used(self):
        made = self.made()
        kept = Token.objects.get()
        self.assertNotIn(made["text"], str(vars(kept)))
        self.assertIsNone(kept.used)
        self.program(made["text"]).get("/api/studies")
        kept.refresh_from_db()
        first = kept.used
        self.assertLess(timezone.now() - first, timedelta(seconds=30))
        self.program(made["text"]).get("/api/studies")
        kept.refresh_from_db()
        self.assertEqual(kept.used, first)  # not written at every request
        listed = self.client.get("/api/session/tokens").json()
        self.assertEqual([(each["name"], each["ending"]) for each in listed], [("nightly", made["ending"])])
        self.assertNotIn("text", listed[0])

    def test_a_revoked_wrong_or_foreign_token_opens_nothing(self):
        made = self.made()
        self.client.delete(f"/api/session/tokens/{made['id']}")
        for text in (made["text"], "heron_wrong", "", made["text"][:-1]):
            self.assert_problem(self.program(text).get("/api/studies"), 401, "signed-out")
        mine = self.made("mine")
        other = person("eve")
        theirs = services.make_token(other, "theirs")[1]
        self.program(theirs).delete(f"/api/session/tokens/{mine['id']}")
        self.assertEqual(self.program(mine["text"]).get("/api/studies").status_code, 200)
        self.assertEqual(self.program(theirs).get(f"/api/tables/{self.table.pk}").status_code, 404)
        User.objects.filter(pk=self.owner.pk).update(is_active=False)
        self.assertEqual(self.program(mine["text"]).get("/api/studies").status_code, 401)

    def test_a_token_makes_no_tokens_and_the_demo_account_has_none(self):
        made = self.made()
        again = self.program(made["text"]).post(
            "/api/session/tokens", {"name": "more"}, content_type="application/json"
        )
        self.assertIn(again.status_code, (401, 403))
        with self.settings(DEMO="shared"):
            demo = Client()
            demo.post("/api/session/demo")
            refused = demo.post("/api/session/tokens", {"name": "x"}, content_type="application/json")
        self.assert_problem(refused, 403, "no-account")
        self.assertEqual(Token.objects.count(), 1)
        for _ in range(services.MOST_TOKENS - 1):
            services.make_token(self.owner, "one of many")
        self.assert_problem(self.act("session/tokens", {"name": "too many"}), 422, "too-many")
        self.assertEqual(self.act("session/tokens", {"name": ""}).status_code, 422)

    def test_cookies_alone_still_need_their_csrf_token(self):
        browser = Client(enforce_csrf_checks=True)
        browser.force_login(self.owner)
        refused = browser.post("/api/studies", {"title": "x"}, content_type="application/json")
        self.assertEqual(refused.status_code, 403)
