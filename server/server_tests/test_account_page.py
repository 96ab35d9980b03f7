"""What a person does with their own account: passwords, sessions, tokens that end, their data, and its end."""

import io
import json
import re
import zipfile
from datetime import timedelta

from django.test import Client, override_settings
from django.urls import get_resolver
from django.utils import timezone

from server.accounts import events
from server.accounts.models import Event, Letter, OpenSession, Token, User
from server.accounts.services import make_token
from server.caching import forget_everything
from server.documenting import QUESTIONS
from server.server_tests.cases import StudyCase, person, signed_in
from server.studies import sharing
from server.studies.models import Study
from server.studies.services import create_study

OLD, NEW = "a long enough password", "tidal flats at 6 a.m."


class AccountCase(StudyCase):
    def setUp(self):
        forget_everything()
        self.client = self.browser(OLD)

    def browser(self, password, agent="Firefox on Linux"):
        client = Client(headers={"user-agent": agent})
        said = {"name": self.owner.get_username(), "password": password}
        self.assertEqual(client.post("/api/session/sign-in", said, content_type="application/json").status_code, 200)
        return client

    def put(self, address, body, client=None):
        return (client or self.client).put(f"/api/session/{address}", body, content_type="application/json")

    def account(self):
        return self.client.get("/api/session/account").json()

    def unconfirmed(self):
        """As if the password had been typed long ago."""
        session = self.client.session
        session["confirmed"] = 0
        session.save()


class Passwords(AccountCase):
    def test_a_new_password_signs_out_every_other_browser(self):
        other = self.browser(OLD, "Phone")
        self.assertEqual({one["browser"] for one in self.account()["sessions"]}, {"Firefox on Linux", "Phone"})
        self.assert_problem(self.put("password", {"old": "wrong", "new": NEW}), 403, "wrong-password")
        self.assert_problem(self.put("password", {"old": OLD, "new": "aaaaaaaaaaaa"}), 422, "password")
        self.assertEqual(self.put("password", {"old": OLD, "new": NEW}).status_code, 204)
        self.assertEqual(self.client.get("/api/studies").status_code, 200)
        self.assertEqual(other.get("/api/studies").status_code, 401)
        self.assertEqual(len(self.account()["sessions"]), 1)
        self.browser(NEW)
        self.assertEqual([one["what"] for one in self.account()["events"]][:2], ["signed in", "password changed"])

    @override_settings(EMAIL_BACKEND="server.accounts.outbox.Outbox")
    def test_a_link_by_mail_sets_it_once_and_tells_nobody_who_is_here(self):
        self.assertEqual(self.put("address", {"address": "ada@example.org"}).status_code, 204)
        stranger = Client()
        ask = lambda who: stranger.post("/api/session/reset", {"who": who}, content_type="application/json")  # noqa: E731
        self.assertEqual([ask(who).status_code for who in ("ADA@example.org", "nobody", "x@y.org")], [204] * 3)
        letter = Letter.objects.get()
        self.assertEqual(letter.to, "ada@example.org")
        who, token = re.search(r"/reset/([^/\s]+)/(\S+)", letter.text).groups()
        said = {"person": who, "token": token, "password": NEW}
        send = lambda body: stranger.post("/api/session/reset/set", body, content_type="application/json")  # noqa: E731
        for _ in range(6):  # wrong links of anybody do not shut out whoever has the right one
            self.assert_problem(send({**said, "token": token[:-1] + "x"}), 403, "no-link")
        self.assert_problem(send({**said, "password": "short"}), 422, "password")
        self.assertEqual(send(said).status_code, 204)
        self.assert_problem(send(said), 403, "no-link")
        self.assertIn("password set anew by mail", Letter.objects.first().text)  # whoever did it, its person is told
        self.assertEqual(self.client.get("/api/studies").status_code, 401)
        self.browser(NEW)
        self.assertEqual(self.put("address", {"address": "eve@example.org"}, self.browser(NEW)).status_code, 204)
        self.assertEqual((Letter.objects.first().to, Letter.objects.count()), ("ada@example.org", 3))
        for _ in range(6):
            answer = ask("eve@example.org")
        self.assert_problem(answer, 429, "too-often")

    def test_some_things_take_the_password_again(self):
        self.unconfirmed()
        link = f"studies/{self.study.pk}/links"
        for answer in (
            self.act("session/tokens", {"name": "x"}), self.act(link, {"name": "x", "days": 1}),
            self.put("address", {"address": ""}), self.client.get("/api/session/export"),
            self.client.delete(f"/api/studies/{self.study.pk}"),
        ):  # fmt: skip
            self.assert_problem(answer, 403, "confirm")
        self.assert_problem(self.act("session/confirm", {"password": "no"}), 403, "wrong-password")
        self.assertEqual(self.act("session/confirm", {"password": OLD}).status_code, 204)
        self.assertEqual(self.act(link, {"name": "for Eve", "days": 1}).status_code, 201)
        self.assertIn(f"{self.study.title}: for Eve", [one["detail"] for one in self.account()["events"]])


class Sessions(AccountCase):
    def test_one_that_nobody_used_ends_and_a_page_alone_does_not_keep_it(self):
        self.client.get("/api/studies")
        session = self.client.session
        session["seen"] -= 300
        session.save()
        before = session["seen"]
        self.client.get(f"/api/studies/{self.study.pk}/pulse")
        self.assertEqual(self.client.session["seen"], before)
        self.client.get("/api/studies")
        self.assertGreater(self.client.session["seen"], before)
        with self.settings(IDLE_SECONDS=60):
            session = self.client.session
            session["seen"] -= 120
            session.save()
            self.assertEqual(self.client.get("/api/studies").status_code, 401)
        self.assertEqual(Event.objects.first().kind, "idle")
        self.assertFalse(OpenSession.objects.exists())

    def test_another_browser_is_signed_out_by_its_person_alone(self):
        other = self.browser(OLD, "Phone")
        (phone,) = [one for one in self.account()["sessions"] if one["browser"] == "Phone"]
        signed_in(person("eve")).delete(f"/api/session/open/{phone['id']}")
        self.assertEqual(other.get("/api/studies").status_code, 200)
        self.client.delete(f"/api/session/open/{phone['id']}")
        self.assertEqual(other.get("/api/studies").status_code, 401)

    def test_what_happened_is_kept_for_a_year(self):
        Event.objects.update(at=timezone.now() - timedelta(days=366))
        self.act("session/sign-out", {})
        events.forget_old()
        self.assertEqual([one.kind for one in Event.objects.all()], ["signed-out"])


class TokensThatEnd(AccountCase):
    def test_a_reader_reads_asks_and_changes_nothing_until_its_end(self):
        token, text = make_token(self.owner, "nightly", days=30, scope="read")
        program = Client(headers={"authorization": f"Bearer {text}"})
        self.assertEqual(program.get("/api/studies").status_code, 200)
        source = {"table": str(self.table.pk), "kind": "counts", "variable": self.table.variables.first().symbol}
        asked = program.post("/api/plates/scenes", {"sources": [source]}, content_type="application/json")
        self.assertEqual(asked.status_code, 200, asked.content[:300])
        refused = program.post("/api/studies", {"title": "x"}, content_type="application/json")
        self.assert_problem(refused, 403, "reads-only")
        self.assert_problem(program.delete(f"/api/studies/{self.study.pk}"), 403, "reads-only")
        Token.objects.filter(pk=token.pk).update(ends=timezone.now())
        self.assertEqual(program.get("/api/studies").status_code, 401)
        made = self.act("session/tokens", {"name": "year", "days": 400}).status_code
        self.assertEqual(made, 422)

    def test_every_question_is_an_operation(self):
        routes = {str(pattern.pattern) for pattern in get_resolver().url_patterns[0].url_patterns}
        self.assertEqual([one for one in QUESTIONS if one.removeprefix("api/") not in routes], [])


class Leaving(AccountCase):
    def test_everything_of_a_person_leaves_in_one_file(self):
        answer = self.client.get("/api/session/export")
        with zipfile.ZipFile(io.BytesIO(b"".join(answer.streaming_content))) as archive:
            said = json.loads(archive.read("account.json"))
            packages = [name for name in archive.namelist() if name != "account.json"]
            with zipfile.ZipFile(io.BytesIO(archive.read(packages[0]))) as package:
                self.assertIn("datapackage.json", package.namelist())
        self.assertEqual((said["name"], len(packages)), (self.owner.get_username(), 1))
        self.assertEqual(said["studies"], [{"study__title": self.study.title, "role": "owner"}])
        self.assertNotIn(self.owner.password, json.dumps(said))
        # One that is too large to be opened here leaves all the same.
        with self.settings(UPLOAD_LIMIT=10):
            answer = self.client.get("/api/session/export")
            with zipfile.ZipFile(io.BytesIO(b"".join(answer.streaming_content))) as archive:
                self.assertEqual(archive.namelist(), ["account.json", *packages])

    def test_an_account_ends_and_leaves_what_others_need(self):
        eve = person("eve")
        sharing.invite(self.owner, self.study, "eve", "editor")
        theirs = create_study(eve, "Eve's")
        sharing.invite(eve, theirs, self.owner.get_username(), "editor")
        alone = create_study(self.owner, "Alone")
        self.on_table("", kind="set-aside", rows=[1], reason="wet")
        owned = {one["title"]: one["others"] for one in self.client.get("/api/session/owned").json()}
        self.assertEqual(owned, {self.study.title: ["eve"], "Alone": []})
        handed = {"handed": {str(self.study.pk): "eve"}}
        self.assert_problem(self.act("session/remove", {"password": "no", **handed}), 403, "wrong-password")
        wrong = {"handed": {str(alone.pk): "eve"}, "password": OLD}
        self.assert_problem(self.act("session/remove", wrong), 422, "nobody")
        answer = self.act("session/remove", {"password": OLD, **handed})
        self.assertEqual(answer.status_code, 204, answer.content[:300])
        self.assertEqual(self.client.get("/api/studies").status_code, 401)
        self.assertEqual(
            list(Study.objects.order_by("title").values_list("title", flat=True)), ["Eve's", self.study.title]
        )
        kept = self.table.entries.get()
        self.assertTrue(kept.author.get_username().startswith("former-"))
        self.assertFalse(User.objects.filter(username=self.owner.get_username()).exists())
        mine = signed_in(eve).get("/api/studies").json()
        self.assertEqual({one["title"]: one["role"] for one in mine}, {"Eve's": "owner", self.study.title: "owner"})
        self.assertEqual(Event.objects.first().name, self.owner.get_username())
